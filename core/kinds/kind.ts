import type { Part } from '../document'
import type { AnyKind, Slot, Slots } from './slot'

/**
 * One thing an engineer can say: its slots once, and from them the schema, the sentence, the C names and the
 * reference page.
 */
export interface Kind<S extends Slots = Slots> extends AnyKind {
  readonly slots: S
}

/** What a slot of a resolved document holds: numbers, where the one that was written may hold formulas. */
type ValueOf<S> = S extends { type: 'number' }
  ? number
  : S extends { type: 'vector'; components: infer C }
    ? { readonly [Place in keyof C]: number }
    : S extends { type: 'table' }
      ? readonly (readonly number[])[]
      : S extends { type: 'toggle' }
        ? boolean
        : S extends { type: 'choice'; options: infer O }
          ? keyof O & string
          : S extends { type: 'part'; kinds: readonly (infer K)[] }
            ? PartOf<K>
            : S extends { type: 'parts'; kinds: readonly (infer K)[] }
              ? Readonly<Record<string, PartOf<K>>>
              : string

type MayLack = { readonly optional: true } | { readonly otherwise: string | number }
type FieldsOf<S> = {
  readonly [Slot in keyof S as string extends Slot ? never : S[Slot] extends MayLack ? never : Slot]: ValueOf<S[Slot]>
} & { readonly [Slot in keyof S as string extends Slot ? never : S[Slot] extends MayLack ? Slot : never]?: ValueOf<S[Slot]> }

/** A part of this kind, field by field; of a kind that is known by its list only, any part. */
export type PartOf<K> = K extends { readonly name: infer Name; readonly slots: infer S }
  ? string extends keyof S
    ? Part & FieldsOf<S>
    : FieldsOf<S> & { readonly kind: Name; readonly label?: string }
  : Part

/** What a valid part of this kind holds, with what may be left out filled in. */
export type ValuesOf<K> = K extends { readonly slots: infer S }
  ? string extends keyof S
    ? Readonly<Record<string, unknown>>
    : { readonly [Slot in keyof S]: Filled<S[Slot]> }
  : never
type Filled<S> = S extends { readonly optional: true; readonly type: 'number' | 'name' | 'part' }
  ? ValueOf<S> | undefined
  : ValueOf<S>

/**
 * A function of a kind, that is only ever given parts of this kind. So it may know its own slots, and a list may still hold
 * kinds of which it does not know them.
 */
export type OfOwn<Arguments extends readonly unknown[], Result> = { of(...given: Arguments): Result }['of']

/** A part that has passed the schema of this kind, by its own type. */
export function partOf<K extends AnyKind>(_kind: K, given: Part): PartOf<K> {
  return given as PartOf<K>
}

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
