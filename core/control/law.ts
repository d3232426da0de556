import type { Scalar } from '../expression'
import type { Problem } from '../document'
import type { Kind, OfOwn, PartOf, Slots, ValuesOf } from '../kinds'

/** A gain on the error, its integral, its rate; or on a signal that the law feeds back, by the signal's name. */
export type GainName = string

/** Gains by name. */
export type GainsOf<Value> = Readonly<{ kp: Value; ki: Value; kd: Value; [signal: string]: Value }>

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
  /** Other signals that the law reads, in its own order, from where the machine rests. */
  readonly signals: readonly Scalar[]
  /** Where they rest. */
  readonly rest: readonly number[]
  /** How far each goes for a unit of what is held, once all is at rest again. */
  readonly follow: readonly number[]
}

export interface LawStep {
  /** What each term asks for; the command is their sum. Published as signals. */
  readonly terms: Readonly<Record<string, Scalar>>
  readonly memory: readonly Scalar[]
}

/** What a law's own slots hold. */
export type LawSettings = Readonly<Record<string, unknown>>

/** A sampled control law: (inputs, memory, gains, own numbers) to (terms, next memory), over numbers or expressions. */
export interface Law<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  readonly gains: readonly GainName[] | OfOwn<[settings: ValuesOf<Kind<S>>], readonly GainName[]>
  /** Whether it acts on a rate that someone measures, estimates or knows. */
  readonly readsRate: boolean
  /** Names of what it remembers from sample to sample; all start at 0 unless `start` says otherwise. */
  readonly memory: readonly string[] | OfOwn<[settings: ValuesOf<Kind<S>>], readonly string[]>
  readonly start?: OfOwn<[settings: ValuesOf<Kind<S>>], readonly number[]>
  /** Quantities of the machine that it reads beside what it holds. */
  readonly signals?: OfOwn<[settings: ValuesOf<Kind<S>>], readonly string[]>
  /** Why it has no linear form about rest; nothing where it has one. */
  readonly notLinear?: string
  /** Whether it decides by what it holds, and may push something that does not move that. */
  readonly decides?: true
  /** Names that its formulas may use. */
  readonly formulaNames?: OfOwn<[law: PartOf<Kind<S>>], readonly string[]>
  /** What its schema cannot tell. `known` are the names of the machine's quantities. */
  readonly problems?: OfOwn<[where: string, law: PartOf<Kind<S>>, known: readonly string[]], readonly Problem[]>
  readonly step: OfOwn<
    [inputs: LawInputs, memory: readonly Scalar[], gains: GainsOf<Scalar>, settings: ValuesOf<Kind<S>>],
    LawStep
  >
}

export function defineLaw<const S extends Slots>(kind: Law<S>): Law<S> {
  return kind
}

/** What a law says of itself with its settings. */
export function ofSettings<Value>(
  said: readonly Value[] | ((settings: LawSettings) => readonly Value[]),
  settings: LawSettings,
): readonly Value[] {
  return typeof said === 'function' ? said(settings) : said
}
