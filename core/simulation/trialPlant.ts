import type { Assignment, NumberNode, Scalar, Statement } from '../expression'
import type { Part } from '../document'
import type { AnyLayer, Read } from '../machine'
import type { Put } from './happenings'
import type { Layout } from './layout'
import type { Looks } from './looks'
import type { AsPredicted } from './partlyLinear'
import type { Column } from './record'
import type { MeasuredSignals, SampledBlock } from './sensed'

export type ShownColumn = Column & { readonly value: Scalar }

/** What of a machine is kept in memory at every tick: for loops by name, for the record as columns. */
export interface ObservedPlant {
  readonly truth: ReadonlyMap<string, NumberNode>
  readonly values: readonly Assignment[]
  readonly columns: readonly ShownColumn[]
  /** What has to be worked out before the values. */
  readonly before: readonly Statement[]
}

export interface PlantSensors {
  readonly blocks: readonly SampledBlock[]
  readonly signals: MeasuredSignals
  readonly columns: readonly ShownColumn[]
  readonly initial: readonly Assignment[]
}

export interface PlantContext {
  readonly name: string
  readonly layers: ReadonlySet<AnyLayer>
  readonly asPredicted?: AsPredicted
  readonly layout: Layout
  /** The machine as the trial truly has it: what of it is structure. */
  readonly trueMachine: Part
  /** The same as the trial changes its numbers, without what is around it in the trial: of this the linear form is taken. */
  readonly atRest: Part
  /** Numbers as they truly are in the trial at a time, s, and as the model knows them. */
  readonly truth: (time: Scalar) => Read
  readonly known: Read
  readonly parameter: (path: string, value: number) => NumberNode
  /** How it looks at what stands around. */
  readonly looks: Looks
}

/** Where a machine rests in memory, by name; nothing of what it does not know. */
export interface RestRead {
  readonly state: (name: string) => Scalar | undefined
  readonly held: (quantity: string) => Scalar | undefined
  /** As a number, for what is laid out by it. */
  readonly number: (quantity: string) => number | undefined
}

/** A signal as those get it who read it: what faults of the trial make of it. */
export type Alter = (signal: string, value: Scalar, dt: number, start: Scalar, put: Put) => Scalar

export interface SensorTiming {
  readonly alter: Alter

  readonly seed: Scalar
  readonly tick: Scalar
  readonly baseRate: number
  /** What was asked of the machine up to now. */
  readonly asked: readonly Scalar[]
}

/** A machine as a program runs it under its loops, of whatever kind it is. */
export interface TrialPlant {
  readonly stateNames: readonly string[]
  /** What is asked of it from outside: speeds of rotors, inputs. */
  readonly askedCount: number
  /** Drives that are asked, by the place of what is asked of them; then the pushes that are spread over them. */
  readonly inputs: readonly string[]
  /** s between states of a sampled machine; its rates are then its next states. */
  readonly sampleTime: number | undefined
  readonly rates: (
    states: readonly Scalar[],
    asked: readonly Scalar[],
    time: Scalar,
  ) => { readonly rates: readonly Scalar[]; readonly before: readonly Statement[] }
  readonly observe: (states: readonly Scalar[], asked: readonly Scalar[], time: Scalar) => ObservedPlant
  readonly sensors: (timing: SensorTiming) => PlantSensors
  /** What pushes ask of it, by the name of the push. */
  readonly ask: (pushes: ReadonlyMap<string, Scalar>) => readonly Scalar[]
  /** What holds it at the operating point, as the model knows it, by the name of the push. */
  readonly holding: ReadonlyMap<string, Scalar>
  readonly rest: RestRead
  readonly startStates: readonly Scalar[]
  readonly startAsked: readonly Scalar[]
}
