import Joi from 'joi'
import { done, partsIn, refused, refusedFor, valueOfJson } from '../document'
import type { Outcome, Part, Problem } from '../document'
import { partName } from '../kinds'
import type { StateSpace } from '../linear'
import { parseNumberRows } from './numberRows'

type Rows = readonly (readonly (number | string)[])[]

interface Matrices {
  readonly a: Rows
  readonly b: Rows
  readonly c?: Rows
  readonly d?: Rows
  readonly dt?: number | null
  readonly states?: readonly string[]
  readonly inputs?: readonly string[]
  readonly outputs?: readonly string[]
}

/** Characters, and rows or columns of a matrix: a larger model is reduced before it is looked at. */
const mostCharacters = 5_000_000
const mostRows = 400

const entry = Joi.alternatives(Joi.number().strict(), Joi.string())
const rows = Joi.array().items(Joi.array().items(entry))
const nameList = Joi.array().items(Joi.string().max(80))
const schema = Joi.object({
  a: rows.required(),
  b: rows.required(),
  c: rows,
  d: rows,
  dt: Joi.number().strict().greater(0).allow(null),
  states: nameList,
  inputs: nameList,
  outputs: nameList,
}).unknown(true)

/**
 * A linear model as text: JSON with a, b, c, d, dt, states, inputs, outputs (what `linearize` answers), or blocks of
 * numbers under the lines A, B, C, D, with lines `states: speed [m/s], heading [rad]`, `inputs: ...`, `outputs: ...` and
 * `sample time: 0.02`. C and D may be left out: then every state is looked at. Names that are no names of parts are
 * made into such.
 */
export function parseMatrices(text: string): Outcome<Part> {
  if (text.length > mostCharacters)
    return refusedFor(
      '',
      `The text has ${text.length} characters; at most ${mostCharacters} are read.`,
      'Reduce the model first.',
    )
  const read = text.trimStart().startsWith('{') ? fromJson(text) : fromBlocks(text)
  return read.kind === 'refused' ? read : machineOf(read.value)
}

/** A linear model as blocks of text that `parseMatrices` reads back. */
export function matricesToText({ a, b, c, d, dt, states, inputs, outputs }: StateSpace): string {
  const block = (name: string, matrix: readonly (readonly number[])[]) => [name, ...matrix.map((row) => row.join(', '))]
  const lines = [
    `states: ${states.join(', ')}`,
    `inputs: ${inputs.join(', ')}`,
    `outputs: ${outputs.join(', ')}`,
    ...(dt === null ? [] : [`sample time: ${dt}`]),
    ...[block('A', a), block('B', b), block('C', c), block('D', d)].flat(),
  ]
  return `${lines.join('\n')}\n`
}

function fromJson(text: string): Outcome<Matrices> {
  const read = valueOfJson(text, '', 'Correct it at the place named, or paste plain blocks of numbers.')
  if (read.kind === 'refused') return read
  const { value } = read
  const large = Object.entries(partsIn(value)).find(([, matrix]) => isTooLarge(matrix))
  if (large !== undefined) return tooLarge(large[0])
  const checked = schema.validate(value, { convert: false })
  if (checked.error !== undefined)
    return refusedFor(
      checked.error.details[0]!.path.join('.'),
      `${checked.error.message.replaceAll('"', '`')}.`,
      'Give a, b, c, d as arrays of rows of numbers.',
    )
  return done(checked.value as Matrices)
}

function fromBlocks(text: string): Outcome<Matrices> {
  const found: Record<string, string[]> = {}
  const said: Record<string, string> = {}
  let block: string | undefined
  for (const line of text.split(/\r?\n/)) {
    const heading = /^\s*([A-Da-d])\s*[:=]?\s*$/.exec(line)?.[1]
    const list = /^\s*(states|inputs|outputs|sample time)\s*[:=]\s*(.*)$/i.exec(line)
    if (heading !== undefined) {
      block = heading.toLowerCase()
      found[block] = []
    } else if (list !== null) said[list[1]!.toLowerCase()] = list[2]!
    else if (line.trim() !== '' && block === undefined)
      return refusedFor(
        '',
        `${line.trim()} stands before any matrix.`,
        'Start with a line A, then the rows of A, then B, and so on.',
      )
    else if (block !== undefined) found[block]!.push(line)
  }
  const read: Record<string, Rows> = {}
  const problems: Problem[] = []
  for (const [name, lines] of Object.entries(found)) {
    const parsed = parseNumberRows(lines.join('\n'))
    if (parsed.kind === 'refused')
      problems.push(...parsed.problems.map((one) => ({ ...one, where: `${name.toUpperCase()}, ${one.where}` })))
    else if (isTooLarge(parsed.value)) return tooLarge(name.toUpperCase())
    else read[name] = parsed.value
  }
  if (read.a === undefined || read.b === undefined)
    problems.push({ where: '', what: 'A and B are wanted.', remedy: 'Write a line A and the rows of A under it, then B.' })
  const dt = said['sample time'] === undefined ? null : Number.parseFloat(said['sample time'])
  if (dt !== null && !(dt > 0))
    problems.push({
      where: 'sample time',
      what: `The sample time is ${said['sample time']}.`,
      remedy: 'Give seconds, more than 0.',
    })
  if (problems.length > 0) return refused(problems)
  const names = (list: string) =>
    said[list]
      ?.split(/[,;]/)
      .map((one) => one.trim())
      .filter((one) => one !== '')
  const lists = Object.fromEntries(
    ['states', 'inputs', 'outputs'].flatMap((list) => (names(list) === undefined ? [] : [[list, names(list)!]])),
  )
  return done({ ...read, ...lists, dt } as unknown as Matrices)
}

function isTooLarge(matrix: unknown): boolean {
  return Array.isArray(matrix) && (matrix.length > mostRows || matrix.some((row) => Array.isArray(row) && row.length > mostRows))
}

function tooLarge(where: string): Outcome<never> {
  return refusedFor(where, `The matrix ${where} has more than ${mostRows} rows or columns.`, 'Reduce the model first.')
}

function machineOf({ a, b, c = [], d = [], dt, states, inputs, outputs }: Matrices): Outcome<Part> {
  const [n, m, p] = [a.length, b[0]?.length ?? 0, c.length]
  const groups = [
    { group: 'states', wanted: n, given: states, letter: 'x' },
    { group: 'inputs', wanted: m, given: inputs, letter: 'u' },
    { group: 'outputs', wanted: p, given: p === 0 ? undefined : outputs, letter: 'y' },
  ] as const
  const problems = groups.flatMap(({ group, wanted, given }): Problem[] =>
    given === undefined || given.length === wanted
      ? []
      : [
          {
            where: group,
            what: `${given.length} ${group} are named; the matrices have ${wanted}.`,
            remedy: 'Name each, or leave the names out.',
          },
        ],
  )
  if (problems.length > 0) return refused(problems)
  const taken = new Set<string>()
  const named = ({ wanted, given, letter }: (typeof groups)[number], kind: string) =>
    Object.fromEntries(
      Array.from({ length: wanted }, (_, i) => {
        const [, words, unit] = /^([^[]*)(?:\[([^\]]*)\])?/.exec(given?.[i] ?? `${letter}${i + 1}`)!
        return [freshName(words!.trim(), `${letter}${i + 1}`, taken), { kind, unit: unit?.trim() ?? '', nominal: 0 }]
      }),
    )
  return done({
    kind: 'matrices',
    ...(dt === null || dt === undefined ? {} : { sampleTime: dt }),
    states: named(groups[0], 'nominalState'),
    inputs: named(groups[1], 'plainInput'),
    outputs: named(groups[2], 'nominalSignal'),
    a,
    b,
    c,
    d: p > 0 && d.length === 0 ? c.map(() => new Array<number>(m).fill(0)) : d,
  })
}

/** `boom.angle` becomes boomAngle; what cannot be a name gets its letter and number. */
function freshName(words: string, otherwise: string, taken: Set<string>): string {
  const joined = words.replace(/[^A-Za-z0-9]+(.)?/g, (_, next: string | undefined) => (next ?? '').toUpperCase())
  const small = joined.charAt(0).toLowerCase() + joined.slice(1)
  const base = partName.test(small) && small !== 't' ? small : otherwise
  let name = base
  for (let i = 2; taken.has(name); i++) name = `${base}${i}`
  taken.add(name)
  return name
}
