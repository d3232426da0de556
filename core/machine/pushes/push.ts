import type { Part } from '../../document'
import type { Kind } from '../../kinds'

/** What a loop may push of a machine beside its drives. */
export interface PushKind extends Kind {
  readonly label: string
  /** `unitOf` gives the unit of a drive's effort. */
  readonly unit: (part: Part, unitOf: (drive: string) => string) => string
}
