import { and, equal, select, square } from '../expression'
import type { NumberNode, Scalar } from '../expression'
import { attitude, rotation } from '../algebra'
import type { Quaternion, Vector } from '../algebra'
import {
  heightFilter,
  heightFilterMemory,
  heightFilterStep,
  insideRange,
  poseFilter,
  poseFilterStep,
  poseMemory,
  poseStart,
  tiltFilter,
  tiltFilterStep,
} from '../control'
import type { Part } from '../document'
import { valuesOf } from '../kinds'
import { findHeld } from '../machine'
import { slotOf } from './layout'
import type { FixReading, InertialReading, RangeReading, SensorContext, SensorResult } from './sensed'

const ratesOf = ({ quantities }: InertialReading): Vector => [
  quantities.get('rollRate')!,
  quantities.get('pitchRate')!,
  quantities.get('yawRate')!,
]

/** What an estimator reads; range and fixes where its kind asks for them. */
interface Read {
  readonly inertial: InertialReading
  readonly range: RangeReading | undefined
  readonly fixes: FixReading | undefined
}

type EstimatorBlock = (context: SensorContext, result: SensorResult, name: string, part: Part, read: Read) => void

/** Height and climb rate by a Kalman filter, at every inertial sample. */
const heightBlock: EstimatorBlock = (context, result, name, part, { inertial, range }) => {
  const { layout, known, tick, parameter } = context
  const values = valuesOf(heightFilter, part)
  const number = (slot: 'accelerationNoise' | 'rangeNoise' | 'startHeight' | 'startRate') =>
    parameter(`estimators.${name}.${slot}`, values[slot])
  const memory = layout.many(heightFilterMemory.length)
  const inside = insideRange(range!.range, range!.least, range!.most)
  const next = heightFilterStep(memory, {
    roll: inertial.quantities.get('roll')!,
    pitch: inertial.quantities.get('pitch')!,
    specificForce: inertial.specificForce,
    gravity: known('gravity'),
    fresh: and(equal(range!.freshAt, tick), inside.reduce(and)),
    range: range!.range,
    arm: range!.arm,
    ground: known('ground'),
    accelerationNoise: number('accelerationNoise'),
    rangeNoise: number('rangeNoise'),
    dt: sinceLast(context, inertial),
  })
  const block = memory.map((node, i) => ({ slot: slotOf(node), value: next[i]! }))
  const starts = [0, 0, square(number('startHeight')), 0, square(number('startRate'))]
  memory.forEach((node, i) => result.initial.push({ slot: slotOf(node), value: starts[i]! }))
  result.blocks.push({ name: `estimator_${name}`, every: inertial.every, values: block })
  for (const [i, quantity] of ['height', 'climbRate'].entries()) estimate(context, result, quantity, memory[i]!)
}

/** Roll and pitch by a complementary filter, at every inertial sample. */
const tiltBlock: EstimatorBlock = (context, result, name, part, { inertial }) => {
  const memory = context.layout.many(2) as [NumberNode, NumberNode]
  const shown = context.layout.many(2) as [NumberNode, NumberNode]
  const { tilt, innovations } = tiltFilterStep(memory, {
    rates: ratesOf(inertial),
    specificForce: inertial.specificForce,
    timeConstant: context.parameter(`estimators.${name}.timeConstant`, valuesOf(tiltFilter, part).timeConstant),
    dt: sinceLast(context, inertial),
  })
  const values = [...memory, ...shown].map((node, i) => ({ slot: slotOf(node), value: [...tilt, ...innovations][i]! }))
  for (const { slot } of values) result.initial.push({ slot, value: 0 })
  result.blocks.push({ name: `estimator_${name}`, every: inertial.every, values })
  for (const [i, quantity] of ['roll', 'pitch'].entries()) {
    estimate(context, result, quantity, memory[i]!)
    innovation(result, name, quantity, 'rad', inertial.every, shown[i]!)
  }
}

/** Attitude, velocity, position and drift by an extended Kalman filter, at every inertial sample. */
const poseBlock: EstimatorBlock = (context, result, name, part, { inertial, fixes }) => {
  const { fix, freshAt } = fixes!
  const { layout, known, tick, parameter } = context
  const values = valuesOf(poseFilter, part)
  const read = <Slot extends Exclude<keyof typeof values, 'machine' | 'inertial' | 'fixes'>>(slots: readonly Slot[]) =>
    Object.fromEntries(slots.map((slot) => [slot, parameter(`estimators.${name}.${slot}`, values[slot])])) as Record<Slot, Scalar>
  const memory = layout.many(poseMemory)
  const step = poseFilterStep(memory, {
    rates: ratesOf(inertial),
    specificForce: inertial.specificForce,
    gravity: known('gravity'),
    heading: inertial.quantities.get('heading')!,
    fix,
    fresh: equal(freshAt, tick),
    noises: read(['gyroNoise', 'accelerationNoise', 'driftNoise', 'fixNoise', 'headingNoise']),
    dt: sinceLast(context, inertial),
  })
  const block = memory.map((node, i) => ({ slot: slotOf(node), value: step.memory[i]! }))
  const start = poseStart([0, 0, 0], read(['startTilt', 'startSpeed', 'startPlace', 'startDrift']))
  memory.forEach((node, i) => result.initial.push({ slot: slotOf(node), value: start[i]! }))
  const keep = (value: Scalar): NumberNode => {
    const node = layout.one()
    block.push({ slot: slotOf(node), value })
    result.initial.push({ slot: slotOf(node), value: 0 })
    return node
  }
  const { roll, pitch, heading } = attitude(rotation(memory.slice(0, 4) as unknown as Quaternion))
  const estimates: Readonly<Record<string, Scalar>> = {
    ...{ roll, pitch, heading },
    ...{ eastRate: memory[4]!, northRate: memory[5]!, climbRate: memory[6]! },
    ...{ east: memory[7]!, north: memory[8]!, height: memory[9]! },
    ...Object.fromEntries(['rollRate', 'pitchRate', 'yawRate'].map((quantity, i) => [quantity, keep(step.rates[i]!)])),
  }
  for (const [quantity, value] of Object.entries(estimates)) estimate(context, result, quantity, value)
  for (const [i, quantity] of ['east', 'north', 'height'].entries())
    innovation(result, name, quantity, 'm', inertial.every, keep(step.innovations.fix[i]!))
  innovation(result, name, 'heading', 'rad', inertial.every, keep(step.innovations.heading))
  const surprise = keep(step.surprise)
  result.columns.push({
    ...{ name: `estimators.${name}.surprise`, label: 'surprise of a fix', unit: '', role: 'measured' },
    ...{ every: inertial.every, value: surprise },
  })
  for (const [i, axis] of ['x', 'y', 'z'].entries())
    result.columns.push({
      ...{ name: `estimators.${name}.drift.${axis}`, label: `drift about ${axis} estimate`, unit: 'rad/s', role: 'estimate' },
      value: memory[10 + i]!,
    })
  result.blocks.push({ name: `estimator_${name}`, every: inertial.every, values: block })
}

/** By kind of estimator. */
export const estimatorBlocks: Readonly<Record<string, EstimatorBlock>> = {
  [heightFilter.name]: heightBlock,
  [tiltFilter.name]: tiltBlock,
  [poseFilter.name]: poseBlock,
}

/** The first sample has nothing before it to move from. */
function sinceLast({ tick, baseRate }: SensorContext, { every }: InertialReading): Scalar {
  return select(equal(tick, 0), 0, every / baseRate)
}

function estimate({ machine, machineName }: SensorContext, result: SensorResult, quantity: string, value: Scalar): void {
  const { label, unit } = findHeld(machine, quantity)!
  result.signals.estimated.set(quantity, value)
  result.columns.push({
    ...{ name: `${machineName}.${quantity}.estimate`, label: `${label} estimate`, unit, role: 'estimate', value },
  })
}

function innovation(result: SensorResult, name: string, quantity: string, unit: string, every: number, value: Scalar): void {
  result.columns.push({
    ...{ name: `estimators.${name}.innovation.${quantity}`, label: `innovation of ${quantity}`, unit, role: 'measured' },
    ...{ every, value },
  })
}
