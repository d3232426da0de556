import { done, refused, refusedFor } from '../document'
import type { Outcome, Part, Problem } from '../document'
import { parseFormula } from '../formula'
import { partName } from '../kinds'

/** Characters of a line: a formula, its name and unit. */
const longestLine = 2500

/** Lines: more is a file, and no picture of it would be legible. */
const mostLines = 400

export interface TypedMachine {
  readonly machine: Part
  /** Numbers with names: parameters of the document. */
  readonly parameters: Readonly<Record<string, Part>>
}

/**
 * Equations of motion as people write them, one a line: `speed' = (thrust - drag * speed^2) / mass` is a state,
 * `speed(0) = 5` where it starts, `mass = 12` a parameter, `power = thrust * speed` an output; `#` starts a remark, and a
 * unit in brackets may end a line: `speed' = ... [m/s]`. Names that nothing defines are inputs.
 */
export function parseEquations(text: string): Outcome<TypedMachine> {
  const lines = text.split(/\r?\n/).map((line, i) => ({ at: `line ${i + 1}`, line: line.replace(/#.*/, '').trim() }))
  const used = lines.filter(({ line }) => line !== '')
  if (used.length > mostLines)
    return refusedFor('', `There are ${used.length} lines; at most ${mostLines} are read.`, 'Leave some out.')
  const problems: Problem[] = []
  const read = used.flatMap(({ at, line }) => {
    const found = readLine(at, line)
    if ('what' in found) problems.push(found)
    return 'what' in found ? [] : [found]
  })
  const states = read.filter(({ sort }) => sort === 'rate')
  const starts = read.filter(({ sort }) => sort === 'start')
  for (const { name, at } of starts)
    if (!states.some((state) => state.name === name))
      problems.push({
        where: at,
        what: `${name} starts somewhere, but nothing says how it changes.`,
        remedy: `Add a line ${name}' = ...`,
      })
  for (const [i, { name, sort, at }] of read.entries())
    if (read.findIndex((other) => other.name === name && other.sort === sort) !== i)
      problems.push({ where: at, what: `${name} is said twice.`, remedy: 'Keep one of the two lines.' })
  if (states.length === 0 && problems.length === 0)
    problems.push({ where: '', what: 'No line says how a state changes.', remedy: "Write one such as speed' = thrust / mass." })
  if (problems.length > 0) return refused(problems)
  const numbers = read.filter(({ sort }) => sort === 'number')
  const outputs = read.filter(({ sort }) => sort === 'value')
  const known = new Set([...states, ...numbers].map(({ name }) => name))
  const inputs = [...new Set([...states, ...outputs].flatMap(({ formula }) => namesIn(formula)))].filter(
    (name) => !known.has(name) && name !== 't',
  )
  return done({
    machine: {
      kind: 'equations',
      states: listed(states, ({ name, formula, unit }) => ({
        kind: 'equationState',
        unit,
        start: Number(starts.find((one) => one.name === name)?.formula ?? 0),
        rate: formula,
      })),
      inputs: Object.fromEntries(inputs.map((name) => [name, { kind: 'plainInput', unit: '', nominal: 0 }])),
      outputs: listed(outputs, ({ formula, unit }) => ({ kind: 'equationOutput', unit, value: formula })),
    },
    parameters: listed(numbers, ({ formula, unit }) => ({ kind: 'parameter', value: Number(formula), unit })),
  })
}

interface Line {
  readonly at: string
  readonly sort: 'rate' | 'start' | 'number' | 'value'
  readonly name: string
  readonly formula: string
  readonly unit: string
}

function readLine(at: string, line: string): Line | Problem {
  if (line.length > longestLine)
    return {
      where: at,
      what: `The line has ${line.length} characters; at most ${longestLine} are read.`,
      remedy: 'Give parts of it names of their own.',
    }
  const unit = /\[([^\]]*)\]\s*$/.exec(line)?.[1]?.trim() ?? ''
  const body = line.replace(/\[[^\]]*\]\s*$/, '')
  const cut = body.indexOf('=')
  if (cut < 0)
    return { where: at, what: `${line} is no equation: it has no =.`, remedy: "Write, for example, speed' = thrust / mass." }
  const [left, formula] = [body.slice(0, cut).trim(), body.slice(cut + 1).trim()]
  const name = left.replace(/'$|\(0\)$/, '').trim()
  if (!partName.test(name))
    return {
      where: at,
      what: `${left} is not a usable name.`,
      remedy: 'Names start with a small letter and hold letters and digits only.',
    }
  const parsed = parseFormula(formula)
  if (parsed.kind === 'wrong')
    return { where: at, what: `Column ${cut + 2 + parsed.column}: ${parsed.what}`, remedy: parsed.remedy }
  const isNumber = parsed.formula.names.length === 0
  if (left.endsWith('(0)') && !isNumber)
    return { where: at, what: `${name} starts at ${formula}, which is no number.`, remedy: 'Give a plain number.' }
  const sort = left.endsWith("'") ? 'rate' : left.endsWith('(0)') ? 'start' : isNumber ? 'number' : 'value'
  // a start or a parameter is worked out at once: 2 * pi is a number too
  const worked = sort === 'start' || sort === 'number' ? String(parsed.formula.value(() => 0)) : formula
  return { at, sort, name, formula: worked, unit }
}

function namesIn(formula: string): readonly string[] {
  const parsed = parseFormula(formula)
  return parsed.kind === 'formula' ? parsed.formula.names : []
}

function listed(lines: readonly Line[], part: (line: Line) => Part): Record<string, Part> {
  return Object.fromEntries(lines.map((line) => [line.name, part(line)]))
}
