import type { Assignment, Flag, NumberNode, Scalar } from '../expression'
import type { Vector } from '../algebra'
import type { Document, Part } from '../document'
import type { Layers, Read } from '../machine'
import type { Layout } from './layout'
import type { Column } from './record'

/** A block of values that is computed every so many ticks. */
export interface SampledBlock {
  readonly name: string
  readonly every: number
  readonly values: Assignment[]
}

/** What laws can read, by quantity. */
export interface MeasuredSignals {
  readonly measured: ReadonlyMap<string, Scalar>
  readonly estimated: ReadonlyMap<string, Scalar>
}

export interface SensorContext {
  readonly document: Document
  readonly machineName: string
  readonly machine: Part
  readonly layers: Layers
  readonly layout: Layout
  readonly seed: Scalar
  readonly tick: Scalar
  readonly truth: Read
  readonly known: Read
  readonly observed: {
    readonly quantities: ReadonlyMap<string, Scalar>
    readonly orientation: readonly Scalar[]
    readonly specificForce: Vector
    readonly position: Vector
  }
  readonly centre: Vector
  readonly knownCentre: Vector
  readonly baseRate: number
  readonly parameter: (path: string, value: number) => NumberNode
}

export interface SensorResult {
  readonly blocks: SampledBlock[]
  readonly signals: { readonly measured: Map<string, Scalar>; readonly estimated: Map<string, Scalar> }
  readonly columns: (Column & { readonly value: Scalar })[]
  readonly initial: Assignment[]
}

/** A sensor as estimators see it: what it gave last. */
export interface SampledSensor {
  readonly read: (reading: string) => Scalar
  /** It sampled at this tick, and the sample was not lost. */
  readonly fresh: Flag
}
