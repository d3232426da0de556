import { multiply, norm, solve, transpose } from '../algebra'
import type { Matrix } from '../algebra'
import { balanced } from './balanced'
import { inCoordinates } from './linearize'
import type { StateSpace } from './stateSpace'

/** Relative size below which a direction counts as not there. */
const rankTolerance = 1e-9

/**
 * The part of a continuous system that its inputs reach and its outputs show, in coordinates that are the outputs
 * and their derivatives: first the part that is reached (an orthonormal basis of b, a b, a² b, ...), then rows c, c a,
 * c a², ... as new states until they add nothing. Meant for few states and outputs; a high order loses digits.
 */
export function outputCoordinates(system: StateSpace): StateSpace {
  const reached = reachedPart(system)
  const rows: number[][] = []
  const names: string[] = []
  let candidates = reached.c.map((row, i) => ({ row: [...row], name: reached.outputs[i]! }))
  while (candidates.length > 0) {
    const taken: { row: number[]; name: string }[] = []
    for (const candidate of candidates) {
      if (!addsDirection(rows, candidate.row)) continue
      rows.push(candidate.row)
      names.push(candidate.name)
      taken.push(candidate)
    }
    candidates = taken.map(({ row, name }) => ({ row: multiply([row], reached.a)[0]!, name: `rate of ${name}` }))
  }
  const right = rightInverse(rows)
  if (right === undefined) return reached
  return tidy(inCoordinates(reached, right, rows, names))
}

/** Whether a push moves a signal at once, such as an acceleration. `push` only that one. */
export function answersAtOnce({ outputs, inputs, d }: StateSpace, signal: string, push?: string): boolean {
  const row = d[outputs.indexOf(signal)] ?? []
  return row.some((value, i) => value !== 0 && (push === undefined || inputs[i] === push))
}

/**
 * Which outputs an input moves at all, by index: those that some of d, c b, c a b, c a² b, ... shows. Cheap for systems of
 * many states.
 */
export function movedOutputs(system: StateSpace, input: number): number[] {
  // a fast contact beside a slow body would drown it
  const { a, b, c, d } = balanced(system)
  const moved = new Set(d.flatMap((row, i) => (row[input] === 0 ? [] : [i])))
  let direction = b.map((row) => row[input]!)
  for (let k = 0; k < a.length; k++) {
    const length = norm(direction)
    if (!(length > 0)) break
    direction = direction.map((value) => value / length)
    c.forEach((row, i) => {
      const shown = row.reduce((sum, value, j) => sum + value * direction[j]!, 0)
      if (Math.abs(shown) > rankTolerance * norm(row)) moved.add(i)
    })
    direction = a.map((row) => row.reduce((sum, value, j) => sum + value * direction[j]!, 0))
  }
  return [...moved].sort((one, other) => one - other)
}

function reachedPart(system: StateSpace): StateSpace {
  const basis: number[][] = []
  let columns = transpose(system.b)
  while (columns.length > 0) {
    const fresh = columns.map((column) => orthonormal(basis, column)).filter((direction) => direction !== undefined)
    columns = fresh.map((direction) => multiply([direction], transpose(system.a))[0]!)
  }
  const states = basis.map((_, i) => `x${i + 1}`)
  return inCoordinates(system, transpose(basis), basis, states)
}

/** Adds the part of `column` outside the basis, as a unit vector, and gives it; nothing if there is none. */
function orthonormal(basis: number[][], column: readonly number[]): number[] | undefined {
  const length = norm(column)
  let rest = [...column]
  for (let pass = 0; pass < 2; pass++) {
    for (const direction of basis) {
      const along = direction.reduce((total, value, i) => total + value * rest[i]!, 0)
      rest = rest.map((value, i) => value - along * direction[i]!)
    }
  }
  if (!(norm(rest) > rankTolerance * length)) return undefined
  const unit = rest.map((value) => value / norm(rest))
  basis.push(unit)
  return unit
}

function addsDirection(rows: readonly number[][], row: readonly number[]): boolean {
  const basis: number[][] = []
  for (const known of rows) orthonormal(basis, known)
  return orthonormal(basis, row) !== undefined
}

/** from with rows from = 1, in the span of the rows. */
function rightInverse(rows: Matrix): number[][] | undefined {
  const gram = solve(multiply(rows, transpose(rows)), rows)
  return gram === undefined ? undefined : transpose(gram)
}

/** Entries that are rounding noise beside their row become 0. */
function tidy(system: StateSpace): StateSpace {
  const clean = (m: Matrix) =>
    m.map((row) => {
      const most = Math.max(...row.map(Math.abs))
      return row.map((value) => (Math.abs(value) < 1e-11 * most ? 0 : value))
    })
  return { ...system, a: clean(system.a), b: clean(system.b), c: clean(system.c) }
}
