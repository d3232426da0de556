import { rememberedOf } from '../document'
import type { Document, Part } from '../document'
import { names } from '../linear'
import type { StateSpace } from '../linear'
import { measuringSensors, samplesLate } from '../machine'
import type { MeasuringSensor } from '../machine'
import { linearEstimators } from './estimators'
import type { LinearEstimator } from './estimators'
import { knownOf } from './trueNumbers'
import { asItIs, tiltTold } from './tiltTold'

/** By machine, which nobody changes in place. */
const known = new WeakMap<Part, Map<string, readonly LinearEstimator[]>>()

/**
 * What stands between a machine and its loops about rest: sensors that tell late or seldom, for loops that read what is
 * measured, and estimators, which read those sensors. `isLate` says whether sensors take their delays. The machine may be one
 * about another of its points.
 */
export function linearEyes(
  document: Document,
  machineName: string,
  isLate = true,
  machine = document.machines[machineName]!,
): readonly LinearEstimator[] {
  const loops = Object.values(document.loops).filter((loop) => loop.machine === machineName)
  const fastest = Math.max(0, ...loops.map(({ rate }) => rate))
  const key = `${machineName} ${fastest} ${isLate} ${JSON.stringify(Object.entries(document.estimators))}`
  return rememberedOf(known, machine, key, () => {
    const sensors = measuringSensors(machine)
    const delayOf = (sensor: Pick<MeasuringSensor, 'part'>) => (isLate ? samplesLate(sensor.part) / rateOf(sensor) : 0)
    const delays = new Map(sensors.flatMap((sensor) => [sensor.quantity, sensor.path].map((one) => [one, delayOf(sensor)])))
    const eyes = [
      ...sensors
        .filter((sensor) => delayOf(sensor) > 0 || rateOf(sensor) < fastest)
        .map((sensor) => behindSensors({ ...asItIs(sensor.quantity, 1 / rateOf(sensor)), ofSensor: true }, [delayOf(sensor)])),
      ...linearEstimators(document, machineName, knownOf(machine)).map((one) =>
        behindSensors(
          one,
          one.reads.map((quantity, i) => delays.get(one.by === undefined ? quantity : `sensors.${one.by[i]!}`) ?? 0),
        ),
      ),
    ]
    return [...eyes, ...tiltTold(machine, eyes)]
  })
}

function rateOf({ part }: Pick<MeasuringSensor, 'part'>): number {
  return part.rate
}

/** An estimator, or a sensor, that reads late: s, by what it reads, in whole samples of its own. */
function behindSensors(estimator: LinearEstimator, delays: readonly number[]): LinearEstimator {
  const { a, b, c, d, dt } = estimator.system
  const lines = delays.map((delay) => Math.ceil(delay / dt! - 1e-9))
  const waiting = lines.reduce((sum, one) => sum + one, 0)
  if (waiting === 0) return estimator
  const inputs = d[0]!.length
  const starts = lines.map((_, i) => a.length + lines.slice(0, i).reduce((sum, one) => sum + one, 0))
  const size = a.length + waiting
  const zeros = () => new Array<number>(size).fill(0)
  /** A row over states and inputs, with each late input at the end of its line. */
  const through = (states: readonly number[], given: readonly number[]) => {
    const row = [...states, ...new Array<number>(waiting).fill(0)]
    lines.forEach((late, i) => late > 0 && (row[starts[i]! + late - 1] = given[i]!))
    return { row, given: given.map((value, i) => ((lines[i] ?? 0) > 0 ? 0 : value)) }
  }
  const moved = a.map((row, i) => through(row, b[i]!))
  const shown = c.map((row, i) => through(row, d[i]!))
  const line = lines.flatMap((late, i) =>
    Array.from({ length: late }, (_, k) => {
      const row = zeros()
      if (k > 0) row[starts[i]! + k - 1] = 1
      return { row, given: Array.from({ length: inputs }, (__, j) => (k === 0 && j === i ? 1 : 0)) }
    }),
  )
  const whole = [...moved, ...line]
  const system: StateSpace = {
    ...{ a: whole.map(({ row }) => row), b: whole.map(({ given }) => given) },
    ...{ c: shown.map(({ row }) => row), d: shown.map(({ given }) => given) },
    dt,
    ...names(size, inputs, c.length),
  }
  return { ...estimator, system }
}
