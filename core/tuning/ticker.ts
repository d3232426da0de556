import { findHeld } from '../machine'
import type { Part } from '../document'
import { along } from '../algebra'
import { commandedLoop } from '../control'
import type { LinearEstimator } from '../control'
import { between, lookedAtBefore, minimalRealization, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import type { LoopValues } from './loop'
import type { Gains, LoopModel } from './loopModel'
import { estimatesOf, movedBy, rateOfEye, readerOf, toldBy, withRates } from './sight'
import type { EstimateSource, Reader } from './sight'

/** A loop that is closed while another one is designed. */
export interface ClosedLoop {
  readonly name: string
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
}

/** The loop under design. */
export interface Own {
  readonly pushes: string
  readonly holds: string
  /** What its law reads beside what it holds. */
  readonly signals: readonly string[]
  readonly reads: LoopValues['reads']
  /** A push of the machine that something else moves, held over each sample. */
  readonly disturbs?: string
}

/** What goes in over a sample, held. */
export interface Given {
  readonly command: number
  /** What estimators know of the command. */
  readonly known: number
  readonly disturbance: number
}

/** What happens within one sample of a rate, and how much there is to remember. */
export interface Ticker {
  readonly size: number
  readonly outputs: readonly string[]
  /** At the start of a sample: the outputs of the machine, and what the loop under design reads. */
  readonly shown: (start: readonly number[]) => { readonly truly: readonly number[]; readonly read: readonly number[] }
  /** The whole state one sample later. */
  readonly whole: (start: readonly number[], given: Given) => number[]
  readonly knowsPush: boolean
}

/** `own` is left out where no loop is under design. Of `eyes` all are counted in. */
export function ticker(
  machine: Part,
  system: StateSpace,
  closed: readonly ClosedLoop[],
  rate: number,
  eyes: readonly LinearEstimator[],
  own?: Own,
): Ticker {
  const seen = machineSeen(machine, system, closed, rate, eyes, own)
  const seats = seatsOf(machine, system, closed, rate, eyes, seen)
  const ownReader = own === undefined ? undefined : readingOf(machine, own, eyes, seen.outputs)
  const shown = (z: readonly number[]) => {
    const truly = shownBy(seen, z)
    const looks = seats.looking.map((one) => look(one, z, truly))
    const read = ownReader?.(truly, looks)
    return { truly, read: read === undefined ? [] : [read.held, read.rate, ...read.signals] }
  }
  const ownInput = seen.inputs.indexOf(own?.pushes ?? '')
  return {
    size: seats.size,
    outputs: seen.outputs,
    shown,
    whole: (start, given) => sampleLater(seen, seats, own, start, given),
    knowsPush: seats.looking.some(({ pushes }) => pushes.includes(ownInput)),
  }
}

/** A machine by what its loops and estimators push and see of it, from one tick of the fastest to the next. */
interface MachineSeen {
  /** Pushes of the machine. */
  readonly inputs: readonly string[]
  readonly outputs: readonly string[]
  readonly tick: StateSpace
  /** Hz: how often it ticks, and how many ticks there are in a sample. */
  readonly fastest: number
  readonly ticks: number
}

function machineSeen(
  machine: Part,
  system: StateSpace,
  closed: readonly ClosedLoop[],
  rate: number,
  eyes: readonly LinearEstimator[],
  own: Own | undefined,
): MachineSeen {
  const observed = [...new Set([...(own === undefined ? [] : [own.holds]), ...closed.map(({ values }) => values.holds)])]
  const signals = [...(own?.signals ?? []), ...closed.flatMap(({ model }) => model.law.signals)]
  const looked = eyes.flatMap(({ reads }) => reads)
  const withRate = observed.flatMap((held) => [held, findHeld(machine, held)?.rate ?? held])
  const outputs = [...new Set([...withRate, ...signals, ...looked])]
  const all = [own?.pushes, own?.disturbs, ...closed.map(({ values }) => values.pushes)]
  const inputs = [...new Set(all)].filter((push) => push !== undefined && commandedLoop(push) === undefined) as string[]
  const small = minimalRealization(between(withRates(system, outputs), inputs, outputs))
  const fastest = Math.max(rate, ...closed.map(({ values }) => values.rate), ...eyes.map(rateOfEye))
  const tick = lookedAtBefore(small.dt === null ? sampledWithHold(small, 1 / fastest) : small)
  return { inputs, outputs, tick, fastest, ticks: Math.round(fastest / rate) }
}

function shownBy({ tick }: MachineSeen, z: readonly number[]): number[] {
  return tick.c.map((row) => along(row, z))
}

/** A loop at work, with the places of its memory and of its commands on their way in the whole state. */
interface SeatedLoop {
  readonly name: string
  readonly law: LoopModel['law']
  readonly gains: Gains
  readonly delay: number
  /** s */
  readonly dt: number
  readonly isClosed: boolean
  /** Ticks between its samples. */
  readonly every: number
  readonly reader: ReturnType<typeof readingOf>
  readonly rest: LoopModel['shown']['rest']
  readonly follow: LoopModel['shown']['follow']
  /** The loop that it commands, or the input of the machine that it moves. */
  readonly target: string | undefined
  readonly input: number
  readonly memory: number
  readonly waiting: number
}

/** An estimator at work, with the place of its state in the whole. */
interface SeatedEye {
  readonly eye: LinearEstimator
  readonly every: number
  /** Outputs of the machine that it reads, and inputs that it knows. */
  readonly reads: readonly number[]
  readonly pushes: readonly number[]
  readonly state: number
}

interface Seats {
  readonly loops: readonly SeatedLoop[]
  readonly looking: readonly SeatedEye[]
  /** Of the whole state: the machine, then of each loop its memory and commands on their way, of each estimator its state. */
  readonly size: number
}

function seatsOf(
  machine: Part,
  system: StateSpace,
  closed: readonly ClosedLoop[],
  rate: number,
  eyes: readonly LinearEstimator[],
  { inputs, outputs, tick, fastest }: MachineSeen,
): Seats {
  const paceOf = (one: number) => Math.max(one, rate)
  let size = tick.a.length
  const take = (count: number) => (size += count) - count
  const loops = closed.map(({ name, values, model, model: { law, shown }, gains }): SeatedLoop => ({
    ...{ name, law, gains, delay: values.delay, dt: 1 / paceOf(values.rate), isClosed: values.closed },
    every: Math.round(fastest / paceOf(values.rate)),
    reader: readingOf(machine, readerOf({ values, model }), eyes, outputs),
    rest: shown.rest,
    follow: shown.follow,
    target: commandedLoop(values.pushes),
    input: inputs.indexOf(values.pushes),
    memory: take(law.memory.length),
    waiting: take(values.delay),
  }))
  const looking = eyes.map((eye): SeatedEye => ({
    ...{ eye, every: Math.round(fastest / rateOfEye(eye)), reads: eye.reads.map((output) => outputs.indexOf(output)) },
    pushes: eye.knowsPushes ? system.inputs.map((input) => inputs.indexOf(input)) : [],
    state: take(eye.system.a.length),
  }))
  return { loops, looking, size }
}

/** What an estimator reads, and tells by it, where the whole state is `z` and the machine shows `shown`. */
function look({ eye, reads, state }: SeatedEye, z: readonly number[], shown: readonly number[]): Seen {
  const now = reads.map((output) => shown[output]!)
  return { now, told: toldBy(eye, z.slice(state, state + eye.system.a.length), now) }
}

/** The whole state a sample of the loop under design later: all ticks within it, one after the other. */
function sampleLater(
  machine: MachineSeen,
  { loops, looking }: Seats,
  own: Own | undefined,
  start: readonly number[],
  { command, known, disturbance }: Given,
): number[] {
  const { tick } = machine
  const ownTarget = own === undefined ? undefined : commandedLoop(own.pushes)
  const seen: Seen[] = []
  const applied = loops.map(() => 0)
  /** What goes into the machine where the loop under design pushes so much. */
  const pushed = (bySelf: number) =>
    machine.inputs.map((input, j) =>
      loops.reduce(
        (sum, loop, i) => (loop.target === undefined && loop.input === j ? sum + applied[i]! : sum),
        (input === own?.pushes ? bySelf : 0) + (input === own?.disturbs ? disturbance : 0),
      ),
    )
  let z = [...start]
  for (let k = 0; k < machine.ticks; k++) {
    const next = [...z]
    const shown = shownBy(machine, z)
    looking.forEach((one, i) => {
      if (k % one.every === 0) seen[i] = look(one, z, shown)
    })
    const given = new Map<string, number>(ownTarget === undefined ? [] : [[ownTarget, command]])
    loops.forEach((loop, i) => {
      if (k % loop.every === 0) applied[i] = loopStepped(loop, given.get(loop.name) ?? 0, loop.reader(shown, seen), next)
      if (loop.target !== undefined) given.set(loop.target, applied[i]!)
    })
    const push = pushed(command)
    tick.a.forEach((row, i) => (next[i] = along(row, z) + along(tick.b[i]!, push)))
    const asked = pushed(known)
    looking.forEach((one, i) => {
      // it moves on at the end of its sample, by what was asked last
      if ((k + 1) % one.every === 0) eyeMoved(one, z, seen[i]!, asked, next)
    })
    z = next
  }
  return z
}

/** What a loop commands now; its memory and its commands on their way move on in `next`. */
function loopStepped(loop: SeatedLoop, reference: number, read: ReadNow, next: number[]): number {
  const { law, gains, memory, waiting, delay, rest, follow, dt } = loop
  const { held, rate, signals } = read
  // what nothing reaches stays at nothing: of one state alone most loops see none
  if (reference === 0 && held === 0 && rate === 0 && signals.every(isNothing) && isStill(next, memory, waiting + delay)) return 0
  const given = { ...{ error: reference - held, reference, excess: 0, rate, signals }, ...{ rest, follow, dt } }
  const step = law.step(given, next.slice(memory, memory + law.memory.length), gains)
  const terms = Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0)
  step.memory.forEach((value, j) => (next[memory + j] = value as number))
  const onTheWay = [...next.slice(waiting, waiting + delay), loop.isClosed ? terms : 0]
  const applied = onTheWay.shift()!
  onTheWay.forEach((value, j) => (next[waiting + j] = value))
  return applied
}

const isNothing = (value: number) => value === 0

function isStill(z: readonly number[], from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (z[i] !== 0) return false
  return true
}

function eyeMoved(
  { eye, pushes, state }: SeatedEye,
  z: readonly number[],
  { now }: Seen,
  asked: readonly number[],
  next: number[],
): void {
  const known = pushes.map((input) => (input < 0 ? 0 : asked[input]!))
  const moved = movedBy(eye, z.slice(state, state + eye.system.a.length), [...now, ...known])
  moved.forEach((value, j) => (next[state + j] = value))
}

/** What an estimator last read and told. */
interface Seen {
  readonly now: readonly number[]
  readonly told: readonly number[]
}

/** What a loop reads now. */
interface ReadNow {
  readonly held: number
  readonly rate: number
  readonly signals: readonly number[]
}

/** Makes a loop's reading from outputs of the machine and from what estimators tell. */
function readingOf(machine: Part, reader: Reader, eyes: readonly LinearEstimator[], outputs: readonly string[]) {
  const estimates = estimatesOf(machine, reader, eyes)
  const one = (name: string | undefined, estimate: EstimateSource | undefined) => {
    const output = name === undefined ? -1 : outputs.indexOf(name)
    return (shown: readonly number[], seen: readonly Seen[]): number =>
      estimate === undefined ? (output < 0 ? 0 : shown[output]!) : seen[estimate.eye]!.told[estimate.row]!
  }
  const held = one(reader.holds, estimates.held)
  const rate = one(findHeld(machine, reader.holds)?.rate, estimates.rate)
  const signals = reader.signals.map((name, i) => one(name, estimates.signals[i]))
  return (shown: readonly number[], seen: readonly Seen[]): ReadNow => ({
    held: held(shown, seen),
    rate: rate(shown, seen),
    signals: signals.map((signal) => signal(shown, seen)),
  })
}
