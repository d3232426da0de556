import { eigenvalues, identity, magnitude, multiply, plusMatrix, singularValues, solve, times, transpose } from '../algebra'
import type { Matrix } from '../algebra'
import { atan, tan } from '../expression'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { highest } from './goldenSection'
import { lyapunov } from './lyapunov'
import { frequencyResponse, isStable } from './stateSpace'
import { complexSingularValues } from './structured'
import type { StateSpace } from './stateSpace'

export interface Gramians {
  readonly controllability: Matrix
  readonly observability: Matrix
}

const unstable = 'The system is not stable: it'
const stabilize = 'Close a loop that stabilizes it first.'

/** a w + w aᵀ + b bᵀ = 0 and aᵀ w + w a + cᵀ c = 0, or their sampled forms. Refused for a system that is not stable. */
export function gramians(system: StateSpace): Outcome<Gramians> {
  const { a, b, c, dt } = system
  if (!isStable(system)) return refusedFor('system', `${unstable} has no Gramians.`, stabilize)
  const controllability = lyapunov(a, multiply(b, transpose(b)), dt)
  if (controllability.kind === 'refused') return controllability
  const observability = lyapunov(transpose(a), multiply(transpose(c), c), dt)
  if (observability.kind === 'refused') return observability
  return done({ controllability: controllability.value, observability: observability.value })
}

export interface Norms {
  /** Rms of the outputs to white noise of unit density (variance); absent where it is infinite: a direct path in continuous time. */
  readonly h2?: number
  /** The largest gain over all frequencies and directions. */
  readonly hinf: number
  /** rad/s */
  readonly at: number
}

/** Refused for a system that is not stable. */
export function norms(system: StateSpace): Outcome<Norms> {
  const found = gramians(system)
  if (found.kind === 'refused') return refusedFor('system', `${unstable} has no finite norm.`, stabilize)
  const { c, d, dt } = system
  const direct = d.flat().some((value) => value !== 0)
  const spread = multiply(multiply(c, found.value.controllability), transpose(c))
  const square = spread.reduce(
    (total, row, i) => total + row[i]! + (dt === null ? 0 : d[i]!.reduce((sum, value) => sum + value * value, 0)),
    0,
  )
  const h2 = dt === null && direct ? {} : { h2: Math.sqrt(square) }
  return done({ ...h2, ...highestGain(system) })
}

/** Singular values of the response at w rad/s, largest first; none at a pole. */
export function gainsAt(system: StateSpace, w: number): readonly number[] | undefined {
  const response = frequencyResponse(system, w)
  if (response === undefined) return undefined
  return complexSingularValues(response)
}

const mostRounds = 40
/** Where the largest gain is known to this share. */
const close = 1e-9
const goldenSteps = 60

/**
 * Bruinsma & Steinbuch, Systems & Control Letters 14 (1990), from memory: a gain is passed where the Hamiltonian has
 * eigenvalues on the axis; the best point between two such is the next guess, and its hill is climbed.
 */
function highestGain(system: StateSpace): { hinf: number; at: number } {
  const { dt } = system
  const continuous = dt === null ? system : asContinuous(system, dt)
  const toOwn = (w: number) => (dt === null ? w : (2 * atan((w * dt) / 2)) / dt)
  const height = (w: number) => gainsAt(system, toOwn(w))?.[0] ?? 0
  const poles = eigenvalues(continuous.a) ?? []
  const sizes = poles.map(magnitude).filter((size) => size > 0)
  const starts = [0, ...poles.map(({ im }) => Math.abs(im)), ...sizes]
  let best = { hinf: 0, at: 0 }
  const look = (w: number) => {
    const gain = height(w)
    if (gain > best.hinf) best = { hinf: gain, at: w }
  }
  starts.forEach(look)
  if (dt !== null) look((2 / dt) * tan(Math.PI / 2 - 1e-9))
  const direct = singularValues(continuous.d).values[0] ?? 0
  if (direct > best.hinf) best = { hinf: direct, at: Infinity }
  for (let round = 0; round < mostRounds && best.hinf > 0; round++) {
    const crossings = axisCrossings(continuous, best.hinf * (1 + close))
    if (crossings.length === 0) break
    const before = best.hinf
    for (let i = 1; i < crossings.length; i++) look(highest(height, crossings[i - 1]!, crossings[i]!, goldenSteps))
    if (crossings.length === 1) look(highest(height, 0, crossings[0]! * 2, goldenSteps))
    if (best.hinf <= before * (1 + close)) break
  }
  return { hinf: best.hinf, at: dt === null ? best.at : toOwn(best.at) }
}

/** Frequencies at which some singular value is `gain`, rising. */
function axisCrossings({ a, b, c, d }: StateSpace, gain: number): number[] {
  const m = d[0]!.length
  const r = plusMatrix(times(identity(m), gain * gain), times(multiply(transpose(d), d), -1))
  const inverse = solve(r, identity(m), 0)
  if (inverse === undefined) return []
  const br = multiply(b, inverse)
  const own = plusMatrix(a, multiply(multiply(br, transpose(d)), c))
  const upper = multiply(br, transpose(b))
  const through = plusMatrix(identity(d.length), multiply(multiply(d, inverse), transpose(d)))
  const lower = multiply(multiply(transpose(c), through), c)
  const across = transpose(own)
  const hamiltonian = [
    ...own.map((row, i) => [...row, ...upper[i]!]),
    ...lower.map((row, i) => [...row.map((value) => -value), ...across[i]!.map((value) => -value)]),
  ]
  const all = eigenvalues(hamiltonian) ?? []
  const scale = Math.max(...all.map(magnitude))
  const onAxis = all.filter(({ re, im }) => im >= 0 && Math.abs(re) <= 1e-8 * Math.max(magnitude({ re, im }), 1e-8 * scale))
  return onAxis.map(({ im }) => im).sort((x, y) => x - y)
}

/** z = (1 + s dt/2)/(1 - s dt/2): the same gains at other frequencies. */
function asContinuous(system: StateSpace, dt: number): StateSpace {
  const { a, b, c, d } = system
  const n = a.length
  const inverse = solve(plusMatrix(a, identity(n)), identity(n), 0)!
  const own = times(multiply(inverse, plusMatrix(a, times(identity(n), -1))), 2 / dt)
  const root = 2 / Math.sqrt(dt)
  const bn = times(multiply(inverse, b), root)
  const cn = times(multiply(c, inverse), root)
  return { ...system, a: own, b: bn, c: cn, d: plusMatrix(d, times(multiply(multiply(c, inverse), b), -1)), dt: null }
}
