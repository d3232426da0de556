import { exponentialOf, identity, multiply, plusMatrix, solve, times } from '../algebra'
import type { StateSpace } from './stateSpace'

/** The exact sampled system for an input held constant over each sample (zero-order hold). */
export function sampledWithHold(system: StateSpace, dt: number): StateSpace {
  const n = system.a.length
  const m = system.inputs.length
  const block = [
    ...system.a.map((row, i) => [...row, ...system.b[i]!]),
    ...Array.from({ length: m }, () => new Array<number>(n + m).fill(0)),
  ]
  const e = exponentialOf(times(block, dt))
  return { ...system, a: e.slice(0, n).map((row) => row.slice(0, n)), b: e.slice(0, n).map((row) => row.slice(n)), dt }
}

/** Tustin's bilinear rule s = 2/dt (z - 1)/(z + 1). `undefined` with a pole at 2/dt. */
export function sampledBilinear(system: StateSpace, dt: number): StateSpace | undefined {
  const n = system.a.length
  const half = times(system.a, dt / 2)
  const inverse = solve(plusMatrix(identity(n), times(half, -1)), identity(n))
  if (inverse === undefined) return undefined
  const a = multiply(inverse, plusMatrix(identity(n), half))
  const b = times(multiply(inverse, system.b), dt)
  const c = multiply(system.c, inverse)
  const d = plusMatrix(system.d, times(multiply(system.c, b), 0.5))
  return { ...system, a, b, c, d, dt }
}
