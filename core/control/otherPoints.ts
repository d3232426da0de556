import type { Part } from '../document'
import { poseCloser } from '../machine'
import type { MechanismLayers } from '../machine'
import { mechanismPoint } from './mechanismPoint'
import type { MechanismPoint } from './mechanismPoint'

/** Coordinates that are tried in other places; with more, trying takes too long. */
const mostTried = 5
/** rad or m: points nearer than this are one. */
const apart = 1e-3
/** Turns and travels by which the search starts elsewhere. */
const turns = [Math.PI / 2, Math.PI, -Math.PI / 2]
const travels = [0.3, -0.3]
/** rad or m: no place where anything balances but by being neutral. */
const oddShift = 0.37

export interface OtherPoint {
  /** Coordinates that are elsewhere, with their values. */
  readonly differs: readonly { readonly name: string; readonly unit: string; readonly value: number }[]
  readonly inputs: readonly number[]
}

/**
 * Where else a mechanism rests under the same conditions: Newton's method from other starts of each coordinate that is
 * not held. Points that differ by whole turns are one. What is not found may still exist.
 */
export function otherPoints(
  machine: Part,
  layers: MechanismLayers,
  { states, form, held }: MechanismPoint,
): readonly OtherPoint[] {
  const { positions, pairs } = form.assembly
  const free = positions.map((_, i) => i).filter((i) => pairs[i] !== undefined && !held.includes(positions[i]!.name))
  if (free.length === 0 || free.length > mostTried) return []
  const known: (readonly number[])[] = [states.slice(0, positions.length)]
  const found: OtherPoint[] = []
  const close = poseCloser(machine, held)
  /** The point reached with one coordinate elsewhere; what is held stays, also where chains would rather move it. */
  const from = (i: number, shift: number) => {
    const q = close(known[0]!.map((value, k) => (k === i ? value + shift : value)))
    return q === undefined ? undefined : mechanismPoint(machine, layers, { q, held })
  }
  const value = (point: ReturnType<typeof from>, i: number) => (point?.kind === 'done' ? point.value.states[i]! : NaN)
  // a coordinate that rests wherever it is put has no other point, but all of them
  const apartOnes = free.filter((i) => !(Math.abs(value(from(i, oddShift), i) - known[0]![i]! - oddShift) <= apart))
  for (const i of apartOnes)
    for (const shift of positions[i]!.unit === 'm' ? travels : turns) {
      const point = from(i, shift)
      if (point === undefined || point.kind === 'refused') continue
      const there = point.value.states.slice(0, positions.length)
      if (known.some((one) => isSame(one, there, form))) continue
      known.push(there)
      const differs = free.filter((k) => distance(known[0]![k]!, there[k]!, positions[k]!.unit) > apart)
      found.push({
        differs: differs.map((k) => ({
          name: positions[k]!.name,
          unit: positions[k]!.unit,
          value: withinTurn(there[k]!, positions[k]!.unit),
        })),
        inputs: point.value.inputs,
      })
    }
  return found
}

function isSame(a: readonly number[], b: readonly number[], { assembly }: MechanismPoint['form']): boolean {
  return a.every((value, i) => distance(value, b[i]!, assembly.positions[i]!.unit) <= apart)
}

function distance(a: number, b: number, unit: string): number {
  return Math.abs(withinTurn(a - b, unit))
}

/** An angle between -pi and pi. */
function withinTurn(value: number, unit: string): number {
  return unit === 'rad' ? value - 2 * Math.PI * Math.round(value / (2 * Math.PI)) : value
}
