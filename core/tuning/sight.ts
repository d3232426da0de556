import { multiply } from '../algebra'
import { rateOfPrefix } from '../control'
import type { LinearEstimator } from '../control'
import type { Part } from '../document'
import type { StateSpace } from '../linear'
import { findHeld } from '../machine'
import type { LoopModel, LoopValues } from './loopModel'

/** A quantity as an estimator tells it. */
export interface Estimate {
  readonly eye: number
  readonly row: number
}

/** Whether a loop that reads so reads this estimator, or sensor. */
export function isReadAs({ ofSensor }: LinearEstimator, reads: LoopValues['reads']): boolean {
  return reads === (ofSensor === true ? 'measured' : 'estimated')
}

/** Of several estimators of a quantity the last one is read. */
function estimateOf(eyes: readonly LinearEstimator[], quantity: string, reads: LoopValues['reads']): Estimate | undefined {
  const eye = eyes.map((one) => isReadAs(one, reads) && one.estimated.includes(quantity)).lastIndexOf(true)
  return eye < 0 ? undefined : { eye, row: eyes[eye]!.estimated.indexOf(quantity) }
}

interface Reader {
  readonly values: LoopValues
  readonly model: LoopModel
}

/** What a loop reads of estimators and sensors; nothing for what it reads as it truly is. */
export interface Estimates {
  readonly held: Estimate | undefined
  readonly rate: Estimate | undefined
  readonly signals: readonly (Estimate | undefined)[]
}

export function estimatesOf(machine: Part, { values, model }: Reader, eyes: readonly LinearEstimator[]): Estimates {
  const told = (quantity: string | undefined) => (quantity === undefined ? undefined : estimateOf(eyes, quantity, values.reads))
  return { held: told(values.holds), rate: told(findHeld(machine, values.holds)?.rate), signals: model.law.signals.map(told) }
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

/**
 * One sample of an estimator: from its state a sample ago, what it read then and what was asked since, it moves on; with what
 * it reads now it tells.
 */
export function sampledEye(
  { system: { a, b, c, d } }: LinearEstimator,
  x: readonly number[],
  before: readonly number[],
  asked: readonly number[],
  now: readonly number[],
): { readonly moved: readonly number[]; readonly told: readonly number[] } {
  const given = [...before, ...asked]
  const moved = a.map((row, i) => dot(row, x) + dot(b[i]!, given))
  return { moved, told: c.map((row, i) => dot(row, moved) + dot(d[i]!.slice(0, now.length), now)) }
}

function dot(a: readonly number[], b: readonly number[]): number {
  return a.reduce((sum, value, i) => sum + value * b[i]!, 0)
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
