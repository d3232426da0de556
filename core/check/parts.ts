import Joi from 'joi'
import { loop } from '../tuning'
import { met, rememberedOf } from '../document'
import type { Problem } from '../document'
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
      return [group, group === 'parameters' || group === 'scenes' ? holder : holder.required()]
    }),
  ),
)

/** The named parts of one group of a document; none where it is none. */
function itemsOf(document: object, group: string): readonly (readonly [name: string, item: unknown])[] {
  const items = (document as Fields)[group]
  return isObject(items) && !Array.isArray(items) ? Object.entries(items) : []
}

/**
 * The same document, in which each named part that was met before is that very part. `sort` tells documents as they are written
 * from those whose formulas are worked out.
 */
export function withPartsMet<Root extends object>(document: Root, sort: 'written' | 'resolved'): Root {
  const changed = named.flatMap((group) => {
    const items = itemsOf(document, group)
    const known = items.map(([name, item]) => [name, isObject(item) ? met(`${sort} ${group}.${name}`, item) : item] as const)
    return known.every(([, item], i) => item === items[i]![1]) ? [] : [[group, Object.fromEntries(known)] as const]
  })
  return changed.length === 0 ? document : { ...document, ...Object.fromEntries(changed) }
}

/**
 * What is found of each named part of a document. It is remembered with the part, so that a document is looked through only where
 * it changed.
 */
function ofEach<Answer>(find: (group: string, path: string, item: unknown) => Answer) {
  const known = new WeakMap<object, Map<string, Answer>>()
  return (document: object): Answer[] =>
    named.flatMap((group) =>
      itemsOf(document, group).map(([name, item]) => {
        const path = `${group}.${name}`
        return isObject(item) ? rememberedOf(known, item, path, () => find(group, path, item)) : find(group, path, item)
      }),
    )
}

const lookedThrough = ofEach((group, path, item) => {
  const found = isPart(item) ? everyPart(kindsOf(group), path, item) : []
  return { found, formulas: found.flatMap(formulasOf), unread: strangers(found) }
})

/** All parts of a document, each with its place. */
export function partsOf(document: object): FoundPart[] {
  return lookedThrough(document).flatMap(({ found }) => found)
}

/** Where a number is written as a formula. */
export function formulaPlaces(document: object): { readonly path: string; readonly value: string }[] {
  return lookedThrough(document).flatMap(({ formulas }) => formulas)
}

/** Fields that nothing reads. */
export function unreadFields(document: object): Problem[] {
  return lookedThrough(document).flatMap(({ unread }) => unread)
}

/** In what a part is not as its kind wants it. */
export function shapeProblems(document: object): Problem[] {
  return misshapen(document).flat()
}

const misshapen = ofEach((group, path, item): readonly Problem[] => {
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
