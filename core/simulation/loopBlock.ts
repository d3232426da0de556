import { add, clamp, isNode, less, max, min, mul, select, sub, sum } from '../expression'
import type { Assignment, Flag, NumberNode, Scalar } from '../expression'
import { tiltAt, tiltError, wrapped } from '../algebra'
import type { Attitude } from '../algebra'
import type { Document, Part } from '../document'
import { forwardNumbers, lawLookup, stopsOf, switchedStep } from '../control'
import type { ForwardInputs, LawInputs } from '../control'
import { findHeld } from '../machine'
import type { HeldQuantity, Push, VectorComponent } from '../machine'
import { noGains } from '../tuning'
import type { LoopDesign } from '../tuning'
import type { Put } from './happenings'
import { slotOf } from './layout'
import type { Layout } from './layout'
import type { Column } from './record'
import type { MeasuredSignals, SampledBlock } from './sensed'

export interface LoopContext {
  readonly name: string
  readonly document: Document
  readonly design: LoopDesign
  readonly layout: Layout
  readonly machine: Part
  /** A quantity as this loop reads it. */
  readonly read: (quantity: string) => Scalar
  /** As it is: at rest where nothing is asked. */
  readonly reference: Scalar
  /** What it holds at rest. */
  readonly rest: Scalar
  /** The reference of the other component where it holds one of a vector and a loop holds the other. */
  readonly beside: Scalar | undefined
  /** What feedforwards see of it. */
  readonly forward: ForwardInputs
  /** Whether its feedback is on, where cues switch it. */
  readonly on: Flag | undefined
  readonly push: Push
  /** What a loop that commands another gives at rest: what that one holds there. */
  readonly base: Scalar
  readonly dt: number
  readonly delay: number
  readonly every: number
  readonly parameter: (path: string, value: number) => NumberNode
  /** Its command as those get it who read it, where it starts with `start`. */
  readonly altered: (command: Scalar, start: Scalar, put: Put) => Scalar
}

export interface LoopSignals extends SampledBlock {
  readonly pushes: string
  /** The command that reaches allocation, after the computation delay. */
  readonly applied: Scalar
  readonly columns: (Column & { readonly value: Scalar })[]
  readonly initial: Assignment[]
}

/** One loop as a sampled block: reads, steps its law, adds its feedforward, sends the command on its way. */
export function loopBlock(context: LoopContext): LoopSignals {
  const { name, design, layout, dt, delay, every, parameter, read } = context
  const { law } = design.model
  const quantity = findHeld(context.machine, design.values.holds)!
  const gainAt = (gain: string) => parameter(`loops.${name}.gains.${gain}`, design.gains[gain] ?? 0)
  const own = law.gains.filter((gain) => !(gain in noGains)).map((gain) => [gain, gainAt(gain)] as const)
  const gains = { kp: gainAt('kp'), ki: gainAt('ki'), kd: gainAt('kd'), ...Object.fromEntries(own) }
  const error = errorOf(context, quantity)
  const memory = layout.many(law.memory.length)
  const isLimited = [design.values.least, design.values.most, design.values.fastest].some((one) => one !== undefined)
  const excess = isLimited ? layout.one() : 0
  const rate = quantity.rate === undefined ? 0 : read(quantity.rate)
  const asked = sub(context.reference, context.rest)
  const { rest, follow } = design.model.shown
  const signals = law.signals.map((signal, i) => sub(read(signal), rest[i]!))
  const inputs = { error, reference: asked, rate, signals, rest, follow, dt, excess }
  const switches = context.on === undefined ? undefined : { isOn: context.on, before: layout.one() }
  const step =
    switches === undefined
      ? law.step(inputs, memory, gains)
      : switchedStep(law, inputs, memory, gains, { isOn: switches.isOn, wasOn: less(0.5, switches.before) })

  const { value: feedforward, start, ...forward } = carried(context)
  const values: Assignment[] = []
  const initial: Assignment[] = []
  const put = (node: NumberNode, value: Scalar, first: Scalar): NumberNode => {
    values.push({ slot: slotOf(node), value })
    initial.push({ slot: slotOf(node), value: first })
    return node
  }
  const keep = (value: Scalar, first: Scalar) => put(layout.one(), value, first)
  const closed = design.values.closed || switches !== undefined
  const terms = Object.entries(step.terms).map(([term, value]) => ({ term, node: keep(closed ? value : 0, 0) }))
  const unlimited = sum([...Object.values(closed ? step.terms : {}), feedforward])
  const before = isLimited ? layout.one() : 0
  const command = isLimited ? limited(unlimited, before, limitsOf(context), dt) : unlimited
  const limiter = isLimited ? [{ term: 'limiter', node: keep(sub(command, unlimited), 0) }] : []
  if (isNode(excess) && isNode(before)) {
    values.push({ slot: slotOf(excess), value: sub(command, unlimited) }, { slot: slotOf(before), value: command })
    initial.push({ slot: slotOf(excess), value: 0 }, { slot: slotOf(before), value: start })
  }
  if (switches !== undefined) put(switches.before, select(switches.isOn, 1, 0), design.values.closed ? 1 : 0)
  const { stopped, out: given } = stoppedCommand(context, inputs, command, start, put)
  const out = context.altered(given, start, put)
  const reference = keep(context.reference, 0)
  const shownForward = keep(feedforward, start)
  const commandNode = keep(out, start)
  if (closed) memory.forEach((node, i) => values.push({ slot: slotOf(node), value: step.memory[i]! }))
  memory.forEach((node, i) => initial.push({ slot: slotOf(node), value: law.start[i]! }))
  forward.memory.forEach((node, i) => values.push({ slot: slotOf(node), value: forward.next[i]! }))
  forward.memory.forEach((node) => initial.push({ slot: slotOf(node), value: 0 }))
  const waiting = layout.many(delay)
  waiting.forEach((node, i) => values.push({ slot: slotOf(node), value: i + 1 < delay ? waiting[i + 1]! : out }))
  waiting.forEach((node) => initial.push({ slot: slotOf(node), value: start }))
  const applied = keep(delay === 0 ? out : waiting[0]!, start)

  const axis = context.push
  const column = (signal: string, label: string, unit: string, role: Column['role'], value: Scalar) => ({
    name: `loops.${name}.${signal}`,
    label,
    unit,
    role,
    value,
  })
  return {
    name: `loop_${name}`,
    every,
    values,
    pushes: axis.name,
    applied,
    initial,
    columns: [
      column('reference', `${quantity.label} reference`, quantity.unit, 'reference', reference),
      column('command', axis.label, axis.unit, 'command', commandNode),
      ...[...terms, ...limiter, ...stopped.terms].map(({ term, node }) =>
        column(term, `${axis.label} from ${term}`, axis.unit, 'term', node),
      ),
      column('feedforward', `${axis.label} from feedforward`, axis.unit, 'term', shownForward),
      ...stopped.tripped.map((node) => column('stopped', `stop of ${name}`, '', 'actual', node)),
    ],
  }
}

/** What is missing of what is held: along the shortest way round, and of a vector in the body's own axes. */
function errorOf({ read, reference, beside }: LoopContext, { name, angle, vector }: HeldQuantity): Scalar {
  if (vector !== undefined) {
    const other = beside ?? read(vector.beside)
    return tiltError(attitudeRead(read, vector), vector.component === 0 ? [reference, other] : [other, reference])[
      vector.component
    ]
  }
  const plain = sub(reference, read(name))
  return angle === 'goesRound' ? wrapped(plain) : plain
}

function attitudeRead(read: (quantity: string) => Scalar, { attitude: [roll, pitch, heading] }: VectorComponent): Attitude {
  return { roll: read(roll), pitch: read(pitch), heading: read(heading) }
}

/** The command behind the protective stops of a loop, with what they publish. */
function stoppedCommand(
  { name, document, forward, base, layout, read, design }: LoopContext,
  inputs: LawInputs,
  command: Scalar,
  start: Scalar,
  put: (node: NumberNode, value: Scalar, first: Scalar) => NumberNode,
) {
  const stops = stopsOf(document.loops[name]!)
  if (stops.count === 0) return { out: command, stopped: { terms: [], tripped: [] } }
  const [last, tripped, ...memory] = layout.many(2 + stops.memory) as [NumberNode, NumberNode, ...NumberNode[]]
  const lookup = lawLookup(inputs, { command }, {})
  const next = stops.step({ lookup, reading: read(design.values.holds), dt: inputs.dt }, tripped, memory)
  const out = stops.commanded(next.tripped, { rest: add(base, forward.holding), nothing: 0, keep: last }, command)
  put(last, out, start)
  put(tripped, next.tripped, 0)
  memory.forEach((node, i) => put(node, next.memory[i]!, 0))
  return { out, stopped: { terms: [{ term: 'stop', node: put(layout.one(), sub(out, command), 0) }], tripped: [tripped] } }
}

type Limits = Readonly<Partial<Record<'least' | 'most' | 'fastest', Scalar>>>

/** Limits of a command as numbers in memory: without any is another number, and no other program. */
function limitsOf({ name, design, parameter }: LoopContext): Limits {
  const said = (['least', 'most', 'fastest'] as const).flatMap((slot) => {
    const value = design.values[slot]
    return value === undefined ? [] : [[slot, parameter(`loops.${name}.${slot}`, value)] as const]
  })
  return Object.fromEntries(said)
}

/** Limits act on the whole command; one that must not jump starts from where the last sample left it. */
function limited(command: Scalar, before: Scalar, { least, most, fastest }: Limits, dt: number): Scalar {
  const above = least === undefined ? command : max(command, least)
  const held = most === undefined ? above : min(above, most)
  if (fastest === undefined) return held
  const step = mul(fastest, dt)
  return clamp(held, sub(before, step), add(before, step))
}

export interface ReadingContext {
  readonly design: LoopDesign
  readonly truth: ReadonlyMap<string, Scalar>
  readonly measured: MeasuredSignals
  /** Whether estimators stand between. */
  readonly estimates: boolean
  /** Which quantities are components of a vector. */
  readonly vectors: (quantity: string) => VectorComponent | undefined
}

/** What a loop reads of a quantity: the truth where the layer that stands between is off. */
export function loopReading(context: ReadingContext, quantity: string): Scalar {
  const { design, truth, measured, estimates, vectors } = context
  const exact = truth.get(quantity)!
  const vector = vectors(quantity)
  // nobody measures tilt itself: it follows from the attitude that is read
  if (vector !== undefined) return tiltAt(attitudeRead((angle) => loopReading(context, angle), vector))[vector.component]
  switch (design.values.reads) {
    case 'estimated':
      return estimates ? (measured.estimated.get(quantity) ?? exact) : exact
    case 'measured':
      return measured.measured.get(quantity) ?? exact
    default:
      return exact
  }
}

/** What the loop carries beforehand: one of its steps, and what it gives before anything moves. */
function carried({ name, design, base, forward, document, parameter, layout }: LoopContext) {
  const { block } = design.forward
  const memory = layout.many(block.memory)
  const numberAt = forwardNumbers(document.loops[name]!)
  const kept = new Map<string, Scalar>()
  const read = (path: string): Scalar => {
    const known = kept.get(path) ?? parameter(`loops.${name}.feedforwards.${path}`, numberAt(path))
    kept.set(path, known)
    return known
  }
  const step = block.step(forward, memory, read)
  const resting = block.step(
    { ...forward, away: () => 0 },
    memory.map(() => 0),
    read,
  )
  return { memory, next: step.memory, value: add(base, step.command), start: add(base, resting.command) }
}
