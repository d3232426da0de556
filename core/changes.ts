import { groups } from './check'
import { canonicalText, findAt } from './document'
import type { Document } from './document'
import { findSlot, isPart, labelOf, nameInWords } from './kinds'
import type { Slot } from './kinds'
import { placeInWords } from './placeInWords'

/** One difference of two states of a document, as people say it. */
export interface Change {
  readonly path: string
  /** What it is of: "mass of hull". */
  readonly words: string
  readonly sort: 'set' | 'added' | 'removed' | 'renamed'
  /** Numbers in SI, formulas as they are written, else words; nothing of what is too long to say. */
  readonly was?: number | string
  readonly is?: number | string
  /** SI unit of numbers. */
  readonly unit?: string
}

/** What is read, not what it is: another version of the format is no change. */
const silent: ReadonlySet<string> = new Set(['format', 'version', 'origin'])
/** Words longer than this are not said. */
const longestWords = 80

/** How a document differs from an earlier one, part by part, in the order of the later one; nothing where they say the same. */
export function changesBetween(before: Document, after: Document): readonly Change[] {
  return differences(before, after, '')
}

function differences(before: Document, after: Document, path: string): readonly Change[] {
  const [was, is] = [at(before, path), at(after, path)]
  if (isSame(was, is)) return []
  if (isObject(was) && isObject(is) && (!isPart(was) || !isPart(is) || was.kind === is.kind)) {
    const names = [...Object.keys(is), ...Object.keys(was).filter((name) => !(name in is))]
    const renamed = renamings(was, is)
    const gone = new Set(renamed.map(([from]) => from))
    return names
      .filter((name) => !silent.has(name) && !gone.has(name))
      .flatMap((name): readonly Change[] => {
        const within = path === '' ? name : `${path}.${name}`
        const from = renamed.find(([, to]) => to === name)?.[0]
        if (from === undefined) return differences(before, after, within)
        const said = (key: string, of: typeof was) => labelOf(isPart(of[key]) ? of[key] : undefined, key)
        return [{ path: within, words: placeInWords(after, within), sort: 'renamed', was: said(from, was), is: said(name, is) }]
      })
  }
  // a new component of the same sort of place
  if (Array.isArray(was) && Array.isArray(is) && was.length === is.length && was.every((one) => !Array.isArray(one)))
    return was.flatMap((_, i) => differences(before, after, `${path}.${i}`))
  return [change(before, after, path, was, is)]
}

function at(document: Document, path: string): unknown {
  return path === '' ? document : findAt(document, path)
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function isSame(a: unknown, b: unknown): boolean {
  return a === b || (a !== undefined && b !== undefined && canonicalText(a) === canonicalText(b))
}

/** Parts that only have another name: pairs of what was and what is. */
function renamings(was: Readonly<Record<string, unknown>>, is: Readonly<Record<string, unknown>>): readonly [string, string][] {
  const plain = (value: unknown) => (isPart(value) ? canonicalText({ ...value, label: undefined }) : undefined)
  const added = Object.keys(is).filter((name) => !(name in was) && isPart(is[name]))
  const removed = Object.keys(was).filter((name) => !(name in is) && isPart(was[name]))
  return removed.flatMap((from): [string, string][] => {
    const to = added.find((name) => plain(is[name]) === plain(was[from]))
    return to === undefined ? [] : [[from, to]]
  })
}

function change(before: Document, after: Document, path: string, was: unknown, is: unknown): Change {
  const there = is === undefined ? before : after
  const [group, name, ...rest] = path.split('.') as [keyof typeof groups, string?, ...string[]]
  const owner = name === undefined ? undefined : at(there, `${group}.${name}`)
  const slot = Object.hasOwn(groups, group) ? findSlot(groups[group], owner, rest) : undefined
  const words = wordsOfPlace(there, path)
  if (was === undefined && isObject(is)) return { path, words, sort: 'added' }
  if (is === undefined && isObject(was)) return { path, words, sort: 'removed' }
  const unit = slot !== undefined && 'unit' in slot && typeof slot.unit === 'string' ? { unit: slot.unit } : {}
  return { path, words, sort: 'set', ...saidAs('was', was, slot), ...saidAs('is', is, slot), ...unit }
}

function wordsOfPlace(document: Document, path: string): string {
  const label = /^(.*)\.label$/.exec(path)
  if (label !== null) return `name of ${placeInWords(document, label[1]!)}`
  const pin = /^tray\.([^.]+)$/.exec(path)
  return pin === null ? placeInWords(document, path) : `pinned run ${pin[1]}`
}

function saidAs(key: 'was' | 'is', value: unknown, slot: Slot | undefined): { readonly [key in 'was' | 'is']?: number | string } {
  if (value === undefined)
    return slot !== undefined && 'otherwise' in slot && slot.otherwise !== undefined ? saidAs(key, slot.otherwise, slot) : {}
  if (typeof value === 'number') return { [key]: value }
  if (typeof value === 'boolean') return { [key]: value ? 'on' : 'off' }
  if (isPart(value)) return { [key]: nameInWords(value.kind) }
  if (typeof value !== 'string' || value.length > longestWords) return {}
  return { [key]: (slot?.type === 'choice' ? slot.options[value] : undefined) ?? value }
}
