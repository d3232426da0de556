import { identity, multiply, solve, times, transpose, plusMatrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { fromPolynomials } from '../linear'
import type { StateSpace } from '../linear'

/** How many samples back a model looks: y(k) + a1 y(k-1) + ... = b1 u(k-1) + ... + e(k). */
export interface ArxOrders {
  /** Of what was held, at least 1. */
  readonly outputs: number
  /** Of the push, at least 1. */
  readonly inputs: number
}

export interface ArxFit {
  readonly a: readonly number[]
  readonly b: readonly number[]
  /** The same as a sampled system from push to what is held. */
  readonly system: StateSpace
  /** Of what the model does not foretell from one sample to the next. */
  readonly residualVariance: number
  /** One a coefficient, a first. Meant where what is not foretold is white. */
  readonly standardErrors: readonly number[]
}

/** What the samples say of a coefficient below this share of the best known one is rounding. */
const leastShare = 1e-14

/**
 * The sampled model that foretells each sample of a record best from those before it, by least squares. L. Ljung, System
 * Identification, 2nd ed., sections 4.2 and 7.3. Values about rest, dt in s. Refused where the record is too short, or where
 * its push did not excite what the model could tell apart.
 */
export function arx(u: readonly number[], y: readonly number[], orders: ArxOrders, dt: number): Outcome<ArxFit> {
  const problem = unusable(u, y, orders)
  if (problem !== undefined) return problem
  const { rows, wanted } = regression(u, y, orders)
  const across = transpose(rows)
  const information = multiply(across, rows)
  const inverse = solve(information, identity(information.length), leastShare)
  if (inverse === undefined)
    return refusedFor(
      'u',
      'The push of this record did not excite the machine enough to tell these coefficients apart.',
      'Ask for fewer of them, or let the push change more often.',
    )
  const theta = multiply(
    inverse,
    multiply(
      across,
      wanted.map((value) => [value]),
    ),
  ).map((row) => row[0]!)
  const left = rows.map((row, k) => wanted[k]! - row.reduce((sum, value, i) => sum + value * theta[i]!, 0))
  const free = rows.length - theta.length
  const residualVariance = left.reduce((sum, value) => sum + value * value, 0) / free
  return done({
    ...coefficients(theta, orders, dt),
    residualVariance,
    standardErrors: theta.map((_, i) => Math.sqrt(residualVariance * inverse[i]![i]!)),
  })
}

export interface RecursiveChoices {
  /** 1 remembers all; below 1 each sample counts so much less than the next. */
  readonly forgetting: number
  /** What is thought of the coefficients beforehand: 0, with this variance. */
  readonly startVariance: number
}

/**
 * The same sample by sample: the coefficients after the whole record. K. J. Åström & B. Wittenmark, Adaptive Control, 2nd
 * ed., chapter 2.
 */
export function recursiveArx(
  u: readonly number[],
  y: readonly number[],
  orders: ArxOrders,
  dt: number,
  { forgetting, startVariance }: RecursiveChoices,
): Outcome<Pick<ArxFit, 'a' | 'b' | 'system'>> {
  const problem = unusable(u, y, orders)
  if (problem !== undefined) return problem
  if (!(forgetting > 0 && forgetting <= 1 && startVariance > 0))
    return refusedFor('forgetting', 'Forgetting lies above 0 and up to 1, the variance above 0.', 'Give 1 to remember all.')
  const { rows, wanted } = regression(u, y, orders)
  let theta = new Array<number>(rows[0]!.length).fill(0)
  let p = times(identity(theta.length), startVariance)
  rows.forEach((row, k) => {
    const seen = multiply(
      p,
      row.map((value) => [value]),
    ).map((one) => one[0]!)
    const scale = forgetting + row.reduce((sum, value, i) => sum + value * seen[i]!, 0)
    const surprise = wanted[k]! - row.reduce((sum, value, i) => sum + value * theta[i]!, 0)
    theta = theta.map((value, i) => value + (seen[i]! / scale) * surprise)
    const learnt = seen.map((one) => seen.map((other) => -(one * other) / scale))
    p = times(plusMatrix(p, learnt), 1 / forgetting)
  })
  return done(coefficients(theta, orders, dt))
}

function unusable(u: readonly number[], y: readonly number[], { outputs, inputs }: ArxOrders): Outcome<never> | undefined {
  if (![outputs, inputs].every((order) => Number.isInteger(order) && order >= 1))
    return refusedFor('orders', 'Orders are whole numbers from 1 up.', 'Give for example 2 and 2.')
  if (u.length !== y.length || ![...u, ...y].every(Number.isFinite))
    return refusedFor(
      'u',
      'Push and what is held are not two columns of equal length, all numbers.',
      'Give one value a sample of each.',
    )
  const needed = Math.max(outputs, inputs) + outputs + inputs + 1
  if (u.length < needed)
    return refusedFor('u', `${u.length} samples are too few for ${outputs + inputs} coefficients.`, `Give at least ${needed}.`)
  return undefined
}

/** Rows of [-y(k-1), ..., u(k-1), ...] and what they shall foretell. */
function regression(u: readonly number[], y: readonly number[], { outputs, inputs }: ArxOrders) {
  const first = Math.max(outputs, inputs)
  const ks = Array.from({ length: y.length - first }, (_, i) => first + i)
  const back = (values: readonly number[], k: number, count: number, sign: number) =>
    Array.from({ length: count }, (_, i) => sign * values[k - 1 - i]!)
  return { rows: ks.map((k) => [...back(y, k, outputs, -1), ...back(u, k, inputs, 1)]), wanted: ks.map((k) => y[k]!) }
}

function coefficients(theta: readonly number[], { outputs, inputs }: ArxOrders, dt: number) {
  const [a, b] = [theta.slice(0, outputs), theta.slice(outputs)]
  // both polynomials in z of the same degree
  const degree = Math.max(outputs, inputs)
  const padded = (values: readonly number[]) => [...values, ...new Array<number>(degree - values.length).fill(0)]
  return { a, b, system: fromPolynomials(padded(b), [1, ...padded(a)], dt) }
}
