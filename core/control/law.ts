import type { Scalar } from '../expression'
import type { Kind } from '../kinds'

export type GainName = 'kp' | 'ki' | 'kd'

export interface LawInputs {
  /** reference - measured, already wrapped for an angle that goes round */
  readonly error: Scalar
  readonly rate: Scalar
  /** s between samples */
  readonly dt: Scalar
}

export interface LawStep {
  /** What each term asks for; the command is their sum. Published as signals. */
  readonly terms: Readonly<Record<string, Scalar>>
  readonly memory: readonly Scalar[]
}

/** A sampled control law: (inputs, memory, gains) to (terms, next memory), over numbers or expressions. */
export interface Law extends Kind {
  readonly label: string
  readonly gains: readonly GainName[]
  /** Names of what it remembers from sample to sample; all start at 0. */
  readonly memory: readonly string[]
  readonly step: (inputs: LawInputs, memory: readonly Scalar[], gains: Readonly<Record<GainName, Scalar>>) => LawStep
}
