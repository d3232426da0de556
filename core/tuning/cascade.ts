import { partHash, remembered } from '../document'
import { findHeld } from '../machine'
import type { Part } from '../document'
import { transpose, unitVector } from '../algebra'
import type { Matrix } from '../algebra'
import { commandedLoop, seenBy } from '../control'
import type { LinearEstimator } from '../control'
import { between, minimalRealization, names, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import type { Gains, LoopModel, LoopValues } from './loopModel'
import { estimatesOf, eyesRead, sampledEye, rateOfEye, withRates } from './sight'
import type { Estimate } from './sight'

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
  /** The loop under design: its push, what it holds, what its law reads beside that, and how often it runs, Hz. */
  readonly pushes: string
  readonly holds: string
  readonly signals: readonly string[]
  readonly rate: number
  /** A push of the machine that something else moves: the second input, held over each sample. */
  readonly disturbs?: string
}

const mostKept = 60
const kept = new Map<string, StateSpace>()

/**
 * What a loop sees while others are closed at their own rates: from its command, held over each of its samples, to what it
 * holds, the rate of that, what its law reads, and what the loop that it commands holds; a push that disturbs may be a second
 * input. Exact: one sample is the
 * composition of all ticks within it. Every other loop runs a whole number of times as often; a slower one counts as if it
 * ran as often.
 */
export function cascadedPlant(request: CascadeRequest): StateSpace {
  const { machine, system, closed, ...own } = request
  const loops = closed.map(({ values, gains }) => [values, gains])
  const key = `${partHash(machine)} ${partHash(system)} ${JSON.stringify([own, loops])}`
  return remembered(kept, mostKept, key, () => composed(request))
}

/** What happens within one sample of a rate, and how much there is to remember. */
interface Ticker {
  readonly size: number
  readonly outputs: readonly string[]
  /** Outputs of the machine over its states, which come first. */
  readonly c: Matrix
  /** The whole state one sample later, with the command and the disturbance held. */
  readonly whole: (start: readonly number[], command: number, disturbance: number) => number[]
}

/** `own` is left out where no loop is under design, `eyes` where no loop reads an estimate. */
function ticker(
  machine: Part,
  system: StateSpace,
  closed: readonly ClosedLoop[],
  rate: number,
  own?: Pick<CascadeRequest, 'pushes' | 'holds' | 'signals' | 'disturbs'>,
  eyes: readonly LinearEstimator[] = [],
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
  const paceOf = (own: number) => Math.max(own, rate)
  const fastest = Math.max(rate, ...closed.map(({ values }) => values.rate), ...eyes.map(rateOfEye))
  const tick = small.dt === null ? sampledWithHold(small, 1 / fastest) : small
  const ticks = Math.round(fastest / rate)
  const at = (held: string | undefined) => (held === undefined ? -1 : outputs.indexOf(held))

  // places in the whole state: the machine, then of each loop its memory, commands on their way, and the one applied
  let size = tick.a.length
  const take = (count: number) => (size += count) - count
  const loops = closed.map(({ name, values, model, model: { law, shown }, gains }) => ({
    ...{ name, law, gains, delay: values.delay, dt: 1 / paceOf(values.rate), isClosed: values.closed },
    every: Math.round(fastest / paceOf(values.rate)),
    held: at(values.holds),
    heldRate: at(rateOf(values.holds)),
    signals: law.signals.map(at),
    rest: shown.rest,
    follow: shown.follow,
    target: commandedLoop(values.pushes),
    input: inputs.indexOf(values.pushes),
    memory: take(law.memory.length),
    waiting: take(values.delay),
    applied: take(1),
    estimates: estimatesOf(machine, { values, model }, eyes),
  }))
  // of each estimator its state one sample ago, what it read then, and what it tells now
  const looking = eyes.map((eye) => ({
    ...{ eye, every: Math.round(fastest / rateOfEye(eye)), reads: eye.reads.map(at) },
    pushes: eye.knowsPushes ? system.inputs.map((input) => inputs.indexOf(input)) : [],
    state: take(eye.system.a.length),
    read: take(eye.reads.length),
    told: take(eye.estimated.length),
  }))
  const estimateAt = (z: readonly number[], estimate: Estimate | undefined) =>
    estimate === undefined ? undefined : z[looking[estimate.eye]!.told + estimate.row]!
  const whole = (start: readonly number[], command: number, disturbance: number): number[] => {
    let z = [...start]
    for (let k = 0; k < ticks; k++) {
      const next = [...z]
      const shown = tick.c.map((row) => row.reduce((sum, value, j) => sum + value * z[j]!, 0))
      const given = new Map<string | undefined, number>(ownTarget === undefined ? [] : [[ownTarget, command]])
      const push = inputs.map((input) => (input === pushes ? command : 0) + (input === own?.disturbs ? disturbance : 0))
      for (const eye of looking) if (k % eye.every === 0) look(eye, next, shown, z)
      for (const loop of loops) {
        const reference = given.get(loop.name) ?? 0
        if (k % loop.every === 0) {
          const memory = next.slice(loop.memory, loop.memory + loop.law.memory.length)
          const { estimates } = loop
          const read = {
            error: reference - (estimateAt(next, estimates.held) ?? shown[loop.held]!),
            reference,
            excess: 0,
            rate: loop.heldRate < 0 ? 0 : (estimateAt(next, estimates.rate) ?? shown[loop.heldRate]!),
            signals: loop.signals.map((i, s) => estimateAt(next, estimates.signals[s]) ?? shown[i]!),
            rest: loop.rest,
            follow: loop.follow,
            dt: loop.dt,
          }
          const step = loop.law.step(read, memory, loop.gains)
          const asked = loop.isClosed ? Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0) : 0
          step.memory.forEach((value, i) => (next[loop.memory + i] = value as number))
          const pipeline = [...next.slice(loop.waiting, loop.waiting + loop.delay), asked]
          next[loop.applied] = pipeline.shift()!
          pipeline.forEach((value, i) => (next[loop.waiting + i] = value))
        }
        if (loop.target === undefined) push[loop.input]! += next[loop.applied]!
        else given.set(loop.target, next[loop.applied]!)
      }
      tick.a.forEach((row, i) => {
        const driven = push.reduce((sum, value, j) => sum + tick.b[i]![j]! * value, 0)
        next[i] = row.reduce((sum, value, j) => sum + value * z[j]!, driven)
      })
      z = next
    }
    return z
  }
  const look = (
    { eye, reads, pushes: known, state, read, told }: (typeof looking)[number],
    next: number[],
    shown: readonly number[],
    before: readonly number[],
  ) => {
    const pushed = (input: number) => loops.filter((loop) => loop.target === undefined && loop.input === input)
    const asked = known.map((input) => pushed(input).reduce((sum, loop) => sum + before[loop.applied]!, 0))
    const now = reads.map((output) => shown[output]!)
    const one = sampledEye(
      eye,
      before.slice(state, state + eye.system.a.length),
      before.slice(read, read + now.length),
      asked,
      now,
    )
    one.moved.forEach((value, i) => (next[state + i] = value))
    now.forEach((value, i) => (next[read + i] = value))
    one.told.forEach((value, i) => (next[told + i] = value))
  }
  return { size, outputs, c: tick.c, whole }
}

function columnsOf({ size, whole }: Ticker): Matrix {
  return Array.from({ length: size }, (_, j) => whole(unitVector(size, j), 0, 0))
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
  const read = eyesRead(machine, closed, eyes)
  const rates = [...closed.map(({ values }) => values.rate), ...read.map(rateOfEye)]
  const [slowest, fastest] = [Math.min(...rates), Math.max(...rates)]
  const isWhole = (ratio: number) => Math.abs(ratio - Math.round(ratio)) < 1e-9 * ratio
  if (!rates.every((rate) => isWhole(fastest / rate) && isWhole(rate / slowest))) return undefined
  return transpose(columnsOf(ticker(machine, system, closed, slowest, undefined, read)))
}

function composed(request: CascadeRequest): StateSpace {
  const { machine, system, closed, pushes, holds, rate } = request
  const made = ticker(machine, system, closed, rate, request)
  const { size, outputs, whole } = made
  const nothing = unitVector(size, -1)
  const driven = [whole(nothing, 1, 0), ...(request.disturbs === undefined ? [] : [whole(nothing, 0, 1)])]
  const shownRow = (output: number) => Array.from({ length: size }, (_, j) => made.c[output]![j] ?? 0)
  // in this order: what it holds, its rate, what its law reads, what the commanded loop holds
  const inner = closed.find(({ name }) => name === commandedLoop(pushes))
  const named = [...seenBy(machine, holds, request.signals), ...(inner === undefined ? [] : [inner.values.holds])]
  const rows = named.map((name) => shownRow(outputs.indexOf(name)))
  return {
    a: transpose(columnsOf(made)),
    b: transpose(driven),
    c: rows,
    d: rows.map(() => driven.map(() => 0)),
    dt: 1 / rate,
    ...names(size, driven.length, rows.length),
    outputs: named,
  }
}
