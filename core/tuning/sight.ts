import { multiply } from '../algebra'
import { rateOfPrefix, seenBy } from '../control'
import type { LinearEstimator } from '../control'
import type { Part } from '../document'
import type { StateSpace } from '../linear'
import type { LoopModel, LoopValues } from './loopModel'

/** A quantity as an estimator tells it. */
export interface Estimate {
  readonly eye: number
  readonly row: number
}

/** Of several estimators of a quantity the last one is read. */
function estimateOf(eyes: readonly LinearEstimator[], quantity: string): Estimate | undefined {
  const eye = eyes.map(({ estimated }) => estimated.includes(quantity)).lastIndexOf(true)
  return eye < 0 ? undefined : { eye, row: eyes[eye]!.estimated.indexOf(quantity) }
}

interface Reader {
  readonly values: LoopValues
  readonly model: LoopModel
}

/** What a loop reads of estimators, by place in what it reads: what it holds, the rate of that where it has one, its signals. */
export function estimatesOf(
  machine: Part,
  { values, model }: Reader,
  eyes: readonly LinearEstimator[],
): readonly (Estimate | undefined)[] {
  if (values.reads !== 'estimated') return []
  return seenBy(machine, values.holds, model.law.signals).map((quantity) => estimateOf(eyes, quantity))
}

/** The estimators that some loop reads. */
export function eyesRead(machine: Part, loops: readonly Reader[], eyes: readonly LinearEstimator[]): readonly LinearEstimator[] {
  const read = new Set(loops.flatMap((loop) => estimatesOf(machine, loop, eyes)).map((estimate) => estimate?.eye))
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
