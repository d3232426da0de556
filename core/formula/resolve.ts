import type { Part, Problem } from '../document'
import { replaceAll } from '../document'
import { parseFormula, unknownName } from './parseFormula'

/** A number of the document that is written as a formula: '= 2 * armLength'. */
export function isFormula(value: unknown): value is string {
  return typeof value === 'string' && value.trimStart().startsWith('=')
}

export interface Resolved<Root> {
  /** The document with every formula replaced by its number; what has a problem keeps its text. */
  readonly document: Root
  readonly problems: readonly Problem[]
  /** Paths whose formula waits for a parameter that has a problem of its own: told there, not again here. */
  readonly waiting: ReadonlySet<string>
}

/**
 * Works out all formulas of a document. Parameters may use parameters, everything else may use parameters too; circles,
 * unknown names and divisions by zero are found with their place. `places` are the paths where a number may be a formula.
 */
export function resolveFormulas<Root extends { readonly [field: string]: unknown }>(
  document: Root,
  places: readonly { readonly path: string; readonly value: unknown }[],
): Resolved<Root> {
  const written = partsIn(document.parameters)
  const { known, stuck, problems, waiting } = parameterValues(written)
  const found = new Map<string, number>()
  for (const [name, value] of known) if (isFormula(written.get(name))) found.set(`parameters.${name}.value`, value)
  for (const { path, value } of places) {
    if (!isFormula(value)) continue
    const worked = evaluated(path, value, known, stuck, written)
    if (typeof worked === 'number') found.set(path, worked)
    else if (worked === undefined) waiting.add(path)
    else problems.push(worked)
  }
  return { document: replaceAll(document, found), problems, waiting }
}

/** What is written as the value of each parameter that is a part at all. */
function partsIn(parameters: unknown): ReadonlyMap<string, unknown> {
  if (typeof parameters !== 'object' || parameters === null) return new Map()
  return new Map(
    Object.entries(parameters).flatMap(([name, part]) =>
      typeof part === 'object' && part !== null ? [[name, (part as Part).value] as const] : [],
    ),
  )
}

interface ParameterValues {
  readonly known: Map<string, number>
  readonly stuck: Set<string>
  readonly problems: Problem[]
  readonly waiting: Set<string>
}

/** Depth first, with a stack of its own: a chain of thousands of parameters must not need as many calls. */
function parameterValues(written: ReadonlyMap<string, unknown>): ParameterValues {
  const [known, stuck, waiting] = [new Map<string, number>(), new Set<string>(), new Set<string>()]
  const problems: Problem[] = []
  const under = new Set<string>()
  const isSettled = (name: string) => known.has(name) || stuck.has(name)
  const settle = (name: string, text: string) => {
    const where = `parameters.${name}.value`
    const value = evaluated(where, text, known, stuck, written)
    if (typeof value === 'number') return void known.set(name, value)
    stuck.add(name)
    if (value === undefined) waiting.add(where)
    else problems.push(value)
  }
  for (const first of written.keys()) {
    const stack = [first]
    while (stack.length > 0) {
      const name = stack.at(-1)!
      const value = written.get(name)
      if (isSettled(name)) {
        stack.pop()
      } else if (typeof value === 'number') {
        known.set(name, value)
      } else if (!isFormula(value)) {
        stuck.add(name)
      } else if (under.has(name)) {
        under.delete(name)
        stack.pop()
        settle(name, value)
      } else {
        under.add(name)
        const parsed = parseFormula(body(value))
        for (const other of parsed.kind === 'formula' ? parsed.formula.names : []) {
          if (!written.has(other) || isSettled(other)) continue
          if (under.has(other)) {
            const circle = [...under]
            const round = [...circle.slice(circle.indexOf(other)), other]
            problems.push(goesRound(other, round))
            for (const one of round) {
              stuck.add(one)
              waiting.add(`parameters.${one}.value`)
            }
            break
          }
          stack.push(other)
        }
      }
    }
    under.clear()
  }
  return { known, stuck, problems, waiting }
}

/** Names of a circle that are told; more are not read. */
const mostTold = 12

function goesRound(name: string, round: readonly string[]): Problem {
  const told = round.length <= mostTold ? round : [...round.slice(0, mostTold - 2), '...', round.at(-1)!]
  const what = `The formulas go round in a circle: ${told.join(' = ')}.`
  return { where: `parameters.${name}.value`, what, remedy: 'Give one of them a number.' }
}

/** The number of a formula, what is wrong with it, or nothing where it waits for a parameter that has its own problem. */
function evaluated(
  where: string,
  text: string,
  known: ReadonlyMap<string, number>,
  stuck: ReadonlySet<string>,
  parameters: ReadonlyMap<string, unknown>,
): number | Problem | undefined {
  const formula = body(text)
  const parsed = parseFormula(formula)
  if (parsed.kind === 'wrong') return marked(where, formula, parsed)
  const missing = parsed.formula.names.find((name) => !parameters.has(name))
  if (missing !== undefined) return marked(where, formula, unknownName(formula, missing, [...parameters.keys()]))
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
