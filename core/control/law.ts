import type { Scalar } from '../expression'
import type { Kind } from '../kinds'

export type GainName = 'kp' | 'ki' | 'kd'

export interface LawInputs {
  /** reference - measured, already wrapped for an angle that goes round */
  readonly error: Scalar
  /** From where the machine rests. */
  readonly reference: Scalar
  readonly rate: Scalar
  /** s between samples */
  readonly dt: Scalar
  /** What the limits behind the law took from its last command: limited less asked; 0 without limits. */
  readonly excess: Scalar
}

export interface LawStep {
  /** What each term asks for; the command is their sum. Published as signals. */
  readonly terms: Readonly<Record<string, Scalar>>
  readonly memory: readonly Scalar[]
}

/** What a law's own slots hold. */
export type LawSettings = Readonly<Record<string, unknown>>

/** A sampled control law: (inputs, memory, gains, own numbers) to (terms, next memory), over numbers or expressions. */
export interface Law extends Kind {
  readonly label: string
  readonly gains: readonly GainName[]
  /** Whether it acts on a rate that someone measures, estimates or knows. */
  readonly readsRate: boolean
  /** Names of what it remembers from sample to sample; all start at 0. */
  readonly memory: readonly string[]
  readonly step: (
    inputs: LawInputs,
    memory: readonly Scalar[],
    gains: Readonly<Record<GainName, Scalar>>,
    settings: LawSettings,
  ) => LawStep
}
