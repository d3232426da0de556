import { along, multiply } from '../algebra'
import { rateOfPrefix } from '../control'
import type { LinearEstimator } from '../control'
import type { Part } from '../document'
import { heldLonger, resampled } from '../linear'
import type { StateSpace } from '../linear'
import { findHeld } from '../machine'
import type { LoopValues } from './loop'
import type { LoopModel } from './loopModel'

/** A quantity as an estimator tells it. */
export interface EstimateSource {
  readonly eye: number
  readonly row: number
}

/** Whether a loop that reads so reads this estimator, or sensor. */
export function isReadAs({ ofSensor }: LinearEstimator, reads: LoopValues['reads']): boolean {
  return reads === (ofSensor === true ? 'measured' : 'estimated')
}

/** Of several estimators of a quantity the last one is read. */
function estimateOf(eyes: readonly LinearEstimator[], quantity: string, reads: LoopValues['reads']): EstimateSource | undefined {
  const eye = eyes.map((one) => isReadAs(one, reads) && one.estimated.includes(quantity)).lastIndexOf(true)
  return eye < 0 ? undefined : { eye, row: eyes[eye]!.estimated.indexOf(quantity) }
}

/** What a loop holds, what its law reads beside that, and how it reads. */
export interface Reader extends Pick<LoopValues, 'holds' | 'reads'> {
  readonly signals: readonly string[]
}

export function readerOf({ values, model }: { readonly values: LoopValues; readonly model: LoopModel }): Reader {
  return { holds: values.holds, reads: values.reads, signals: model.law.signals }
}

/** What a loop reads of estimators and sensors; nothing for what it reads as it truly is. */
export interface EstimateSources {
  readonly held: EstimateSource | undefined
  readonly rate: EstimateSource | undefined
  readonly signals: readonly (EstimateSource | undefined)[]
}

export function estimatesOf(machine: Part, { holds, reads, signals }: Reader, eyes: readonly LinearEstimator[]): EstimateSources {
  const told = (quantity: string | undefined) => (quantity === undefined ? undefined : estimateOf(eyes, quantity, reads))
  return { held: told(holds), rate: told(findHeld(machine, holds)?.rate), signals: signals.map(told) }
}

/** The estimators that some loop reads. */
export function eyesRead(machine: Part, loops: readonly Reader[], eyes: readonly LinearEstimator[]): readonly LinearEstimator[] {
  const all = loops.map((loop) => estimatesOf(machine, loop, eyes))
  const read = new Set(all.flatMap(({ held, rate, signals }) => [held, rate, ...signals]).map((estimate) => estimate?.eye))
  return eyes.filter((_, i) => read.has(i))
}

/** Hz */
export function rateOfEye({ system }: LinearEstimator): number {
  return 1 / system.dt!
}

/** Of a ratio of rates. */
export const isWhole = (ratio: number) => Math.abs(ratio - Math.round(ratio)) < 1e-9 * ratio

/**
 * An estimator, or a sensor, as a loop of this rate sees it that is looked at sample by sample. One that tells a whole number of
 * times a sample of the loop, and fits among the ticks of the fastest, is what it is. Of others a sample is that of the loop:
 * about alike where the loop has gain, and what they tell seldom is held in between.
 */
export function atPaceOf(rate: number, fastest: number, eye: LinearEstimator): LinearEstimator {
  const own = rateOfEye(eye)
  if (isWhole(own / rate) && isWhole(Math.max(own, fastest) / Math.min(own, fastest))) return eye
  const dt = 1 / rate
  const paced = resampled(eye.system, dt)
  if (paced === undefined) return { ...eye, system: { ...eye.system, dt } }
  return { ...eye, system: own < rate ? behindEach(paced, heldLonger(1 / own, dt)) : paced }
}

/** A system with the same one behind each of its outputs. */
function behindEach(system: StateSpace, one: StateSpace): StateSpace {
  const [n, m] = [system.a.length, one.a.length]
  const nothing = (count: number) => new Array<number>(count).fill(0)
  const own = (i: number, rows: readonly number[]) => [
    ...nothing(n + i * m),
    ...rows,
    ...nothing((system.outputs.length - 1 - i) * m),
  ]
  const outputs = system.outputs.map((_, i) => i)
  const plus = (a: readonly number[], b: readonly number[]) => b.map((value, k) => value + (a[k] ?? 0))
  const scaled = (row: readonly number[], by: number) => row.map((value) => by * value)
  return {
    ...system,
    a: [
      ...system.a.map((row) => [...row, ...nothing(system.outputs.length * m)]),
      ...outputs.flatMap((i) => one.a.map((row, k) => plus(scaled(system.c[i]!, one.b[k]![0]!), own(i, row)))),
    ],
    b: [...system.b, ...outputs.flatMap((i) => one.b.map(([by]) => scaled(system.d[i]!, by!)))],
    c: outputs.map((i) => plus(scaled(system.c[i]!, one.d[0]![0]!), own(i, one.c[0]!))),
    d: outputs.map((i) => scaled(system.d[i]!, one.d[0]![0]!)),
    states: [...system.states, ...outputs.flatMap((i) => one.states.map((name) => `${name} behind ${i + 1}`))],
  }
}

/** What an estimator tells from its state and what it reads now. */
export function toldBy({ system: { c, d } }: LinearEstimator, x: readonly number[], now: readonly number[]): readonly number[] {
  return c.map((row, i) => along(row, x) + along(d[i]!.slice(0, now.length), now))
}

/** Its state one sample later, from what it read and then what the pushes were asked for, where it knows them. */
export function movedBy(
  { system: { a, b } }: LinearEstimator,
  x: readonly number[],
  given: readonly number[],
): readonly number[] {
  return a.map((row, i) => along(row, x) + along(b[i]!, given))
}

/** The same system that also shows the rates of quantities that are asked for by such names. */
export function withRates(system: StateSpace, quantities: readonly string[]): StateSpace {
  const wanted = quantities.filter((one) => one.startsWith(rateOfPrefix))
  if (wanted.length === 0) return system
  const rows = wanted.map((one) => [system.c[system.outputs.indexOf(one.slice(rateOfPrefix.length))]!])
  return {
    ...system,
    c: [...system.c, ...rows.map((row) => multiply(row, system.a)[0]!)],
    d: [...system.d, ...rows.map((row) => multiply(row, system.b)[0]!)],
    outputs: [...system.outputs, ...wanted],
  }
}
