import type { Kind } from '../../kinds'

/** An estimator that reads named sensors of a lifter. */
export interface SensedKind extends Kind {
  readonly label: string
  /** The kind of sensor that each of its slots names. */
  readonly needs: Readonly<Record<string, string>>
}
