import { identity, multiply, zeros } from '../algebra'
import { sampledWithHold } from './discretize'
import { names } from './stateSpace'
import type { StateSpace } from './stateSpace'

/** A rest below this share of a sample is rounding. */
const negligible = 1e-9

/**
 * The exact sampled system behind a delay of its inputs, s, that need not be whole samples, for inputs held over each
 * sample. Behind the states stand the inputs on their way, the youngest first. Åström & Wittenmark, Computer-Controlled
 * Systems, 3rd ed., section 2.3 (from memory).
 */
export function sampledWithDelay(system: StateSpace, dt: number, delay: number): StateSpace {
  let whole = Math.floor(delay / dt)
  let part = delay - whole * dt
  if (part > (1 - negligible) * dt) [whole, part] = [whole + 1, 0]
  if (part < negligible * dt) part = 0
  const count = part > 0 ? whole + 1 : whole
  const [before, after] = [sampledWithHold(system, part), sampledWithHold(system, dt - part)]
  const [n, m] = [system.a.length, system.inputs.length]
  // the part of a sample that still has the older input, then that with the newer one
  const older = multiply(after.a, before.b)
  const newer = after.b
  const whatActs = (age: number) =>
    Array.from({ length: n }, (_, i) =>
      Array.from(
        { length: m },
        (__, j) => (age === whole ? newer[i]![j]! : 0) + (part > 0 && age === whole + 1 ? older[i]![j]! : 0),
      ),
    )
  const ages = Array.from({ length: count }, (_, k) => k + 1)
  const shift = ages.map((age) => identity(m).map((row) => ages.flatMap((one) => (one === age - 1 ? row : row.map(() => 0)))))
  const own = multiply(after.a, before.a)
  const shown = (age: number) => (age === count ? system.d : zeros(system.outputs.length, m))
  return {
    a: [
      ...own.map((row, i) => [...row, ...ages.flatMap((age) => whatActs(age)[i]!)]),
      ...shift.flatMap((rows) => rows.map((row) => [...new Array<number>(n).fill(0), ...row])),
    ],
    b: [...whatActs(0), ...ages.flatMap((age) => (age === 1 ? identity(m) : zeros(m, m)))],
    c: system.c.map((row, i) => [...row, ...ages.flatMap((age) => shown(age)[i]!)]),
    d: count === 0 ? system.d : zeros(system.outputs.length, m),
    dt,
    ...names(n + count * m, m, system.outputs.length),
    inputs: system.inputs,
    outputs: system.outputs,
  }
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
