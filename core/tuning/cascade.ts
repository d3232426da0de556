import { partHash, remembered } from '../document'
import type { Part } from '../document'
import { transpose, unitVector } from '../algebra'
import type { Matrix } from '../algebra'
import { commandedLoop, seenBy } from '../control'
import type { LinearEstimator } from '../control'
import { between, minimalRealization, names } from '../linear'
import type { StateSpace } from '../linear'
import type { LawReading } from './loopModel'
import { atPaceOf, eyesRead, isWhole, rateOfEye, readerOf } from './sight'
import { ticker } from './ticker'
import type { ClosedLoop, Given, Own, Ticker } from './ticker'

export interface CascadeRequest extends Own {
  readonly machine: Part
  /** The machine about its operating point. */
  readonly system: StateSpace
  /** The loops that are closed, every one before those that it commands. */
  readonly closed: readonly ClosedLoop[]
  /** What stands between the machine and its loops: those of it that some loop here reads are counted in. */
  readonly eyes: readonly LinearEstimator[]
  /** Hz, of the loop under design. */
  readonly rate: number
}

/** What a loop reads, sampled at its rate; its input is the command. */
export interface Cascaded extends LawReading {
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
