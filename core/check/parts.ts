import Joi from 'joi'
import { loop } from '../control'
import { met, rememberedOf } from '../document'
import { isFormula } from '../formula'
import { everyPart, findSlot, isPart, partName, problemsOf, schemaOfPart, strangers } from '../kinds'
import type { AnyKind, FoundPart } from '../kinds'
import { parameter } from '../parameter'
import { groups } from './groups'
import type { GroupName } from './groups'

type Fields = { readonly [field: string]: unknown }

/** What was pinned, beside the groups. */
const tray = 'tray'
const pinName = /^[A-Z]$/
const groupNames = Object.keys(groups) as GroupName[]
const named: readonly string[] = [...groupNames, tray]

/** What holds the named parts: its names are those that parts may have. */
export const holdersSchema = Joi.object(
  Object.fromEntries(
    named.map((group) => {
      const holder = Joi.object().pattern(nameIn(group), Joi.any())
      return [group, group === 'parameters' ? holder : holder.required()]
    }),
  ),
)

/**
 * The same document, in which each named part that was met before is that very part. `sort` tells documents as they are written
 * from those whose formulas are worked out.
 */
export function withPartsMet<Root extends object>(document: Root, sort: 'written' | 'resolved'): Root {
  const changed = named.flatMap((group) => {
    const items = (document as Fields)[group]
    if (!isObject(items) || Array.isArray(items)) return []
    const entries = Object.entries(items).map(
      ([name, item]) => [name, isObject(item) ? met(`${sort} ${group}.${name}`, item) : item] as const,
    )
    return entries.every(([name, item]) => item === items[name]) ? [] : [[group, Object.fromEntries(entries)] as const]
  })
  return changed.length === 0 ? document : { ...document, ...Object.fromEntries(changed) }
}

/**
 * What is found of each named part of a document. It is remembered with the part, so that a document is looked through only where
 * it changed.
 */
function ofEach<Answer>(find: (group: string, path: string, item: unknown) => readonly Answer[]) {
  const known = new WeakMap<object, Map<string, readonly Answer[]>>()
  return (document: Fields): Answer[] =>
    named.flatMap((group) => {
      const items = document[group]
      if (!isObject(items) || Array.isArray(items)) return []
      return Object.entries(items).flatMap(([name, item]) => {
        const path = `${group}.${name}`
        return isObject(item) ? rememberedOf(known, item, path, () => find(group, path, item)) : find(group, path, item)
      })
    })
}

/** All parts of a document, each with its place. */
export const partsOf = ofEach(partsOfOne)

/** Where a number is written as a formula. */
export const formulaPlaces = ofEach((group, path, item) => partsOfOne(group, path, item).flatMap(formulasOf))

/** Fields that nothing reads. */
export const unreadFields = ofEach((group, path, item) => strangers(partsOfOne(group, path, item)))

/** In what a part is not as its kind wants it. */
export const shapeProblems = ofEach((group, path, item) => {
  const kinds = kindsOf(group)
  if (!nameIn(group).test(path.slice(group.length + 1))) return [] // its name is told
  return problemsOf(schemas[group]!, item, (inside) => findSlot(kinds, item, inside), path.split('.'))
})

const schemas: Readonly<Record<string, Joi.Schema>> = {
  ...Object.fromEntries(groupNames.map((group) => [group, schemaOfPart(groups[group])])),
  [tray]: Joi.object({
    title: Joi.string().max(200).allow('').required(),
    note: Joi.string().max(2000).allow(''),
    trial: Joi.string().required(),
    run: Joi.string().hex().max(64).required(),
    loops: Joi.object()
      .pattern(partName, schemaOfPart([loop]))
      .required(),
  }).unknown(true),
}

function nameIn(group: string): RegExp {
  return group === tray ? pinName : partName
}

function kindsOf(group: string): readonly AnyKind[] {
  return group === tray ? [] : groups[group as GroupName]
}

function partsOfOne(group: string, path: string, item: unknown): FoundPart[] {
  return isPart(item) ? everyPart(kindsOf(group), path, item) : []
}

function formulasOf({ path, part, kind }: FoundPart): { path: string; value: string }[] {
  if (kind === parameter) return []
  return Object.entries(kind.slots).flatMap(([slot, { type }]) => {
    if (type !== 'number' && type !== 'vector' && type !== 'table') return []
    return numbersIn(`${path}.${slot}`, part[slot]).filter((one): one is { path: string; value: string } => isFormula(one.value))
  })
}

/** A number, or those of lists of numbers, each with its place. */
function numbersIn(path: string, value: unknown): { path: string; value: unknown }[] {
  return Array.isArray(value) ? value.flatMap((one: unknown, i) => numbersIn(`${path}.${i}`, one)) : [{ path, value }]
}

function isObject(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null
}
