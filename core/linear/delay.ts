import { identity, multiply, zeros } from '../algebra'
import { sampledWithHold } from './discretize'
import type { StateSpace } from './stateSpace'

/** A rest below this share of a sample is rounding. */
const negligible = 1e-9

/**
 * The exact sampled system behind a delay of its inputs, s, that need not be whole samples, for inputs held over each
 * sample. Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., section 2.3 (from memory).
 */
export function sampledWithDelay(system: StateSpace, dt: number, delay: number): StateSpace {
  const whole = Math.floor(delay / dt + negligible)
  const part = delay - whole * dt
  return behindSamples(part < negligible * dt ? sampledWithHold(system, dt) : sampledLate(system, dt, part), whole)
}

/** Behind a delay of part of a sample: for its first part each sample still has the input before, which is one more state. */
function sampledLate(system: StateSpace, dt: number, part: number): StateSpace {
  const [before, after] = [sampledWithHold(system, part), sampledWithHold(system, dt - part)]
  const m = system.inputs.length
  const own = multiply(after.a, before.a)
  const older = multiply(after.a, before.b)
  return {
    ...system,
    a: [...own.map((row, i) => [...row, ...older[i]!]), ...zeros(m, own.length + m)],
    b: [...after.b, ...identity(m)],
    c: system.c.map((row, i) => [...row, ...system.d[i]!]),
    d: zeros(system.outputs.length, m),
    dt,
    states: [...system.states, ...onTheirWay(system.inputs, 1)],
  }
}

/** A sampled system behind whole samples of delay: inputs on their way are states, the youngest first. */
export function behindSamples(system: StateSpace, count: number): StateSpace {
  if (count === 0) return system
  const [n, m] = [system.a.length, system.inputs.length]
  const wait = (count - 1) * m
  const nothing = (columns: number) => new Array<number>(columns).fill(0)
  const shifted = identity(wait).map((row) => [...nothing(n), ...row, ...nothing(m)])
  return {
    ...system,
    a: [...system.a.map((row, i) => [...row, ...nothing(wait), ...system.b[i]!]), ...zeros(m, n + wait + m), ...shifted],
    b: [...zeros(n, m), ...identity(m), ...zeros(wait, m)],
    c: system.c.map((row, i) => [...row, ...nothing(wait), ...system.d[i]!]),
    d: zeros(system.outputs.length, m),
    states: [...system.states, ...onTheirWay(system.inputs, count)],
  }
}

function onTheirWay(inputs: readonly string[], count: number): string[] {
  return Array.from({ length: count }, (_, k) => inputs.map((input) => `${input} ${k + 1} late`)).flat()
}

/**
 * A delay as a rational function of an order: the diagonal Padé approximant, highest power first, monic below. Golub & Van
 * Loan, Matrix Computations, 4th ed., section 9.3 (from memory). Good for frequencies up to about the order over the delay.
 */
export function delayAsRational(
  delay: number,
  order: number,
): { readonly num: readonly number[]; readonly den: readonly number[] } {
  // coefficients of (s delay)^k, from the highest power: each follows from the one above
  const coefficients = [1]
  for (let k = order; k > 0; k--) coefficients.push((coefficients.at(-1)! * (2 * order - k + 1) * k) / ((order - k + 1) * delay))
  return { num: coefficients.map((value, i) => ((order - i) % 2 === 0 ? value : -value)), den: coefficients }
}
