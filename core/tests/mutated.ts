import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { numbersFrom } from './randomGraph'

/** Documents that are right: what mutations begin from, and take parts from. */
export const rightDocuments: readonly unknown[] = ['demo', 'starters', 'core/tests/documents'].flatMap((folder) => {
  const path = join(import.meta.dirname, '../..', folder)
  return readdirSync(path)
    .filter((file) => file.endsWith('.json'))
    .sort()
    .map((file): unknown => JSON.parse(readFileSync(join(path, file), 'utf8')))
})

/** What no field expects everywhere: wrong sorts, extremes, names that mean something to the language. */
const hostileValues: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1.5,
  1e308,
  -1e308,
  5e-324,
  2 ** 53,
  '',
  ' ',
  '= 1',
  '= 1 / 0',
  '= a',
  '=',
  'a',
  '__proto__',
  'constructor',
  'toString',
  'x'.repeat(300),
  `= ${'-'.repeat(1990)}1`,
  `= ${'('.repeat(900)}1${')'.repeat(900)}`,
  'rate > 1 until rate < 0.5 for 1e99 s',
  'a.b.c.d',
  '\u0000',
  [],
  {},
  [[]],
  [null],
  [1, 2, 3],
  ['= 1', 0, 0],
  [[1, 2]],
  [[1, '= 2']],
  { kind: 'loop' },
  { kind: '__proto__' },
  { kind: null },
  { a: null },
  JSON.parse('{"__proto__": {"kind": "parameter", "value": 1, "unit": ""}}'),
]

const hostileNames = [
  '__proto__',
  'constructor',
  'toString',
  'a',
  'A',
  '0',
  '',
  'a b',
  'hasOwnProperty',
  'x'.repeat(41),
  'kind',
  't',
]

type Container = { [key: string]: unknown }

/** One right document with a few faults in it, the same for the same seed. */
export function mutatedDocument(seed: number): unknown {
  const next = numbersFrom(seed)
  for (let i = 0; i < 4; i++) next() // the first draws of neighbouring seeds are alike
  const pick = <Value>(list: readonly Value[]): Value => list[Math.floor(next() * list.length)]!
  const document = structuredClone(pick(rightDocuments)) as Container
  for (let faults = 1 + Math.floor(next() * 3); faults > 0; faults--) {
    const { owner, key } = somewhere(document, next)
    switch (Math.floor(next() * 8)) {
      case 0:
        remove(owner, key)
        break
      case 1:
        put(owner, pick(hostileNames), owner[key])
        remove(owner, key)
        break
      case 2:
        owner[key] = part(pick(rightDocuments), next)
        break
      case 3:
        put(owner, pick(hostileNames), part(document, next))
        break
      case 4:
        if (typeof owner[key] === 'number') owner[key] *= pick([-1, 0, 1e-9, 1e9, 1e300])
        else if (typeof owner[key] === 'string') owner[key] = pick([`${owner[key]}x`, owner[key].slice(1), `= ${owner[key]}`])
        else owner[key] = nested(owner[key], 1 + Math.floor(next() * 30))
        break
      default:
        owner[key] = structuredClone(pick(hostileValues))
    }
  }
  return document
}

/** A place anywhere in a document; deep ones as often as there are. */
function somewhere(document: Container, next: () => number): { owner: Container; key: string } {
  const places: { owner: Container; key: string }[] = []
  const visit = (owner: Container) => {
    for (const [key, value] of Object.entries(owner)) {
      places.push({ owner, key })
      if (typeof value === 'object' && value !== null) visit(value as Container)
    }
  }
  visit(document)
  return places[Math.floor(next() * places.length)] ?? { owner: document, key: 'title' }
}

function part(document: unknown, next: () => number): unknown {
  const { owner, key } = somewhere(document as Container, next)
  return structuredClone(owner[key])
}

function nested(value: unknown, depth: number): unknown {
  return depth === 0 ? value : { kind: 'nested', inside: nested(value, depth - 1) }
}

/** An own property of any name, `__proto__` too, as JSON.parse makes it. */
function put(owner: Container, key: string, value: unknown): void {
  if (Array.isArray(owner)) owner.push(value)
  else Object.defineProperty(owner, key, { value, enumerable: true, configurable: true, writable: true })
}

function remove(owner: Container, key: string): void {
  if (Array.isArray(owner)) owner.splice(Number(key), 1)
  else delete owner[key]
}
