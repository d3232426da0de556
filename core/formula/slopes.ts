import { findAt, partsIn } from '../document'
import type { Document } from '../document'
import { Graph, tapeOf } from '../expression'
import type { Scalar } from '../expression'
import { parseFormula } from './parseFormula'
import { isFormula } from './resolve'

/** Numbers of a document that are formulas over its parameters. */
export interface OverParameters {
  /** Paths of these numbers. */
  readonly paths: readonly string[]
  /** The parameters that are plain numbers, by name, and their values. */
  readonly parameters: ReadonlyMap<string, number>
  /** All of these numbers where some parameters have other values. */
  values(other: ReadonlyMap<string, number>): readonly number[]
  /** [i][j] = how number i changes with parameter j, exact, where some parameters have other values. */
  slopes(other: ReadonlyMap<string, number>): readonly (readonly number[])[]
}

/** What numbers at some places depend on, of a document whose formulas were checked. */
export function overParameters(written: Document, places: readonly string[]): OverParameters {
  const parts = partsIn(written.parameters)
  const plain = Object.keys(parts).filter((name) => typeof parts[name]!.value === 'number')
  const graph = new Graph()
  const known = new Map<string, Scalar>(plain.map((name, i) => [name, graph.slot(i)]))
  const valueOf = (text: string): Scalar => {
    const parsed = parseFormula(text.trim().slice(1).trim())
    return parsed.kind === 'formula' ? parsed.formula.value(lookup) : NaN
  }
  const lookup = (name: string): Scalar => {
    const value = known.get(name) ?? valueOf(String(parts[name]?.value))
    known.set(name, value)
    return value
  }
  const formulas = places.flatMap((path) => {
    const text = findAt(written, path)
    return isFormula(text) ? [{ path, value: valueOf(text) }] : []
  })
  const tape = tapeOf(formulas.map(({ value }) => value))
  const now = new Map(plain.map((name) => [name, parts[name]!.value as number]))
  const slots = plain.map((_, i) => i)
  const at = (other: ReadonlyMap<string, number>) => plain.map((name) => other.get(name) ?? now.get(name)!)
  return {
    paths: formulas.map(({ path }) => path),
    parameters: now,
    values: (other) => tape.values(at(other)),
    slopes: (other) => tape.jacobian(slots, at(other)),
  }
}
