import { groups } from './check'
import type { AnyKind, Slot } from './kinds'

type Json = { readonly [key: string]: unknown }

const formulaText = { type: 'string', pattern: '^\\s*=', description: 'a formula over parameters' }

/**
 * The format of documents as JSON Schema (draft 2020-12, https://json-schema.org), made from the kinds themselves, for
 * editors and other programs. What only the whole can tell (names that lead nowhere, inertias that cannot exist) is not
 * in it: `check` tells that.
 */
export function documentJsonSchema(): Json {
  const definitions: Record<string, Json> = {}
  const parts = (kinds: readonly AnyKind[]): Json => {
    for (const kind of kinds) define(kind, definitions, parts)
    return { type: 'object', propertyNames: { pattern: '^[a-z][A-Za-z0-9]{0,39}$' }, additionalProperties: oneOf(kinds) }
  }
  const properties = Object.fromEntries(Object.entries(groups).map(([name, kinds]) => [name, parts(kinds)]))
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Calm Hand document',
    type: 'object',
    required: ['format', 'version', 'title', 'about', 'note', 'up', 'machines', 'loops', 'estimators', 'trials', 'tray'],
    properties: {
      format: { const: 'calm-hand' },
      version: { type: 'integer' },
      title: { type: 'string', maxLength: 200 },
      about: { type: 'string', maxLength: 400 },
      note: { type: 'string', maxLength: 20_000 },
      up: { const: '+z' },
      ...properties,
      tray: { type: 'object' },
    },
    $defs: definitions,
  }
}

function define(kind: AnyKind, definitions: Record<string, Json>, parts: (kinds: readonly AnyKind[]) => Json): void {
  if (kind.name in definitions) return
  definitions[kind.name] = {} // holds the place while parts inside are defined
  const slots = Object.entries(kind.slots)
  definitions[kind.name] = {
    type: 'object',
    description: kind.about,
    required: ['kind', ...slots.filter(([, slot]) => !isOptional(slot)).map(([name]) => name)],
    properties: { kind: { const: kind.name }, ...Object.fromEntries(slots.map(([name, slot]) => [name, ofSlot(slot, parts)])) },
  }
}

function ofSlot(slot: Slot, parts: (kinds: readonly AnyKind[]) => Json): Json {
  const described = (schema: Json): Json => ({
    description: [slot.label, 'unit' in slot ? slot.unit : '', slot.note ?? ''].filter((one) => one !== '').join(', '),
    ...schema,
  })
  switch (slot.type) {
    case 'number': {
      const bounds = {
        ...(slot.least === undefined ? {} : { minimum: slot.least }),
        ...(slot.most === undefined ? {} : { maximum: slot.most }),
        ...(slot.above === undefined ? {} : { exclusiveMinimum: slot.above }),
      }
      return described({ anyOf: [{ type: slot.whole === true ? 'integer' : 'number', ...bounds }, formulaText] })
    }
    case 'vector':
      return described({
        type: 'array',
        items: numberOrFormula,
        minItems: slot.components.length,
        maxItems: slot.components.length,
      })
    case 'table':
      return described({ type: 'array', items: { type: 'array', items: numberOrFormula } })
    case 'choice':
      return described({ enum: Object.keys(slot.options) })
    case 'toggle':
      return described({ type: 'boolean' })
    case 'formula':
    case 'name':
      return described({ type: 'string' })
    case 'part':
      parts(slot.kinds)
      return described(oneOf(slot.kinds))
    case 'parts':
      return described(parts(slot.kinds))
    default:
      return slot satisfies never
  }
}

const numberOrFormula = { anyOf: [{ type: 'number' }, formulaText] }

function oneOf(kinds: readonly AnyKind[]): Json {
  const references = kinds.map(({ name }) => ({ $ref: `#/$defs/${name}` }))
  return references.length === 1 ? references[0]! : { anyOf: references }
}

function isOptional(slot: Slot): boolean {
  return (
    ('optional' in slot && slot.optional === true) ||
    ((slot.type === 'number' || slot.type === 'choice') && slot.otherwise !== undefined)
  )
}
