import { eigenvalues, identity, magnitude, multiply, plusMatrix, singularValues, times, transpose } from '../algebra'
import type { Matrix } from '../algebra'
import { refusedFor, done } from '../document'
import type { Outcome } from '../document'
import { inCoordinates } from './linearize'
import { gramians } from './norms'
import type { StateSpace } from './stateSpace'

export interface Reduced {
  readonly system: StateSpace
  /** How much each state counts between inputs and outputs, of the whole system, largest first. */
  readonly hankel: readonly number[]
  /** Largest gain of what is left out, at any frequency, where the system is stable: twice the sum of the values dropped. */
  readonly bound: number | undefined
}

/** By how much of its fastest pole a system that does not die out is shifted so that it does. */
const shiftShare = 1e-3

/**
 * A system with the `order` states that count most between its inputs and outputs, in balanced coordinates. B. C. Moore, IEEE
 * Transactions on Automatic Control 26 (1981); the bound: K. Glover, International Journal of Control 39 (1984). Integrators
 * and unstable poles are let in by weighing time with a falling exponential just steep enough, which leaves the bound open.
 * Refused for orders that are none, and where the Gramians cannot be found.
 */
export function balancedReduction(system: StateSpace, order: number): Outcome<Reduced> {
  const n = system.a.length
  if (!Number.isInteger(order) || order < 1 || order > n)
    return refusedFor('order', `The order ${order} is none of a system of ${n} states.`, `Give a whole number from 1 to ${n}.`)
  const { shifted, isShifted } = dyingOut(system)
  const found = gramians(shifted)
  if (found.kind === 'refused') return found
  const [reach, show] = [rootOf(found.value.controllability), rootOf(found.value.observability)]
  // showᵀ reach = u s vᵀ: states of equal reach and show
  const { u, values, v } = singularValues(multiply(transpose(show), reach))
  const kept = Math.min(order, values.filter((value) => value > 1e-14 * (values[0] ?? 0)).length)
  const columns = (m: Matrix) => m.map((row) => row.slice(0, kept))
  const scale = values.slice(0, kept).map((value) => 1 / Math.sqrt(value))
  const scaled = (m: Matrix) => m.map((row) => row.map((value, j) => value * scale[j]!))
  const from = scaled(multiply(reach, columns(v)))
  const to = transpose(scaled(multiply(show, columns(u))))
  const names = scale.map((_, i) => `x${i + 1}`)
  const dropped = values.slice(kept).reduce((sum, value) => sum + value, 0)
  return done({
    system: inCoordinates(system, from, to, names),
    hankel: values,
    bound: isShifted ? undefined : 2 * dropped,
  })
}

/** The system itself where it dies out, or one whose states are weighed by a falling exponential. */
function dyingOut(system: StateSpace): { shifted: StateSpace; isShifted: boolean } {
  const { a, b, dt } = system
  const poles = eigenvalues(a) ?? []
  const fastest = Math.max(1e-12, ...poles.map(magnitude))
  if (dt === null) {
    const slowest = Math.max(...poles.map(({ re }) => re))
    if (slowest < 0) return { shifted: system, isShifted: false }
    const shift = slowest + shiftShare * fastest
    return { shifted: { ...system, a: plusMatrix(a, times(identity(a.length), -shift)) }, isShifted: true }
  }
  const largest = Math.max(0, ...poles.map(magnitude))
  if (largest < 1) return { shifted: system, isShifted: false }
  const factor = (1 - shiftShare) / largest
  return { shifted: { ...system, a: times(a, factor), b: times(b, factor) }, isShifted: true }
}

/** f with f fᵀ = w for a symmetric w that is not negative. */
function rootOf(w: Matrix): number[][] {
  const { u, values } = singularValues(w)
  return u.map((row) => row.map((value, j) => value * Math.sqrt(values[j]!)))
}
