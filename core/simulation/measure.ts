import { sqrt, uniform } from '../expression'
import type { Part } from '../document'
import { errorOf, sensorParts } from '../machine'
import type { ErrorSlot, MechanismLayers } from '../machine'
import type { FreeRecord } from './free'
import { normalPair } from './noise'
import type { FilledColumn } from './record'
import { asShown } from './sensorEnds'

/** Samples of one reading of a sensor. */
export interface Measured {
  /** `sensors.gyro.x` */
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly time: readonly number[]
  readonly values: readonly number[]
  /** Samples that were lost: there the last value stands. */
  readonly lost: readonly boolean[]
}

/** Numbers of one stream: noise, drift, dropout. */
const streamsPerReading = 4

/**
 * What the sensors of a mechanism read along a record that holds what they would read if they were perfect: the true
 * value a delay ago, plus bias, drift (a random walk) and white noise of density n, whose samples at rate f spread by
 * n sqrt(f/2); then rounded to the resolution, then limited; a lost sample repeats the one before (common practice, no
 * source). The same seed gives the same samples.
 */
export function measure(machine: Part, record: FreeRecord, layers: MechanismLayers, seed: number): Measured[] {
  let stream = 0
  return sensorParts(machine).flatMap(({ path, part, kind }) =>
    record.columns
      .filter(({ name }) => name === path || name.startsWith(`${path}.`))
      .map((column, index) => {
        const errs = (slot: ErrorSlot) => errorOf(part, kind, index, slot) ?? 0
        return samples(part, errs, column, record.time, layers, { seed, stream: streamsPerReading * stream++ })
      }),
  )
}

function samples(
  part: Part,
  err: (slot: ErrorSlot) => number,
  { name, label, unit, values: truth }: FilledColumn,
  time: Float64Array,
  layers: MechanismLayers,
  { seed, stream }: { seed: number; stream: number },
): Measured {
  const number = (slot: string) => (part[slot] as number | undefined) ?? 0
  const rate = number('rate')
  const errs = layers.has('sensorErrors')
  const count = Math.floor((time.at(-1) ?? 0) * rate) + 1
  const [times, values, lost]: [number[], number[], boolean[]] = [[], [], []]
  let drift = 0
  for (let k = 0; k < count; k++) {
    const t = k / rate
    times.push(t)
    if (!errs) {
      values.push(valueAt(truth, time, t))
      lost.push(false)
      continue
    }
    const [noise, step] = normalPair(seed, stream, k) as [number, number]
    if (k > 0) drift += err('drift') * sqrt(1 / rate) * step
    const drawn = err('bias') + drift + err('noise') * sqrt(rate / 2) * noise
    const gone = k > 0 && (uniform(seed, 2 * (stream + 2), k) as number) < number('dropout')
    lost.push(gone)
    values.push(gone ? values[k - 1]! : (asShown(valueAt(truth, time, t - number('delay')) + drawn, part, number) as number))
  }
  return { name, label, unit, time: times, values, lost }
}

/** Straight between the rows of a record, which are evenly spaced; its first value before it began. */
function valueAt(values: ArrayLike<number>, time: Float64Array, t: number): number {
  if (!(t > 0) || time.length < 2) return values[0]!
  const place = t / time[1]!
  const row = Math.min(Math.floor(place), time.length - 2)
  return values[row]! + (place - row) * (values[row + 1]! - values[row]!)
}
