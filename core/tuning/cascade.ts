import { partHash, remembered } from '../document'
import { findHeld } from '../machine'
import type { Part } from '../document'
import { along, transpose, unitVector } from '../algebra'
import type { Matrix } from '../algebra'
import { commandedLoop, seenBy } from '../control'
import type { LinearEstimator } from '../control'
import { between, lookedAtBefore, minimalRealization, names, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel, LoopValues, Reading } from './loopModel'
import { atPaceOf, estimatesOf, eyesRead, isWhole, movedBy, rateOfEye, readerOf, toldBy, withRates } from './sight'
import type { Estimate, Estimates } from './sight'

/** A loop that is closed while another one is designed. */
export interface ClosedLoop {
  readonly name: string
  readonly values: LoopValues
  readonly model: LoopModel
  readonly gains: Gains
}

export interface CascadeRequest {
  readonly machine: Part
  /** The machine about its operating point. */
  readonly system: StateSpace
  /** The loops that are closed, every one before those that it commands. */
  readonly closed: readonly ClosedLoop[]
  /** What stands between the machine and its loops: those of it that some loop here reads are counted in. */
  readonly eyes: readonly LinearEstimator[]
  /** The loop under design: its push, what it holds, what its law reads beside that, how it reads, and how often it runs, Hz. */
  readonly pushes: string
  readonly holds: string
  readonly signals: readonly string[]
  readonly reads: LoopValues['reads']
  readonly rate: number
  /** A push of the machine that something else moves, held over each sample. */
  readonly disturbs?: string
}

/** What a loop reads, sampled at its rate; its input is the command. */
export interface Cascaded extends Reading {
  /** The same with another push of the machine as second input, where that is asked for. */
  readonly disturbed: StateSpace | undefined
}

const mostKept = 60
const kept = new Map<string, Cascaded>()

/**
 * What a loop sees while others are closed at their own rates: from its command, held over each of its samples, to what it
 * reads: what it holds, the rate of that, what its law reads beside; then what the loop that it commands holds, and what it
 * holds as it truly is. Exact: one sample is the composition of all ticks within it. Every other loop runs a whole number of
 * times as often; a slower one counts as if it ran as often. Of estimators see `atPaceOf`.
 */
export function cascadedPlant(request: CascadeRequest): Cascaded {
  const { machine, system, closed, eyes, ...own } = request
  const loops = closed.map(({ values, gains }) => [values, gains])
  const key = `${partHash(machine)} ${partHash(system)} ${JSON.stringify([own, loops, eyes])}`
  return remembered(kept, mostKept, key, () => composed(request))
}

/** What goes in over a sample, held. */
interface Given {
  readonly command: number
  /** What estimators know of the command. */
  readonly known: number
  readonly disturbance: number
}

/** What happens within one sample of a rate, and how much there is to remember. */
interface Ticker {
  readonly size: number
  readonly outputs: readonly string[]
  /** At the start of a sample: the outputs of the machine, and what the loop under design reads. */
  readonly shown: (start: readonly number[]) => { readonly truly: readonly number[]; readonly read: readonly number[] }
  /** The whole state one sample later. */
  readonly whole: (start: readonly number[], given: Given) => number[]
  readonly knowsPush: boolean
}

type Own = Pick<CascadeRequest, 'pushes' | 'holds' | 'signals' | 'reads' | 'disturbs'>

/** `own` is left out where no loop is under design. Of `eyes` all are counted in. */
function ticker(
  machine: Part,
  system: StateSpace,
  closed: readonly ClosedLoop[],
  rate: number,
  eyes: readonly LinearEstimator[],
  own?: Own,
): Ticker {
  const rateOf = (held: string) => findHeld(machine, held)?.rate
  const observed = [...new Set([...(own === undefined ? [] : [own.holds]), ...closed.map(({ values }) => values.holds)])]
  const signals = [...(own?.signals ?? []), ...closed.flatMap(({ model }) => model.law.signals)]
  const looked = eyes.flatMap(({ reads }) => reads)
  const outputs = [...new Set([...observed.flatMap((held) => [held, rateOf(held) ?? held]), ...signals, ...looked])]
  const pushes = own?.pushes
  const ownTarget = pushes === undefined ? undefined : commandedLoop(pushes)
  const all = [pushes, own?.disturbs, ...closed.map(({ values }) => values.pushes)]
  const inputs = [...new Set(all)].filter((push) => push !== undefined && commandedLoop(push) === undefined) as string[]
  const small = minimalRealization(between(withRates(system, outputs), inputs, outputs))
  const paceOf = (one: number) => Math.max(one, rate)
  const fastest = Math.max(rate, ...closed.map(({ values }) => values.rate), ...eyes.map(rateOfEye))
  const tick = lookedAtBefore(small.dt === null ? sampledWithHold(small, 1 / fastest) : small)
  const ticks = Math.round(fastest / rate)
  const at = (held: string | undefined) => (held === undefined ? -1 : outputs.indexOf(held))

  // places in the whole state: the machine, then of each loop its memory and commands on their way, of each estimator its state
  let size = tick.a.length
  const take = (count: number) => (size += count) - count
  const loops = closed.map(({ name, values, model, model: { law, shown }, gains }) => ({
    ...{ name, law, gains, delay: values.delay, dt: 1 / paceOf(values.rate), isClosed: values.closed },
    every: Math.round(fastest / paceOf(values.rate)),
    reader: reading(at, estimatesOf(machine, readerOf({ values, model }), eyes), seenPlaces(values.holds, law.signals)),
    rest: shown.rest,
    follow: shown.follow,
    target: commandedLoop(values.pushes),
    input: inputs.indexOf(values.pushes),
    memory: take(law.memory.length),
    waiting: take(values.delay),
  }))
  const looking = eyes.map((eye) => ({
    ...{ eye, every: Math.round(fastest / rateOfEye(eye)), reads: eye.reads.map(at) },
    pushes: eye.knowsPushes ? system.inputs.map((input) => inputs.indexOf(input)) : [],
    state: take(eye.system.a.length),
  }))
  function seenPlaces(holds: string, others: readonly string[]) {
    return { held: holds, rate: rateOf(holds), signals: others }
  }
  const ownReader =
    own === undefined ? undefined : reading(at, estimatesOf(machine, own, eyes), seenPlaces(own.holds, own.signals))

  const look = ({ eye, reads, state }: (typeof looking)[number], z: readonly number[], shown: readonly number[]): Seen => {
    const now = reads.map((output) => shown[output]!)
    return { now, told: toldBy(eye, z.slice(state, state + eye.system.a.length), now) }
  }
  const shownAt = (z: readonly number[]) => tick.c.map((row) => along(row, z))
  const whole = (start: readonly number[], { command, known, disturbance }: Given): number[] => {
    let z = [...start]
    const seen: Seen[] = []
    const applied = loops.map(() => 0)
    for (let k = 0; k < ticks; k++) {
      const next = [...z]
      const shown = shownAt(z)
      looking.forEach((one, i) => {
        if (k % one.every === 0) seen[i] = look(one, z, shown)
      })
      const given = new Map<string | undefined, number>(ownTarget === undefined ? [] : [[ownTarget, command]])
      loops.forEach((loop, i) => {
        const reference = given.get(loop.name) ?? 0
        if (k % loop.every === 0) {
          const memory = next.slice(loop.memory, loop.memory + loop.law.memory.length)
          const { held, rate, signals } = loop.reader(shown, seen)
          const read = {
            ...{ error: reference - held, reference, excess: 0, rate, signals },
            ...{ rest: loop.rest, follow: loop.follow, dt: loop.dt },
          }
          const step = loop.law.step(read, memory, loop.gains)
          const asked = loop.isClosed ? Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0) : 0
          step.memory.forEach((value, j) => (next[loop.memory + j] = value as number))
          const pipeline = [...next.slice(loop.waiting, loop.waiting + loop.delay), asked]
          applied[i] = pipeline.shift()!
          pipeline.forEach((value, j) => (next[loop.waiting + j] = value))
        }
        if (loop.target !== undefined) given.set(loop.target, applied[i]!)
      })
      const pushed = (own: number) =>
        inputs.map((input, j) =>
          loops.reduce(
            (sum, loop, i) => (loop.target === undefined && loop.input === j ? sum + applied[i]! : sum),
            (input === pushes ? own : 0) + (input === disturbed ? disturbance : 0),
          ),
        )
      const push = pushed(command)
      tick.a.forEach((row, i) => (next[i] = along(row, z) + along(tick.b[i]!, push)))
      const asked = pushed(known)
      looking.forEach(({ eye, every, pushes: knows, state }, i) => {
        // it moves on at the end of its sample, by what was asked last
        if ((k + 1) % every !== 0) return
        const moved = movedBy(eye, z.slice(state, state + eye.system.a.length), [
          ...seen[i]!.now,
          ...knows.map((input) => (input < 0 ? 0 : asked[input]!)),
        ])
        moved.forEach((value, j) => (next[state + j] = value))
      })
      z = next
    }
    return z
  }
  const disturbed = own?.disturbs
  const shown = (z: readonly number[]) => {
    const truly = shownAt(z)
    const seen = looking.map((one) => look(one, z, truly))
    const read = ownReader?.(truly, seen)
    return { truly, read: read === undefined ? [] : [read.held, read.rate, ...read.signals] }
  }
  return { size, outputs, shown, whole, knowsPush: looking.some((one) => one.pushes.includes(inputs.indexOf(pushes ?? ''))) }
}

/** What an estimator last read and told. */
interface Seen {
  readonly now: readonly number[]
  readonly told: readonly number[]
}

/** Makes a loop's reading from outputs of the machine and from what estimators tell. */
function reading(
  at: (output: string | undefined) => number,
  estimates: Estimates,
  names: { readonly held: string; readonly rate: string | undefined; readonly signals: readonly string[] },
) {
  const one = (name: string | undefined, estimate: Estimate | undefined) => {
    const output = at(name)
    return (shown: readonly number[], seen: readonly Seen[]): number =>
      estimate === undefined ? (output < 0 ? 0 : shown[output]!) : seen[estimate.eye]!.told[estimate.row]!
  }
  const held = one(names.held, estimates.held)
  const rate = one(names.rate, estimates.rate)
  const signals = names.signals.map((name, i) => one(name, estimates.signals[i]))
  return (shown: readonly number[], seen: readonly Seen[]) => ({
    held: held(shown, seen),
    rate: rate(shown, seen),
    signals: signals.map((signal) => signal(shown, seen)),
  })
}

const nothing: Given = { command: 0, known: 0, disturbance: 0 }

function columnsOf({ size, whole }: Ticker): Matrix {
  return Array.from({ length: size }, (_, j) => whole(unitVector(size, j), nothing))
}

/**
 * How everything moves over the common period of all closed loops and the estimators that they read, which is the sample of
 * the slowest; nothing where their rates are not whole numbers of times the slowest and whole parts of the fastest.
 */
export function periodMap(
  machine: Part,
  system: StateSpace,
  closed: readonly ClosedLoop[],
  eyes: readonly LinearEstimator[],
): Matrix | undefined {
  const read = eyesRead(machine, closed.map(readerOf), eyes)
  const rates = [...closed.map(({ values }) => values.rate), ...read.map(rateOfEye)]
  const [slowest, fastest] = [Math.min(...rates), Math.max(...rates)]
  if (!rates.every((rate) => isWhole(fastest / rate) && isWhole(rate / slowest))) return undefined
  return transpose(columnsOf(ticker(machine, system, closed, slowest, read)))
}

function composed(request: CascadeRequest): Cascaded {
  const { machine, system, closed, pushes, holds, rate, signals } = request
  const fastest = Math.max(rate, ...closed.map(({ values }) => values.rate))
  const eyes = eyesRead(machine, [...closed.map(readerOf), request], request.eyes).map((eye) => atPaceOf(rate, fastest, eye))
  const made = ticker(machine, system, closed, rate, eyes, request)
  const { size, outputs, whole, shown } = made
  const still = unitVector(size, -1)
  const driven = [
    ['command', whole(still, { ...nothing, command: 1, known: 1 })] as const,
    ...(made.knowsPush ? [['known', whole(still, { ...nothing, known: 1 })] as const] : []),
    ...(request.disturbs === undefined ? [] : [['disturbance', whole(still, { ...nothing, disturbance: 1 })] as const]),
  ]
  const columns = Array.from({ length: size }, (_, j) => shown(unitVector(size, j)))
  const seen = seenBy(machine, holds, signals)
  const hasRate = seen.length > 1 + signals.length
  const inner = closed.find(({ name }) => name === commandedLoop(pushes))
  const truly = (name: string) => columns.map((column) => column.truly[outputs.indexOf(name)]!)
  const rows: (readonly [string, number[]])[] = [
    ...seen.map((name, i) => [name, columns.map(({ read }) => read[hasRate || i === 0 ? i : i + 1]!)] as const),
    ...(inner === undefined ? [] : [[`held by ${inner.name}`, truly(inner.values.holds)] as const]),
    ...(eyes.length === 0 ? [] : [[`true ${holds}`, truly(holds)] as const]),
  ]
  const all: StateSpace = {
    a: transpose(columnsOf(made)),
    b: transpose(driven.map(([, column]) => column)),
    c: rows.map(([, row]) => row),
    d: rows.map(() => driven.map(() => 0)),
    dt: 1 / rate,
    ...names(size, driven.length, rows.length),
    inputs: driven.map(([name]) => name),
    outputs: rows.map(([name]) => name),
  }
  // other axes, and estimators of more than the loop has to do with, bring poles that nobody feels
  const minimal = minimalRealization(all)
  const from = (...from: string[]) => between(minimal, from, minimal.outputs)
  return {
    read: from('command'),
    known: made.knowsPush ? from('known') : undefined,
    disturbed: request.disturbs === undefined ? undefined : from('command', 'disturbance'),
  }
}
