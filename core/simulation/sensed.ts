import type { Assignment, Flag, Scalar } from '../expression'
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
