import { multiply } from '../algebra'
import { sampledWithHold } from './discretize'
import type { StateSpace } from './stateSpace'

export interface Response {
  readonly t: readonly number[]
  /** y[k][output] */
  readonly y: readonly (readonly number[])[]
}

/** Unit step on one input from rest, exact at the points. A sampled system answers at its own samples. */
export function stepResponse(system: StateSpace, until: number, points: number, input = 0): Response {
  const dt = system.dt ?? until / (points - 1)
  const sampled = system.dt === null ? sampledWithHold(system, dt) : system
  const count = system.dt === null ? points : Math.floor(until / dt + 1e-9) + 1
  const t: number[] = []
  const y: number[][] = []
  let x = sampled.a.map(() => [0])
  const push = sampled.b.map((row) => row[input]!)
  for (let k = 0; k < count; k++) {
    t.push(k * dt)
    const output = multiply(sampled.c, x)
    y.push(sampled.d.map((row, i) => (output[i]?.[0] ?? 0) + row[input]!))
    const next = multiply(sampled.a, x)
    x = push.map((value, i) => [next[i]![0]! + value])
  }
  return { t, y }
}
