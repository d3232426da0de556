import { exponentialOf, identity, multiply, plusMatrix, solve, times, zeros } from '../algebra'
import { fromPolynomials } from './stateSpace'
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

/** The other way: the continuous system of which the bilinear rule makes this one. `undefined` with a pole at -1. */
function continuousBilinear(system: StateSpace, dt: number): StateSpace | undefined {
  const inverse = solve(plusMatrix(system.a, identity(system.a.length)), identity(system.a.length))
  if (inverse === undefined) return undefined
  const a = times(multiply(inverse, plusMatrix(system.a, times(identity(system.a.length), -1))), 2 / dt)
  const b = times(multiply(inverse, system.b), 2 / dt)
  const c = times(multiply(system.c, inverse), 2)
  return { ...system, a, b, c, d: plusMatrix(system.d, times(multiply(system.c, multiply(inverse, system.b)), -1)), dt: null }
}

/**
 * About the same sampled system at another rate, by the bilinear rule there and back: alike well below half of either rate.
 * `undefined` with a pole at -1.
 */
export function resampled(system: StateSpace, dt: number): StateSpace | undefined {
  const continuous = continuousBilinear(system, system.dt!)
  return continuous === undefined ? undefined : sampledBilinear(continuous, dt)
}

/**
 * What holding a value for `dt` does to one who looks every `tick`, beyond what the looking does: (1 - e^-s dt) / (s dt) by its
 * Padé approximant 1 / (1 + s dt / 2 + (s dt)² / 12), over the same of `tick`, sampled by the bilinear rule.
 */
export function heldLonger(dt: number, tick: number): StateSpace {
  const [num, den] = [tick, dt].map((one) => [(one * one) / 12, one / 2, 1]) as [number[], number[]]
  return sampledBilinear(fromPolynomials(num, den, null), tick)!
}

/**
 * A sampled system as one sees it who looks before the push of that sample comes: what answers at once shows the push before,
 * which is one more state for each input that does.
 */
export function lookedAtBefore(system: StateSpace): StateSpace {
  const direct = system.inputs.flatMap((_, j) => (system.d.some((row) => row[j] !== 0) ? [j] : []))
  if (direct.length === 0) return system
  return {
    ...system,
    a: [...system.a.map((row) => [...row, ...direct.map(() => 0)]), ...zeros(direct.length, system.a.length + direct.length)],
    b: [...system.b, ...direct.map((j) => system.inputs.map((_, i) => (i === j ? 1 : 0)))],
    c: system.c.map((row, i) => [...row, ...direct.map((j) => system.d[i]![j]!)]),
    d: zeros(system.outputs.length, system.inputs.length),
    states: [...system.states, ...direct.map((j) => `${system.inputs[j]!} before`)],
  }
}
