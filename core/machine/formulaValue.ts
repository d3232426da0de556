import type { Scalar } from '../expression'
import { assert, partsIn } from '../document'
import type { Part, Problem } from '../document'
import { marked, parseFormula, unknownName } from '../formula'
import type { Read } from './read'

/** Names of the constants that a machine or a law has of its own. */
export function constantNames({ constants }: Readonly<Record<string, unknown>>): string[] {
  return Object.keys(partsIn(constants))
}

/** The value of a checked formula of a machine: its owner's names first, then the machine's constants. */
export function formulaValue(text: string, named: (name: string) => Scalar | undefined, machine: Part, read: Read): Scalar {
  const parsed = parseFormula(text)
  assert(parsed.kind === 'formula', `The formula ${text} of a checked machine can be read.`)
  return parsed.formula.value((name) => {
    const own = named(name)
    if (own !== undefined) return own
    assert(name in ((machine.constants ?? {}) as object), `The formula ${text} knows ${name}.`)
    return read(`constants.${name}.value`)
  })
}

/** What is wrong with a formula, with its column, given the names that it may use. */
export function formulaProblems(where: string, text: string, known: readonly string[], sort: string): Problem[] {
  const parsed = parseFormula(text)
  if (parsed.kind === 'wrong') return [marked(where, text, parsed)]
  return parsed.formula.names
    .filter((name) => !known.includes(name))
    .slice(0, 1)
    .map((name) => marked(where, text, unknownName(text, name, known, sort)))
}
