import { number, name, part } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Flag, NumberNode, Scalar } from '../../expression'
import type { Part, Problem } from '../../document'
import { ends, starts } from './times'

/** Reads a number of a cue by its path inside the part: `by`, `points.0.1`. */
export type ReadCue<Value = Scalar> = (path: string) => Value

/** Where on the cue sheet a cue stands. */
export const lanes = {
  commands: 'Commands',
  machine: 'Machine',
  disturbances: 'Outside',
  faults: 'Faults',
  hands: 'Hands',
} as const
export type Lane = keyof typeof lanes

/** A cue at an instant. */
export interface CueNow {
  /** s, of the run and since the cue began; negative before. */
  readonly t: Scalar
  readonly since: Scalar
  /** How far it has come in, 0 to 1, over its time to come and go. */
  readonly share: Scalar
  readonly read: ReadCue
}

/** A number of the machine that a cue changes while it acts. */
export interface NumberChange {
  /** Its path in the machine: `bodies.crate.mass`. */
  readonly path: string
  /** It of what it was: the whole of it, as if the cue had come in wholly. */
  readonly value: (was: Scalar, now: CueNow) => Scalar
  /** It goes on changing once it has come in. */
  readonly goesOn?: boolean
}

/** What a cue adds to the simulated machine, or around it. */
export interface AddedPart {
  readonly group: 'forces' | 'surroundings'
  readonly part: Part
  /** Numbers of the part over time, by slot and place: `force.0`. */
  readonly numbers: Readonly<Record<string, (now: CueNow) => Scalar>>
  /** rad/s: how fast they swing between the times at which they jump or bend, as its sentence says. */
  readonly swings: number
}

/** A sample of a signal between the one that gives it and those who read it. */
export interface AlteredNow extends CueNow {
  readonly value: Scalar
  /** Whether the fault acts now. */
  readonly isOn: Flag
  readonly memory: readonly NumberNode[]
  /** s between samples of the signal. */
  readonly dt: number
  /** A standard normal number, another with every sample. */
  readonly random: () => Scalar
  /** Another signal of the run, as it was when this tick began. */
  readonly signal: (name: string) => Scalar
}

export interface Altered {
  readonly value: Scalar
  readonly memory?: readonly Scalar[]
}

/** What a fault does to the signal that its slot `signal` names. */
export interface Alteration<P> {
  /** How many samples it remembers; they start with what the signal starts with. */
  readonly memory?: OfOwn<[cue: P, dt: number], number>
  readonly step: OfOwn<[now: AlteredNow, cue: P], Altered>
}

/** Something that happens in a trial. What several do to the same adds up or follows one another as they stand. */
export interface Cue<S extends Slots = Slots> extends Kind<S> {
  /** What people call it. */
  readonly label: string
  readonly lane: Lane
  /** s: when it is over, where it begins at `at`. */
  readonly ends: OfOwn<[read: ReadCue, cue: PartOf<Kind<S>>], Scalar>
  /** Of a command: what it adds to the reference at time t, s; `cue` tells only what numbers cannot, such as how many rows there are. */
  readonly value?: OfOwn<[t: Scalar, read: ReadCue, cue: PartOf<Kind<S>>], Scalar>
  /** Of a cue that switches the feedback: whether on. */
  readonly switchesTo?: OfOwn<[cue: PartOf<Kind<S>>], boolean>
  readonly changes?: OfOwn<[cue: PartOf<Kind<S>>], readonly NumberChange[]>
  readonly adds?: OfOwn<[cue: PartOf<Kind<S>>], AddedPart>
  readonly alters?: Alteration<PartOf<Kind<S>>>
  /** What its schema cannot tell. */
  readonly problems?: OfOwn<[where: string, cue: PartOf<Kind<S>>], readonly Problem[]>
}

/** Every cue may begin after something else has come, and end likewise. */
const timeSlots = {
  waits: part({ label: 'what it waits for', kinds: starts, optional: true }),
  until: part({ label: 'what ends it', kinds: ends, optional: true }),
} as const

export function defineCue<const S extends Slots>(kind: Cue<S>): Cue<S> {
  return { ...kind, slots: { ...kind.slots, ...timeSlots } }
}

/** Slots that cues share. */
export const cueSlots = {
  loop: name({ label: 'loop or push', of: 'cued' }),
  at: number({ label: 'time', unit: 's', least: 0, most: 1e5 }),
  by: number({ label: 'rise', unit: '' }),
  over: number({ label: 'duration', unit: 's', above: 0, most: 1e5 }),
} as const

/** s over which what a cue does comes in and goes; at once where it is 0. */
export const fade = number({ label: 'time to come and go', unit: 's', least: 0, most: 1e5, otherwise: 0 })
