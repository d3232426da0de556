import type { Part } from '../document'
import type { AnyKind, Slot, Slots } from './slot'

/**
 * One thing an engineer can say: its slots once, and from them the schema, the sentence, the C names and the
 * reference page.
 */
export interface Kind<S extends Slots = Slots> extends AnyKind {
  readonly slots: S
}

type ValueOf<S extends Slot> = S extends { type: 'number' }
  ? number
  : S extends { type: 'vector' }
    ? readonly number[]
    : S extends { type: 'table' }
      ? readonly (readonly number[])[]
      : S extends { type: 'toggle' }
        ? boolean
        : S extends { type: 'part' }
          ? Part
          : S extends { type: 'parts' }
            ? Readonly<Record<string, Part>>
            : string

/** What a valid part of this kind holds. */
export type ValuesOf<K> = K extends Kind<infer S> ? { readonly [Name in keyof S]: ValueOf<S[Name]> } : never

/** Reads a part that has passed its schema, with values left out filled in. */
export function valuesOf<S extends Slots>(kind: Kind<S>, given: Part): ValuesOf<Kind<S>> {
  const values = Object.entries(kind.slots).map(([slot, definition]) => [slot, given[slot] ?? otherwise(definition)])
  return Object.fromEntries(values) as ValuesOf<Kind<S>>
}

export function findKind<K extends AnyKind>(kinds: readonly K[], part: Part): K | undefined {
  return kinds.find(({ name }) => name === part.kind)
}

function otherwise(slot: Slot): unknown {
  if (slot.type === 'parts') return slot.optional === true ? {} : undefined
  if (slot.type === 'table') return slot.optional === true ? [] : undefined
  return slot.type === 'number' || slot.type === 'choice' ? slot.otherwise : undefined
}
