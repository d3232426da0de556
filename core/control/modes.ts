import { complex, eigenvalues, magnitude, norm, solveComplex, transpose } from '../algebra'
import type { Complex } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { continuousPole } from '../linear'
import type { StateSpace } from '../linear'

export interface Mode {
  /** rad/s; of a sampled system the continuous one that gives the same samples. */
  readonly pole: Complex
  /** rad/s; 0 for a mode that does not swing */
  readonly frequency: number
  /** Share of the critical damping, for a mode that swings. */
  readonly damping: number
  /** s until it falls (or grows, where it is unstable) by e; absent where it does neither */
  readonly timeConstant?: number
  /** The state that has the largest share in it, whatever the units; of a place and its rate the place. */
  readonly owner: string
  /** How far each coordinate moves, the largest 1, with its phase. */
  readonly shape: readonly { readonly name: string; readonly size: number; readonly phase: Complex }[]
}

/** Natural modes of a system in independent coordinates: one for each real pole and each pair, slowest first. */
export function modes(system: StateSpace): Outcome<readonly Mode[]> {
  const all = eigenvalues(system.a)
  if (all === undefined)
    return refusedFor('modes', 'The poles cannot be found: entries are not finite.', 'Check the operating point.')
  const turned = { ...system, a: transpose(system.a) }
  const upper = all.filter(({ im }) => im >= 0).map((pole) => modeAt(system, turned, pole))
  return done(upper.sort((a, b) => magnitude(a.pole) - magnitude(b.pole)))
}

/** Share of a pole below which its real part is what rounding left of none. */
const rounding = 1e-12

function modeAt(system: StateSpace, turned: StateSpace, own: Complex): Mode {
  const pole = continuousPole(own, system.dt)
  const size = magnitude(pole)
  const swings = pole.im > 1e-9 * size
  const still = size < 1e-7
  const shape = shapeOf(system, own)
  return {
    pole,
    frequency: swings ? size : 0,
    damping: !swings ? 1 : Math.abs(pole.re) < rounding * size ? 0 : -pole.re / size,
    ...(still || Math.abs(pole.re) < 1e-12 ? {} : { timeConstant: 1 / Math.abs(pole.re) }),
    owner: ownerOf(shape, shapeOf(turned, own)),
    shape,
  }
}

/** A rate counts for its place as long as it does not have clearly more of a mode: in a swing both have as much. */
const clearlyMore = 1.1

/**
 * The state with the largest participation factor, the product of its entries in the right and the left eigenvector, in which
 * units cancel. Pérez-Arriaga, Verghese & Schweppe, IEEE Transactions on Power Apparatus and Systems 101 (1982), from memory.
 */
function ownerOf(right: Mode['shape'], left: Mode['shape']): string {
  const shares = right.map(({ size }, i) => size * left[i]!.size)
  const total = shares.reduce((sum, share) => sum + share, 0)
  // a chain of integrators has one eigenvector for all: then it is what moves most
  const weights = total > 1e-9 ? shares : right.map(({ size }) => size)
  const best = (of: (name: string) => boolean) =>
    right.reduce((most, { name }, i) => (of(name) && (most < 0 || weights[i]! > weights[most]!) ? i : most), -1)
  const [any, place] = [best(() => true), best((name) => !/[rR]ate$/.test(name))]
  return right[place >= 0 && weights[any]! <= clearlyMore * weights[place]! ? place : any]!.name
}

/** The eigenvector by inverse iteration, a hair beside the pole so that the matrix can be solved. */
function shapeOf({ a, states }: StateSpace, pole: Complex): Mode['shape'] {
  const n = a.length
  const beside = complex(pole.re + 1e-7 * (1 + magnitude(pole)), pole.im + 1e-8)
  const shifted = a.map((row, i) => row.map((value, j) => (i === j ? complex(value - beside.re, -beside.im) : complex(value))))
  let v: Complex[][] = Array.from({ length: n }, (_, i) => [complex(1 + 0.1 * i)])
  for (let k = 0; k < 3; k++) {
    const next = solveComplex(shifted, v)
    if (next === undefined) break
    const most = Math.max(...next.map(([one]) => magnitude(one!)))
    v = next.map(([one]) => [complex(one!.re / most, one!.im / most)])
  }
  const coordinates = states.map((name, i) => ({ name, value: v[i]![0]! }))
  const most = Math.max(1e-300, ...coordinates.map(({ value }) => magnitude(value)))
  return coordinates.map(({ name, value }) => {
    const phase = complex(value.re / most, value.im / most)
    return { name, size: magnitude(phase), phase }
  })
}

/** How well one mode of a system can be moved and seen. */
export interface ModalMeasure {
  /** 1/s; of a sampled system the continuous one that gives the same samples. */
  readonly pole: Complex
  /** By input, and by output: 0 for not at all, 1 for along it alone. */
  readonly reached: readonly number[]
  readonly shown: readonly number[]
}

/**
 * How far each input lies along each mode, and each mode along each output: the cosines between left eigenvectors and columns
 * of b, and between rows of c and right eigenvectors. They depend on the units of the states. A. M. A. Hamdan & A. H. Nayfeh,
 * Journal of Guidance, Control and Dynamics 12 (1989), from memory. One for each real pole and each pair, slowest first.
 */
export function modalMeasures(system: StateSpace): Outcome<readonly ModalMeasure[]> {
  const all = eigenvalues(system.a)
  if (all === undefined)
    return refusedFor('modes', 'The poles cannot be found: entries are not finite.', 'Check the operating point.')
  const turned = { ...system, a: transpose(system.a) }
  const columns = transpose(system.b, system.inputs.length)
  const measured = all
    .filter(({ im }) => im >= 0)
    .map((pole): ModalMeasure => {
      const [left, right] = [shapeOf(turned, pole), shapeOf(system, pole)]
      return {
        pole: continuousPole(pole, system.dt),
        reached: columns.map((column) => along(column, left)),
        shown: system.c.map((row) => along(row, right)),
      }
    })
  return done(measured.sort((a, b) => magnitude(a.pole) - magnitude(b.pole)))
}

/** The cosine between a real row and a complex column. */
function along(row: readonly number[], shape: Mode['shape']): number {
  const [re, im] = row.reduce<readonly [number, number]>(
    ([x, y], value, i) => [x + value * shape[i]!.phase.re, y + value * shape[i]!.phase.im],
    [0, 0],
  )
  const length = norm(row) * norm(shape.map(({ size }) => size))
  return length === 0 ? 0 : magnitude(complex(re, im)) / length
}
