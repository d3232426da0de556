import { add, and, less, mul, not, select, sub, uniform } from '../expression'
import type { Assignment, Flag, NumberNode, Scalar } from '../expression'
import { partAt } from '../document'
import type { Document, LoopPart, Part } from '../document'
import { estimatorsOf, lawOf, seenBy } from '../control'
import { errorOf, errorPath, findHeld, samplesLate, sensorSignals } from '../machine'
import type { ErrorSlot, SensorSignal } from '../machine'
import { due } from './integration'
import type { Put } from './happenings'
import { slotOf } from './layout'
import { normalPair } from './noise'
import type { SampledSensor, SensorResult } from './sensed'
import { asShown } from './sensorEnds'
import type { PlantContext, RestRead, SensorTiming } from './trialPlant'

/** The readings of a machine's sensors that some loop reads as measured, or an estimator. */
export function sensorsRead(document: Document, machineName: string): readonly SensorSignal[] {
  const machine = document.machines[machineName]!
  const byLoops = Object.values(document.loops).flatMap((loop) =>
    loop.machine === machineName && loop.reads === 'measured' ? readBy(loop, machine) : [],
  )
  const own = estimatorsOf(document, machineName)
  const read = new Set([...byLoops, ...own.flatMap(({ part, kind }) => kind.reads(part))])
  const named = new Set(own.flatMap(({ part, kind }) => Object.keys(kind.needs ?? {}).map((slot) => part[slot])))
  return sensorSignals(machine).filter(({ name, quantities }) => named.has(name) || quantities.some((one) => read.has(one)))
}

/** What a loop reads of its machine: what it holds, the rate of that where its law acts on it, and other signals. */
export function readBy(loop: LoopPart, machine: Part): readonly string[] {
  const { readsRate, signals } = lawOf(loop)
  const holds = loop.holds
  const read = readsRate ? seenBy(machine, holds, signals) : [holds, ...signals]
  // a tilt follows from the attitude that is read
  return [...new Set(read.flatMap((quantity) => findHeld(machine, quantity)?.vector?.attitude ?? [quantity]))]
}

interface SensorBlocksContext extends Pick<PlantContext, 'name' | 'layers' | 'layout' | 'truth' | 'trueMachine'>, SensorTiming {
  readonly machine: Part
  readonly sensors: readonly SensorSignal[]
  readonly exact: ReadonlyMap<string, NumberNode>
  /** What is read before the first sample. */
  readonly rest: RestRead
}

/** Streams of noise that lie beside those of observers. */
const firstStream = 65_536
const streamsEach = 4

/**
 * Sensors of a machine as sampled blocks: true value whole samples ago, with bias, drift and noise, limited, rounded; a lost
 * sample repeats the one before. As `measure` does along a record; a delay counts up to whole samples.
 */
export function mechanismSensorBlocks(context: SensorBlocksContext): {
  readonly result: SensorResult
  readonly sensors: ReadonlyMap<string, SampledSensor>
} {
  const { layout, layers, machine, trueMachine, exact: truths, seed, tick, baseRate } = context
  const measured = new Map<string, Scalar>()
  const result: SensorResult = { blocks: [], signals: { measured, estimated: new Map() }, columns: [], initial: [] }
  const sensors = new Map<string, { readonly read: Map<string, Scalar>; readonly fresh: Flag }>()
  const errs = layers.has('sensorErrors')
  const numbers = context.truth(mul(tick, 1 / baseRate))
  context.sensors.forEach(({ name, path, part, kind, index, reading, own, quantities }, k) => {
    const number = (slot: string) => (part[slot] as number | undefined) ?? 0
    const err = (slot: ErrorSlot) =>
      errorOf(part, kind, index, slot) === undefined ? 0 : numbers(`${path}.${errorPath(kind, index, slot)}`)
    // what a trial leaves at 0 costs nothing
    const truly = partAt(trueMachine, path)!
    const drifts = (errorOf(truly, kind, index, 'drift') ?? 0) !== 0
    const drops = ((truly.dropout as number | undefined) ?? 0) !== 0
    const rate = number('rate')
    const every = Math.round(baseRate / rate)
    const stream = firstStream + streamsEach * k
    const exact = truths.get(own)!
    const waiting = layout.many(errs ? samplesLate(part) : 0)
    const [value, drift] = layout.many(2) as [NumberNode, NumberNode]
    // two numbers are drawn at once: the next reading of the same sensor takes the other
    const isSecond = index % 2 === 1
    const noise = normalPair(seed, isSecond ? stream - streamsEach : stream, tick)[isSecond ? 1 : 0]
    const [step] = drifts ? normalPair(seed, stream + 1, tick) : [0]
    const wandered = add(drift, mul(mul(err('drift'), 1 / Math.sqrt(rate)), step))
    const drawn = add(add(err('bias'), wandered), mul(mul(err('noise'), Math.sqrt(rate / 2)), noise))
    const restOf = (signal: string) => context.rest.held(signal) ?? context.rest.held(quantities[0] ?? own) ?? 0
    const rest = restOf(own)
    const more: Assignment[] = []
    const put: Put = (node, next, first) => {
      more.push({ slot: slotOf(node), value: next })
      result.initial.push({ slot: slotOf(node), value: first })
    }
    // a fault sits behind the sensor: on the reading by the name of any quantity that it tells
    const faulty = (given: Scalar) =>
      quantities.reduce((now, quantity) => context.alter(`${context.name}.${quantity}.measured`, now, 1 / rate, rest, put), given)
    const told = add(waiting[0] ?? exact, drawn)
    const seen = faulty(asShown(told, part, (slot) => numbers(`${path}.${slot}`)))
    const isLost = less(uniform(seed, 2 * (stream + 2), tick), part.dropout === undefined ? 0 : numbers(`${path}.dropout`))
    const values = errs
      ? [
          { slot: slotOf(value), value: drops ? select(isLost, value, seen) : seen },
          ...(drifts ? [{ slot: slotOf(drift), value: wandered }] : []),
          ...waiting.map((node, i) => ({ slot: slotOf(node), value: waiting[i + 1] ?? exact })),
        ]
      : [{ slot: slotOf(value), value: faulty(exact) }]
    values.push(...more)
    for (const node of [value, drift, ...waiting]) result.initial.push({ slot: slotOf(node), value: node === drift ? 0 : rest })
    for (const quantity of quantities) {
      // a place may count from elsewhere than its sensor does
      const away = sub(rest, restOf(quantity))
      const shown = away === 0 ? value : sub(value, away)
      measured.set(quantity, shown)
      const { label, unit } = findHeld(machine, quantity)!
      result.columns.push({
        ...{
          name: `${context.name}.${quantity}.measured`,
          label: `${label} measured`,
          unit,
          role: 'measured',
          every,
          value: shown,
        },
      })
    }
    const comes = due(tick, every)
    const fresh = errs && drops ? and(comes, not(isLost)) : comes
    const readings = sensors.get(name) ?? { read: new Map<string, Scalar>(), fresh }
    readings.read.set(reading, value)
    sensors.set(name, readings)
    // readings of one sensor are sampled together
    const block = result.blocks.find((one) => one.name === `sensor_${name}`)
    if (block === undefined) result.blocks.push({ name: `sensor_${name}`, every, values })
    else block.values.push(...values)
  })
  const sampled = [...sensors].map(([name, { read, fresh }]) => [name, { read: (one: string) => read.get(one)!, fresh }] as const)
  return { result, sensors: new Map(sampled) }
}
