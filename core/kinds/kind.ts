import type { Part } from '../document'
import type { Slot, Slots } from './slot'

/**
 * One thing an engineer can say: its slots once, and from them the schema, the sentence, the C names and the
 * reference page.
 */
export interface Kind<S extends Slots = Slots> {
  readonly name: string
  /** The sentence, with slots in braces: 'Hold {holds} at {reference}.' */
  readonly says: string
  /** For the reference page: what it computes, with its source. */
  readonly about: string
  readonly slots: S
}

/** A kind whose slots are not known to the reader of a list. */
export type AnyKind = Kind

type ValueOf<S extends Slot> = S extends { type: 'number' }
  ? number
  : S extends { type: 'vector' }
    ? readonly number[]
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
  return slot.type === 'number' ? slot.otherwise : undefined
}
