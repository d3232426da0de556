import Joi from 'joi'
import { nearestName } from '../document'
import type { Problem } from '../document'
import type { AnyKind, NumberSlot, Slot, TableSlot } from './slot'
import { partName } from './partName'

/** The schema that guards every door for parts of one of these kinds. Unknown fields pass; see `strangers`. */
export function schemaOfPart(kinds: readonly AnyKind[]): Joi.Schema {
  const unknown = Joi.object({
    kind: Joi.string()
      .valid(...kinds.map(({ name }) => name))
      .required(),
  }).unknown(true)
  const known = kinds.map((kind) => ({ is: kind.name, then: schemaOfKind(kind) }))
  return Joi.alternatives().conditional('.kind', { switch: known, otherwise: unknown })
}

export function schemaOfKind(kind: AnyKind): Joi.ObjectSchema {
  const slots = Object.entries(kind.slots).map(([slot, definition]) => [slot, schemaOfSlot(definition)])
  return Joi.object({ kind: Joi.string().valid(kind.name).required(), ...Object.fromEntries(slots) }).unknown(true)
}

function schemaOfSlot(slot: Slot): Joi.Schema {
  switch (slot.type) {
    case 'number':
      return requiredUnless(slot.otherwise === undefined ? slot.optional : true, numberSchema(slot))
    case 'vector':
      return Joi.array().items(Joi.number().strict()).length(slot.components.length).required()
    case 'table':
      return requiredUnless(slot.optional, tableSchema(slot))
    case 'formula':
      return Joi.string().max(2000).required()
    case 'choice':
      return requiredUnless(slot.otherwise === undefined ? undefined : true, Joi.string().valid(...Object.keys(slot.options)))
    case 'toggle':
      return Joi.boolean().strict().required()
    case 'name':
      return requiredUnless(slot.optional, slot.of === 'text' ? Joi.string().max(200).allow('') : Joi.string().max(200))
    case 'part':
      return requiredUnless(slot.optional, schemaOfPart(slot.kinds))
    case 'parts':
      return requiredUnless(slot.optional, Joi.object().pattern(partName, schemaOfPart(slot.kinds)))
    default:
      return slot satisfies never
  }
}

function tableSchema({ columns }: TableSlot): Joi.ArraySchema {
  const row = Joi.array().items(Joi.number().strict().unsafe())
  return Joi.array()
    .items(columns === undefined ? row.max(mostColumns) : row.length(columns.length))
    .max(mostRows)
}

/** A larger table is data, which belongs into a file beside the document. */
const mostRows = 1000
const mostColumns = 400

function requiredUnless(optional: true | undefined, schema: Joi.Schema): Joi.Schema {
  return optional === true ? schema : schema.required()
}

function numberSchema(slot: NumberSlot): Joi.NumberSchema {
  let schema = Joi.number().strict().unsafe()
  if (slot.whole) schema = schema.integer()
  if (slot.least !== undefined) schema = schema.min(slot.least)
  if (slot.most !== undefined) schema = schema.max(slot.most)
  if (slot.above !== undefined) schema = schema.greater(slot.above)
  return schema
}

/**
 * Every way in which a value misses a schema, as problems. `known` finds the slot a path leads to, for its words; `at` is where
 * the value itself stands.
 */
export function problemsOf(
  schema: Joi.Schema,
  value: unknown,
  known: (path: readonly (string | number)[]) => Slot | undefined,
  at: readonly string[] = [],
): Problem[] {
  return missesOf(schema, value).map((detail) => {
    const path = [...at, ...detail.path]
    return { where: path.join('.'), ...said({ ...detail, path }, known(detail.path)) }
  })
}

/** All misses at once; of a hundred thousand, which the validator cannot hand on in one call, only the first. */
function missesOf(schema: Joi.Schema, value: unknown): readonly Joi.ValidationErrorItem[] {
  try {
    return schema.validate(value, { abortEarly: false, convert: false }).error?.details ?? []
  } catch (error) {
    if (!(error instanceof RangeError)) throw error
    return schema.validate(value, { abortEarly: true, convert: false }).error?.details ?? []
  }
}

function said(detail: Joi.ValidationErrorItem, slot: Slot | undefined): { what: string; remedy: string } {
  const path = detail.path.join('.') || 'The document'
  const given = JSON.stringify(detail.context?.value)
  const label = slot === undefined ? `\`${path}\`` : `The ${slot.label}`
  const unit = slot?.type === 'number' || slot?.type === 'vector' ? slot.unit : ''
  const inUnit = unit === '' ? '' : ` in ${unit}`
  const limit = detail.context?.limit as number | undefined
  switch (detail.type) {
    case 'any.required':
      return { what: `${label} is missing.`, remedy: `Give it${inUnit}: add "${detail.path.at(-1)}".` }
    case 'number.base':
      return {
        what: `${label} is ${given ?? 'not a number'}; a plain number${inUnit} is wanted.`,
        remedy: `Write the number alone${inUnit}, without quotes or unit.`,
      }
    case 'number.infinity':
      return { what: `${label} is not finite.`, remedy: `Give a finite number${inUnit}.` }
    case 'number.min':
      return {
        what: `${label} is ${given}${unitAfter(unit)}, below its limit of ${limit}${unitAfter(unit)}.`,
        remedy: `Give at least ${limit}${unitAfter(unit)}.`,
      }
    case 'number.max':
      return {
        what: `${label} is ${given}${unitAfter(unit)}, above its limit of ${limit}${unitAfter(unit)}.`,
        remedy: `Give at most ${limit}${unitAfter(unit)}.`,
      }
    case 'number.greater':
      return {
        what: `${label} is ${given}${unitAfter(unit)}; it must be more than ${limit}${unitAfter(unit)}.`,
        remedy: `Give more than ${limit}${unitAfter(unit)}.`,
      }
    case 'number.integer':
      return { what: `${label} is ${given}; a whole number is wanted.`, remedy: 'Leave out the fraction.' }
    case 'any.only':
      return choiceWords(label, detail)
    case 'object.unknown':
      return {
        what: `\`${path}\` is not a usable name.`,
        remedy: 'Names start with a small letter and hold letters and digits only, at most 40.',
      }
    case 'object.base':
      return { what: `${label} is ${given ?? 'missing'}; an object is wanted.`, remedy: 'Write what it holds in braces.' }
    case 'string.base':
      return {
        what: `${label} is not text.`,
        remedy: slot?.type === 'formula' ? 'Write a formula, such as "2 * x".' : 'Write it in quotes.',
      }
    case 'string.empty':
      return { what: `${label} is empty.`, remedy: slot?.type === 'formula' ? 'Write a formula; 0 is one.' : 'Fill it in.' }
    case 'array.max':
      return { what: `${label} has more than ${limit} entries.`, remedy: 'Leave some out.' }
    case 'array.length':
      return {
        what: `${label} has ${Array.isArray(detail.context?.value) ? detail.context.value.length : 'other'} entries; ${limit} are wanted.`,
        remedy: `Give ${limit} numbers${inUnit}.`,
      }
    default:
      return {
        what: `${label}: ${detail.message.replaceAll('"', '`')}.`,
        remedy: 'Correct the value; the reference page lists what each field takes.',
      }
  }
}

function choiceWords(label: string, detail: Joi.ValidationErrorItem): { what: string; remedy: string } {
  const options = (detail.context?.valids as unknown[]).map(String)
  const given: unknown = detail.context?.value
  // what is no text is near to nothing, and may refuse to become one
  const near = typeof given === 'string' ? nearestName(given, options) : undefined
  const hint =
    near === undefined ? `Choose one of: ${options.join(', ')}.` : `Did you mean ${near}? Known: ${options.join(', ')}.`
  return { what: `${label} is ${JSON.stringify(given)}, which is not known.`, remedy: hint }
}

function unitAfter(unit: string): string {
  return unit === '' ? '' : ` ${unit}`
}
