import { choice, name, number } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Problem } from '../../document'

/** A run as checks see it. */
export interface Looked {
  /** s, evenly spaced */
  readonly time: Float64Array
  /** Values of a signal over the run; nothing where the run has none of that name. */
  readonly values: (signal: string) => Float64Array | undefined
  /** The same of one that is recorded, as far as its least from a row on and whether it goes below something are concerned. */
  readonly least: (signal: string, row: number, below: number) => Float64Array | undefined
  readonly unitOf: (signal: string) => string
  /** When the last cue of a loop begins, s, and its reference before and at the end; nothing where nothing is asked of it. */
  readonly lastCue: (loop: string) => { readonly at: number; readonly before: number; readonly after: number } | undefined
}

/** What a run says of a check. */
export interface Judgement {
  /** `open` where the run did not come far enough to decide. */
  readonly outcome: 'holds' | 'fails' | 'open'
  /** How far it was from failing, in `unit`; negative where it failed. */
  readonly margin?: number
  readonly unit: string
  /** s: when it was nearest to failing. */
  readonly at?: number
  /** s: when it failed for the first time, between rows along a straight line. */
  readonly failedAt?: number
  /** Why there is no answer, and what would give one. */
  readonly why?: string
  /** Whether a longer run would give it. */
  readonly isShort?: true
}

/** A zone on the chart of a signal in which a check holds: from a time on, between two edges. */
export interface CalmBand {
  readonly signal: string
  /** s */
  readonly from: number
  readonly least: number
  readonly most: number
}

/** What a trial and its last run suggest for a new check. */
export interface FirstLook {
  /** The signal that is looked at, and the rate of it, where there is one. */
  readonly signal: string
  readonly rate: string | undefined
  /** A size that the signal has not passed, or that it is asked to go. */
  readonly limit: number
  /** s: half of what the trial goes on after its last cue. */
  readonly half: number
  readonly signals: readonly string[]
}

/** A sentence that a run passes or fails: one file, one value, in the list. */
export interface Check<S extends Slots = Slots> extends Kind<S> {
  /** What people call it. */
  readonly label: string
  /** The signals that it looks at. */
  readonly signals: OfOwn<[check: PartOf<Kind<S>>], readonly string[]>
  readonly judge: OfOwn<[check: PartOf<Kind<S>>, run: Looked], Judgement>
  readonly band?: OfOwn<[check: PartOf<Kind<S>>], CalmBand>
  /** The unit of a slot whose own depends on what is looked at, from that of its signal. */
  readonly unitsOf?: OfOwn<[check: PartOf<Kind<S>>, unit: string], Readonly<Record<string, string>>>
  /** Whether a machine with these signals can have it; any where nothing is said. */
  readonly suits?: (signals: readonly string[]) => boolean
  /** What a new one begins with, where that is of its own; the rest are numbers that suit the trial. */
  readonly starts?: (first: FirstLook) => Readonly<Record<string, unknown>>
  /** Whether its margin is a share, which people read in percent. */
  readonly isShare?: true
  /** What its schema cannot tell. */
  readonly problems?: OfOwn<[where: string, check: PartOf<Kind<S>>], readonly Problem[]>
}

export function defineCheck<const S extends Slots>(kind: Check<S>): Check<S> {
  return kind
}

/** Slots that checks share. */
export const checkSlots = {
  from: number({ label: 'from', unit: 's', least: 0, most: 1e5, otherwise: 0 }),
  signal: name({ label: 'signal', of: 'signal' }),
  loop: name({ label: 'loop', of: 'loop' }),
  ends: choice({
    label: 'what a failure does',
    options: { goes: 'the run goes on', ends: 'the run ends' },
    otherwise: 'goes',
  }),
} as const

/** The error of a loop is a signal. */
export function errorSignal(loop: string): string {
  return `loops.${loop}.error`
}
