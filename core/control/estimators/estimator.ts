import type { Flag, Scalar } from '../../expression'
import type { LoopPart, Part, Problem } from '../../document'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { StateSpace } from '../../linear'
import type { Read } from '../../machine'

/** Before the name of a quantity: its time derivative, which nothing holds but an accelerometer feels. */
export const rateOfPrefix = 'rate of '

/** An estimator, or a sensor, about rest, as the loops that read it see it. */
export interface LinearEstimator {
  /** Loops read it that read what is measured; otherwise those that read what is estimated. */
  readonly ofSensor?: true
  /** Quantities that it reads; then, where it knows them, all pushes of its machine. */
  readonly reads: readonly string[]
  /** The sensors by which it reads them, where their names do not tell. */
  readonly by?: readonly string[]
  readonly knowsPushes: boolean
  readonly estimated: readonly string[]
  readonly system: StateSpace
}

/** What a sensor gave last. */
export interface Sensed {
  /** By the name of the reading. */
  readonly read: (reading: string) => Scalar
  /** It sampled at this moment, and the sample was not lost. */
  readonly fresh: Flag
}

/** What an estimator sees while it runs. */
export interface EstimatorContext<Own = Part> {
  readonly machine: Part
  readonly part: Own
  /** Numbers of the machine as the model knows them, and of the estimator, with those that it works out. */
  readonly known: Read
  readonly number: (path: string) => Scalar
  /** The sensor that a slot names. */
  readonly sensor: (slot: string) => Sensed
  /** A quantity of the machine as a sensor measures it, or as it is where none does. */
  readonly measured: (quantity: string) => Scalar
  readonly isMeasured: (quantity: string) => boolean
  /** A number of a normal distribution at every sample, of one of its own streams; 0 while sensors do not err. */
  readonly random: (stream: number) => Scalar
  /** What the pushes of the machine were asked for up to now. */
  readonly asked: readonly Scalar[]
  /** Where the machine rests, by quantity: kept in memory, as a start of another number makes no other program. */
  readonly rest: (quantity: string) => Scalar
  /** The same as a number, for what is laid out by it. */
  readonly restsAt: (quantity: string) => number
  readonly isFirst: Flag
  /** s between its samples */
  readonly dt: number
}

/** A value that is worked out at a sample, and stays until the next. */
export interface SampledValue {
  readonly value: Scalar
  /** Before the first sample. */
  readonly start: Scalar
}

/** Something of an estimator that is worth a column, under a name of its own. */
export interface Watched {
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly value: Scalar
  /** It is one of its estimates; what it compared otherwise. */
  readonly isEstimate?: true
}

/** An estimator as a program runs it. */
export interface EstimatorRun {
  /** What it remembers from sample to sample, at the start. */
  readonly start: readonly Scalar[]
  readonly step: (memory: readonly Scalar[]) => { readonly memory: readonly Scalar[]; readonly kept: readonly SampledValue[] }
  /** What loops read of it, by quantity, and what else is worth a look. */
  readonly tells: (
    memory: readonly Scalar[],
    kept: readonly Scalar[],
  ) => { readonly estimates: ReadonlyMap<string, Scalar>; readonly watched: readonly Watched[] }
}

/** A way to estimate what loops read, over machines of every kind: all that is known of it stands in its file. */
export interface EstimatorKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** The kinds of sensor that suit its slots, by slot, the usual one first. */
  readonly needs?: Readonly<Record<string, readonly string[]>>
  /** A new one for a loop of a machine; nothing where the machine lacks the sensors. */
  readonly fresh: (loop: LoopPart, machine: Part) => Part | undefined
  /** It reads what others estimate: it comes after them. */
  readonly isLast?: true
  /** Quantities of the machine that it reads as sensors measure them. */
  readonly reads: OfOwn<[part: PartOf<Kind<S>>], readonly string[]>
  /** Quantities of the machine that it estimates; nothing where what it names is not there. */
  readonly estimates: OfOwn<[machine: Part, part: PartOf<Kind<S>>], readonly string[]>
  /** Hz */
  readonly rate: OfOwn<[machine: Part, part: PartOf<Kind<S>>], number>
  /** What keeps it from working; all that it names was found before. */
  readonly problems: OfOwn<[where: string, machine: Part, part: PartOf<Kind<S>>], readonly Problem[]>
  /** Numbers of its own that follow from the machine, by name: kept in memory, as those of another machine make no other program. */
  readonly worksOut?: OfOwn<[machine: Part, part: PartOf<Kind<S>>], Readonly<Record<string, number>>>
  readonly run: OfOwn<[context: EstimatorContext<PartOf<Kind<S>>>], EstimatorRun>
  /** About the operating point of its machine; nothing where it has no linear form. */
  readonly atRest: OfOwn<[machine: Part, where: string, part: PartOf<Kind<S>>], LinearEstimator | undefined>
  /** Numbers of the design that depend on the whole machine, looked at once all else holds. */
  readonly refused?: OfOwn<[where: string, machine: Part, part: PartOf<Kind<S>>], readonly Problem[]>
}

export function defineEstimator<const S extends Slots>(kind: EstimatorKind<S>): EstimatorKind<S> {
  return kind
}
