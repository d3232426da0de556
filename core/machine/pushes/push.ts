import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'

/** What a loop may push of a machine beside its drives. */
export interface PushKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** `unitOf` gives the unit of a drive's effort. */
  readonly unit: OfOwn<[part: PartOf<Kind<S>>, unitOf: (drive: string) => string], string>
}

export function definePush<const S extends Slots>(kind: PushKind<S>): PushKind<S> {
  return kind
}
