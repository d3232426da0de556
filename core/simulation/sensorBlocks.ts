import { add, clamp, mul, sub } from '../expression'
import type { Assignment, NumberNode, Scalar } from '../expression'
import { dot, minus, upInBody } from '../algebra'
import type { Vector } from '../algebra'
import type { Part } from '../document'
import { inertialSensor, positionFixes, rangeFinder, trueRange } from '../machine'
import { estimatorBlocks } from './estimatorBlocks'
import { slotOf } from './layout'
import { lowPassBlocks } from './lowPassBlocks'
import { normalPair } from './noise'
import type { FixReading, InertialReading, RangeReading, SensorContext, SensorResult } from './sensed'

/** Sensors and estimators of a machine as sampled blocks, sensors first. */
export function sensorBlocks(context: SensorContext): SensorResult {
  const result: SensorResult = { blocks: [], signals: { measured: new Map(), estimated: new Map() }, columns: [], initial: [] }
  const ranges = new Map<string, RangeReading>()
  const inertials = new Map<string, InertialReading>()
  const fixes = new Map<string, FixReading>()
  Object.entries(context.machine.sensors as Readonly<Record<string, Part>>).forEach(([name, part], i) => {
    const stream = 8 * (i + 1) // each sensor has a few streams of its own
    if (part.kind === rangeFinder.name) ranges.set(name, rangeBlock(context, result, name, part, stream))
    else if (part.kind === inertialSensor.name) inertials.set(name, inertialBlock(context, result, name, part, stream))
    else if (part.kind === positionFixes.name) fixes.set(name, fixBlock(context, result, name, part, stream))
  })
  for (const [name, part] of Object.entries(context.document.estimators)) {
    if (part.machine !== context.machineName) continue
    const inertial = inertials.get(part.inertial as string)!
    const read = { inertial, range: ranges.get(part.range as string), fixes: fixes.get(part.fixes as string) }
    estimatorBlocks[part.kind]?.(context, result, name, part, read)
  }
  lowPassBlocks({ ...context, name: context.machineName, truth: context.observed.quantities }, result)
  return result
}

function rangeBlock(context: SensorContext, result: SensorResult, name: string, part: Part, stream: number): RangeReading {
  const { layout, layers, truth, known, observed, seed, tick } = context
  const every = Math.round(context.baseRate / (part.rate as number))
  const path = `sensors.${name}`
  const at = [0, 1, 2].map((k) => truth(`${path}.at.${k}`)) as unknown as Vector
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
  const knownAt = [0, 1, 2].map((k) => known(`${path}.at.${k}`)) as unknown as Vector
  const arm = minus(knownAt, context.knownCentre)
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
  return { range, freshAt, least: known(`${path}.least`), most: known(`${path}.most`), arm }
}

function fixBlock(context: SensorContext, result: SensorResult, name: string, part: Part, stream: number): FixReading {
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
  return { fix, freshAt: nodes[3] }
}

function inertialBlock(context: SensorContext, result: SensorResult, name: string, part: Part, stream: number): InertialReading {
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
  return { quantities, specificForce, every }
}
