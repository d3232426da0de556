import { add, less, mul, select, uniform } from '../expression'
import type { NumberNode, Scalar } from '../expression'
import type { Document, Part } from '../document'
import { lawOf, lowPassEstimator, observerKind, seenBy } from '../control'
import { findHeld, measuringSensors } from '../machine'
import type { MeasuringSensor } from '../machine'
import { slotOf } from './layout'
import { normalPair } from './noise'
import type { SensorResult } from './sensed'
import { asShown } from './sensorEnds'
import type { PlantContext, SensorTiming } from './trialPlant'

/** The sensors of a machine that some loop reads as measured, or an estimator. */
export function sensorsRead(document: Document, machineName: string): readonly MeasuringSensor[] {
  const machine = document.machines[machineName]!
  const byLoops = Object.values(document.loops).flatMap((loop) =>
    loop.machine === machineName && loop.reads === 'measured' ? readBy(loop, machine) : [],
  )
  const byEstimators = Object.values(document.estimators).flatMap((part): string[] => {
    if (part.machine !== machineName) return []
    if (part.kind === lowPassEstimator.name) return [part.signal as string]
    if (part.kind !== observerKind.name) return []
    return Object.values(part.reads as Readonly<Record<string, Part>>).map(({ signal }) => signal as string)
  })
  const read = new Set([...byLoops, ...byEstimators])
  return measuringSensors(machine).filter(({ quantity }) => read.has(quantity))
}

/** What a loop reads of its machine: what it holds, the rate of that where its law acts on it, and other signals. */
export function readBy(loop: Part, machine: Part): readonly string[] {
  const { readsRate, signals } = lawOf(loop)
  const holds = loop.holds as string
  const read = readsRate ? seenBy(machine, holds, signals) : [holds, ...signals]
  // a tilt follows from the attitude that is read
  return [...new Set(read.flatMap((quantity) => findHeld(machine, quantity)?.vector?.attitude ?? [quantity]))]
}

interface SensorBlocksContext extends Pick<PlantContext, 'name' | 'layers' | 'layout' | 'parameter'>, SensorTiming {
  readonly machine: Part
  readonly sensors: readonly MeasuringSensor[]
  readonly truth: ReadonlyMap<string, NumberNode>
  /** What is read before the first sample. */
  readonly rest: Readonly<Record<string, number>>
}

/** Streams of noise that lie beside those of observers. */
const firstStream = 65_536
const streamsEach = 4

/**
 * Sensors of a mechanism as sampled blocks: true value whole samples ago, with bias, drift and noise, limited, rounded; a lost
 * sample repeats the one before. As `measure` does along a record; a delay counts up to whole samples.
 */
export function mechanismSensorBlocks(context: SensorBlocksContext): SensorResult {
  const { layout, layers, machine, sensors, truth, seed, tick, baseRate, parameter } = context
  const measured = new Map<string, Scalar>()
  const result: SensorResult = { blocks: [], signals: { measured, estimated: new Map() }, columns: [], initial: [] }
  const errs = layers.has('sensorErrors')
  sensors.forEach(({ name, path, part, quantity }, k) => {
    const number = (slot: string) => (part[slot] as number | undefined) ?? 0
    const rate = number('rate')
    const every = Math.round(baseRate / rate)
    const stream = firstStream + streamsEach * k
    const exact = truth.get(quantity)!
    const waiting = layout.many(errs ? Math.ceil(number('delay') * rate - 1e-9) : 0)
    const [value, drift] = layout.many(2) as [NumberNode, NumberNode]
    const read = (slot: string) => parameter(`${path}.${slot}`, number(slot))
    const [noise, step] = normalPair(seed, stream, tick)
    const wandered = add(drift, mul(mul(read('drift'), 1 / Math.sqrt(rate)), step!))
    const drawn = add(add(read('bias'), wandered), mul(mul(read('noise'), Math.sqrt(rate / 2)), noise!))
    const seen = asShown(add(waiting[0] ?? exact, drawn), part)
    const isLost = less(uniform(seed, 2 * (stream + 2), tick), read('dropout'))
    const values = errs
      ? [
          { slot: slotOf(value), value: number('dropout') === 0 ? seen : select(isLost, value, seen) },
          { slot: slotOf(drift), value: wandered },
          ...waiting.map((node, i) => ({ slot: slotOf(node), value: waiting[i + 1] ?? exact })),
        ]
      : [{ slot: slotOf(value), value: exact }]
    const rest = context.rest[quantity] ?? 0
    for (const node of [value, drift, ...waiting]) result.initial.push({ slot: slotOf(node), value: node === drift ? 0 : rest })
    measured.set(quantity, value)
    const { label, unit } = findHeld(machine, quantity)!
    result.columns.push({
      ...{ name: `${context.name}.${quantity}.measured`, label: `${label} measured`, unit, role: 'measured', every, value },
    })
    result.blocks.push({ name: `sensor_${name}_${k}`, every, values })
  })
  return result
}
