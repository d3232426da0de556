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

/**
 * The exact sampled system for an input that runs straight from sample to sample (first-order hold). It answers at once:
 * d is not 0. Franklin, Powell & Workman, Digital Control of Dynamic Systems, 3rd ed., section 6.3 (from memory).
 */
export function sampledWithRamp(system: StateSpace, dt: number): StateSpace {
  const n = system.a.length
  const m = system.inputs.length
  const nothing = (count: number) => new Array<number>(count).fill(0)
  const block = [
    ...system.a.map((row, i) => [...times([row], dt)[0]!, ...times([system.b[i]!], dt)[0]!, ...nothing(m)]),
    ...identity(m).map((row) => [...nothing(n + m), ...row]),
    ...identity(m).map(() => nothing(n + 2 * m)),
  ]
  const e = exponentialOf(block).slice(0, n)
  const [a, held, ramp] = [[0, n] as const, [n, n + m] as const, [n + m, n + 2 * m] as const].map(([from, to]) =>
    e.map((row) => row.slice(from, to)),
  ) as [number[][], number[][], number[][]]
  // the state kept is x - ramp u: what the next sample brings is not known yet
  const b = plusMatrix(plusMatrix(held, multiply(a, ramp)), times(ramp, -1))
  return { ...system, a, b, d: plusMatrix(system.d, multiply(system.c, ramp)), dt }
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
