import { add, clamp, equal, mul, sub } from '../expression'
import type { Assignment, NumberNode, Scalar } from '../expression'
import { dot, minus, upInBody } from '../algebra'
import type { Vector } from '../algebra'
import type { Part } from '../document'
import { inertialSensor, positionFixes, rangeFinder, readVector, trueRange } from '../machine'
import { estimatorBlocks } from './estimatorBlocks'
import { due } from './integration'
import { slotOf } from './layout'
import { normalPair } from './noise'
import type { SampledSensor, SensorContext, SensorResult } from './sensed'

/** Sensors and estimators of a lifter as sampled blocks, sensors first. */
export function sensorBlocks(context: SensorContext): SensorResult {
  const result: SensorResult = { blocks: [], signals: { measured: new Map(), estimated: new Map() }, columns: [], initial: [] }
  const sensors = new Map<string, SampledSensor>()
  Object.entries(context.machine.sensors as Readonly<Record<string, Part>>).forEach(([name, part], i) => {
    const stream = 8 * (i + 1) // each sensor has a few streams of its own
    if (part.kind === rangeFinder.name) sensors.set(name, rangeBlock(context, result, name, part, stream))
    else if (part.kind === inertialSensor.name) sensors.set(name, inertialBlock(context, result, name, part, stream))
    else if (part.kind === positionFixes.name) sensors.set(name, fixBlock(context, result, name, part, stream))
  })
  const { machineName: name, observed, layers } = context
  const errs = layers.has('sensorNoise')
  estimatorBlocks({ ...context, name, truth: observed.quantities, rest: {}, asked: [], sensors, errs }, result)
  return result
}

function rangeBlock(context: SensorContext, result: SensorResult, name: string, part: Part, stream: number): SampledSensor {
  const { layout, layers, truth, known, observed, seed, tick } = context
  const every = Math.round(context.baseRate / (part.rate as number))
  const path = `sensors.${name}`
  const at = readVector(truth, `${path}.at`)
  const [range, freshAt] = layout.many(2) as [NumberNode, NumberNode]
  const exact = trueRange(
    { orientation: observed.orientation as never, position: observed.position },
    at,
    context.centre,
    truth('ground'),
  )
  const noise = layers.has('sensorNoise') ? mul(truth(`${path}.noise`), normalPair(seed, stream, tick)[0]) : 0
  const reading = clamp(add(exact, noise), truth(`${path}.least`), truth(`${path}.most`))
  result.blocks.push({
    name: `sensor_${name}`,
    every,
    values: [
      { slot: slotOf(range), value: reading },
      { slot: slotOf(freshAt), value: tick },
    ],
  })
  const arm = minus(readVector(known, `${path}.at`), context.knownCentre)
  const orientationNow = upInBody(observed.quantities.get('roll')!, observed.quantities.get('pitch')!)
  // the height that the reading alone tells, for people to compare: turned upright with the true attitude
  const height = add(sub(mul(range, orientationNow[2]), dot(orientationNow, arm)), known('ground'))
  result.columns.push(
    { name: `${context.machineName}.${name}.range`, label: `${name} range`, unit: 'm', role: 'measured', every, value: range },
    {
      name: `${context.machineName}.height.measured`,
      label: 'height measured',
      unit: 'm',
      role: 'measured',
      every,
      value: height,
    },
  )
  result.initial.push({ slot: slotOf(range), value: 0 }, { slot: slotOf(freshAt), value: -1 })
  result.signals.measured.set('height', height)
  return { read: () => range, fresh: equal(freshAt, tick) }
}

function fixBlock(context: SensorContext, result: SensorResult, name: string, part: Part, stream: number): SampledSensor {
  const { layout, layers, truth, observed, seed, tick } = context
  const every = Math.round(context.baseRate / (part.rate as number))
  const noises = [...normalPair(seed, stream, tick), ...normalPair(seed, stream + 1, tick)]
  const nodes = layout.many(4) as [NumberNode, NumberNode, NumberNode, NumberNode]
  const fix = [nodes[0], nodes[1], nodes[2]] as const
  const values = fix.map((node, k) => {
    const noise = layers.has('sensorNoise') ? mul(truth(`sensors.${name}.noise`), noises[k]!) : 0
    return { slot: slotOf(node), value: add(observed.position[k]!, noise) }
  })
  result.blocks.push({ name: `sensor_${name}`, every, values: [...values, { slot: slotOf(nodes[3]), value: tick }] })
  nodes.forEach((node, k) => result.initial.push({ slot: slotOf(node), value: k === 3 ? -1 : 0 }))
  for (const [k, quantity] of (['east', 'north', 'height'] as const).entries()) {
    // a range finder tells the height better
    if (quantity === 'height' && result.signals.measured.has('height')) continue
    result.signals.measured.set(quantity, fix[k]!)
    result.columns.push({
      ...{ name: `${context.machineName}.${quantity}.measured`, label: `${quantity} measured`, unit: 'm', role: 'measured' },
      ...{ every, value: fix[k]! },
    })
  }
  return { read: (axis) => fix['xyz'.indexOf(axis)]!, fresh: equal(nodes[3], tick) }
}

/** The readings of an inertial sensor by what they are of the machine. */
const housing: Readonly<Record<string, string>> = { rollRate: 'rateX', pitchRate: 'rateY', yawRate: 'rateZ' }

function inertialBlock(context: SensorContext, result: SensorResult, name: string, part: Part, stream: number): SampledSensor {
  const { layout, layers, truth, observed, seed, tick } = context
  const every = Math.round(context.baseRate / (part.rate as number))
  const values: Assignment[] = []
  const pairs = [0, 1, 2, 3, 4].map((k) => normalPair(seed, stream + k, tick)).flat()
  let channel = 0
  const drift = layers.has('sensorNoise') ? truth(`sensors.${name}.gyroDrift`) : 0
  const sample = (exact: Scalar, deviation: string): NumberNode => {
    const noise = layers.has('sensorNoise') ? mul(truth(`sensors.${name}.${deviation}`), pairs[channel]!) : 0
    channel++
    const node = layout.one()
    values.push({ slot: slotOf(node), value: add(exact, deviation === 'gyroNoise' ? add(noise, drift) : noise) })
    result.initial.push({ slot: slotOf(node), value: 0 })
    return node
  }
  const channels: [string, string][] = [
    ['rollRate', 'gyroNoise'],
    ['pitchRate', 'gyroNoise'],
    ['yawRate', 'gyroNoise'],
    ['roll', 'attitudeNoise'],
    ['pitch', 'attitudeNoise'],
    ['heading', 'attitudeNoise'],
  ]
  const quantities = new Map(channels.map(([quantity, noise]) => [quantity, sample(observed.quantities.get(quantity)!, noise)]))
  const specificForce = observed.specificForce.map((value) => sample(value, 'accelerometerNoise')) as unknown as Vector
  result.blocks.push({ name: `sensor_${name}`, every, values })
  for (const [quantity, value] of quantities) result.signals.measured.set(quantity, value)
  const own = [...quantities].map(([quantity, value]) => [housing[quantity] ?? quantity, value] as const)
  const forces = specificForce.map((value, i) => [`force${'XYZ'[i]!}`, value] as const)
  const all = new Map([...own, ...forces])
  return { read: (reading) => all.get(reading)!, fresh: due(tick, every) }
}
