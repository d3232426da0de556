import type { Part, Problem } from '../document'
import { replaceAt } from '../document'
import { parseFormula, unknownName } from './parseFormula'

/** A number of the document that is written as a formula: '= 2 * armLength'. */
export function isFormula(value: unknown): value is string {
  return typeof value === 'string' && value.trimStart().startsWith('=')
}

export interface Resolved<Root> {
  /** The document with every formula replaced by its number; what has a problem keeps its text. */
  readonly document: Root
  readonly problems: readonly Problem[]
}

/**
 * Works out all formulas of a document. Parameters may use parameters, everything else may use parameters too; circles,
 * unknown names and divisions by zero are found with their place. `places` are the paths where a number may be a formula.
 */
export function resolveFormulas<Root extends { readonly [field: string]: unknown }>(
  document: Root,
  places: readonly { readonly path: string; readonly value: unknown }[],
): Resolved<Root> {
  const parameters = (document.parameters ?? {}) as Readonly<Record<string, Part>>
  const known = new Map<string, number>()
  const problems: Problem[] = []
  const stuck = new Set<string>()
  for (const name of Object.keys(parameters)) parameterValue(name, parameters, known, stuck, [], problems)
  let resolved = document
  for (const [name, value] of known)
    if (isFormula(parameters[name]!.value)) resolved = replaceAt(resolved, `parameters.${name}.value`, value)
  for (const { path, value } of places) {
    if (!isFormula(value)) continue
    const found = evaluated(path, value, known, stuck, Object.keys(parameters))
    if (typeof found === 'number') resolved = replaceAt(resolved, path, found)
    else if (found !== undefined) problems.push(found)
  }
  return { document: resolved, problems }
}

function parameterValue(
  name: string,
  parameters: Readonly<Record<string, Part>>,
  known: Map<string, number>,
  stuck: Set<string>,
  under: readonly string[],
  problems: Problem[],
): void {
  if (known.has(name) || stuck.has(name)) return
  const value = parameters[name]!.value
  const where = `parameters.${name}.value`
  if (typeof value === 'number') return void known.set(name, value)
  if (under.includes(name)) {
    const round = [...under.slice(under.indexOf(name)), name].join(' = ')
    problems.push({ where, what: `The formulas go round in a circle: ${round}.`, remedy: 'Give one of them a number.' })
    for (const one of under) stuck.add(one)
    return
  }
  if (!isFormula(value)) return void stuck.add(name)
  const parsed = parseFormula(body(value))
  if (parsed.kind === 'formula')
    for (const other of parsed.formula.names)
      if (other in parameters) parameterValue(other, parameters, known, stuck, [...under, name], problems)
  if (stuck.has(name)) return
  const found = evaluated(where, value, known, stuck, Object.keys(parameters))
  if (typeof found === 'number') known.set(name, found)
  else {
    stuck.add(name)
    if (found !== undefined) problems.push(found)
  }
}

/** The number of a formula, what is wrong with it, or nothing where it waits for a parameter that has its own problem. */
function evaluated(
  where: string,
  text: string,
  known: ReadonlyMap<string, number>,
  stuck: ReadonlySet<string>,
  names: readonly string[],
): number | Problem | undefined {
  const formula = body(text)
  const parsed = parseFormula(formula)
  if (parsed.kind === 'wrong') return marked(where, formula, parsed)
  const missing = parsed.formula.names.find((name) => !names.includes(name))
  if (missing !== undefined) return marked(where, formula, unknownName(formula, missing, names))
  if (parsed.formula.names.some((name) => stuck.has(name))) return undefined
  const value = parsed.formula.value((name) => known.get(name)!) as number
  if (Number.isFinite(value)) return value
  const what = `The formula ${formula} has no finite value: it is ${value}.`
  return { where, what, remedy: 'Look for a division by zero, or a root or logarithm of a negative number.' }
}

function body(text: string): string {
  return text.trim().slice(1).trim()
}

/** A problem of a formula, its place named by the column. */
export function marked(
  where: string,
  formula: string,
  { column, what, remedy }: { column: number; what: string; remedy: string },
): Problem {
  return { where, what: `In the formula ${formula}, column ${column}: ${what}`, remedy }
}
