import { balancingScales, inScales, transpose } from '../algebra'
import { log } from '../expression'
import type { StateSpace } from './stateSpace'

/** A system in states scaled by powers of 2, so that no unit of theirs drowns another: x = scales z. Nothing is rounded. */
export function balanced(system: StateSpace): StateSpace & { readonly scales: Float64Array } {
  const { a, b, c } = system
  const scales = balancingScales(a, b, c)
  return {
    ...system,
    a: inScales(a, scales),
    b: b.map((row, i) => row.map((value) => value / scales[i]!)),
    c: c.map((row) => row.map((value, j) => value * scales[j]!)),
    scales,
  }
}

/** Balanced, with inputs and outputs in units of their own as well; `inUnits` brings a system of these inputs and outputs back. */
export function inLikeSizes(system: StateSpace): {
  readonly scaled: StateSpace
  readonly inUnits: (of: StateSpace) => StateSpace
} {
  const { scales: _, ...states } = balanced(system)
  const size = (values: readonly number[]) => powerOf2(Math.max(0, ...values.map(Math.abs)))
  const width = system.inputs.length
  const direct = transpose(system.d, width)
  const inputs = transpose(states.b, width).map((column, j) => size(column) ?? size(direct[j]!) ?? 1)
  const outputs = states.c.map((row, i) => size(row) ?? size(system.d[i]!) ?? 1)
  const times = (of: StateSpace, power: 1 | -1): StateSpace => ({
    ...of,
    b: of.b.map((row) => row.map((value, j) => value * inputs[j]! ** power)),
    c: of.c.map((row, i) => row.map((value) => value * outputs[i]! ** power)),
    d: of.d.map((row, i) => row.map((value, j) => value * inputs[j]! ** power * outputs[i]! ** power)),
  })
  return { scaled: times(states, -1), inUnits: (of) => times(of, 1) }
}

/** The nearest below: to scale by it rounds nothing. */
function powerOf2(value: number): number | undefined {
  return value > 0 && Number.isFinite(value) ? 2 ** Math.floor(log(value) / Math.LN2) : undefined
}
