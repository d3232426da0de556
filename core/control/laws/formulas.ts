import { isNode, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { assert } from '../../document'
import type { Problem } from '../../document'
import { marked, parseCondition, parseFormula, unknownName } from '../../formula'
import type { Condition } from '../../formula'
import { parts } from '../../kinds'
import { constant } from '../../machine'
import type { LawInputs, LawSettings } from '../law'

/** What formulas of a law may name beside its own states and constants: all from where the machine rests. */
export const lawWords = ['error', 'reference', 'measured', 'rate', 'dt'] as const

/** Constants that the formulas of a law use by name; the parameters of the document join them. */
export const lawConstants = { constants: parts({ label: 'constants', kinds: [constant], optional: true }) } as const

type Named = Readonly<Record<string, { readonly value?: unknown }>>

/** Looks names up for the formulas of one sample. */
export function lawLookup(inputs: LawInputs, own: Readonly<Record<string, Scalar>>, { constants }: LawSettings) {
  const words: Record<string, Scalar> = {
    error: inputs.error,
    reference: inputs.reference,
    measured: sub(inputs.reference, inputs.error),
    rate: inputs.rate,
    dt: inputs.dt,
  }
  return (name: string): Scalar => {
    const found = own[name] ?? words[name] ?? ((constants ?? {}) as Named)[name]?.value
    assert(typeof found === 'number' || (typeof found === 'object' && isNode(found as Scalar)), `A checked law knows ${name}.`)
    return found as Scalar
  }
}

/** A formula of a checked law. */
export function lawFormula(text: unknown, lookup: (name: string) => Scalar): Scalar {
  const parsed = parseFormula(text as string)
  assert(parsed.kind === 'formula', 'The formulas of a checked law can be read.')
  return parsed.formula.value(lookup)
}

/** A condition of a checked law. */
export function lawCondition(text: unknown): Condition {
  const parsed = parseCondition(text as string)
  assert(parsed.kind === 'condition', 'The conditions of a checked law can be read.')
  return parsed.condition
}

/** What is wrong with a formula or condition of a law. */
export function lawTextProblems(where: string, text: string, known: readonly string[], sort: 'formula' | 'condition'): Problem[] {
  const parsed = sort === 'formula' ? parseFormula(text) : parseCondition(text)
  if (parsed.kind === 'wrong') return [marked(where, text, parsed)]
  const names = parsed.kind === 'formula' ? parsed.formula.names : parsed.condition.names
  const stranger = names.find((name) => !known.includes(name))
  return stranger === undefined ? [] : [marked(where, text, unknownName(text, stranger, known, 'name'))]
}
