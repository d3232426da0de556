import type { Part } from '../document'
import { totalMass } from './totalMass'
import { isBodiless } from './bodiless'
import { mechanismSensors } from './mechanismSensors'
import { bodiesOf } from './linkedBody'

/** What a part on a coordinate of a machine must reckon with. */
interface Size {
  /** N·m about a turning coordinate, N along a sliding one: the weight of the machine at its own reach. */
  readonly effort: number
  /** Where the coordinate starts, and how far it may be thought to go to either side, rad or m. */
  readonly start: number
  readonly reach: number
}

/** Hz: common for encoders and their like; an order above what a joint of a machine does (common practice, no source). */
const sensorRate = 200
/** Drives that hold three times the machine's own weight: common practice, no source. */
const spare = 3
/** An ordinary small motor: 24 V, 1 Ω, 1 mH, 0.05 N·m/A (common practice, no source). */
const ordinaryMotor = { resistance: 1, inductance: 1e-3, constant: 0.05, drag: 1e-5, voltage: 24 }
const stallTorque = (ordinaryMotor.constant * ordinaryMotor.voltage) / ordinaryMotor.resistance

/**
 * What a new part of a kind starts with on a machine, by slot: of the size of the machine, instead of 1 or 0 in every unit.
 * Nothing for kinds whose numbers have no better guess.
 */
export function freshNumbers(machine: Part, kind: string, joint: string): Readonly<Record<string, number>> {
  if (kind === 'signalSensor' || mechanismSensors.some(({ name }) => name === kind)) return { rate: sensorRate }
  const of = byKind[kind]
  return of === undefined || isBodiless(machine) || machine.bodies === undefined ? {} : of(sizeOf(machine, joint))
}

const geared = ({ effort }: Size) => rounded((spare * effort) / stallTorque)
const servoSlots = ({ effort, start, reach }: Size) => ({
  ...{ least: start - reach, most: start + reach, mostRate: 4 * reach },
  ...{ stiffness: rounded(100 * effort), holding: rounded(5 * effort), mostEffort: rounded(spare * effort) },
})

const byKind: Readonly<Record<string, (size: Size) => Readonly<Record<string, number>>>> = {
  effortDrive: ({ effort }) => ({ most: rounded(spare * effort) }),
  dcMotor: (size) => ({ ...ordinaryMotor, gear: geared(size) }),
  gearMotor: (size) => ({
    ...{ ...ordinaryMotor, gear: geared(size), efficiency: 0.9, play: 0, rotorInertia: 1e-5 },
    ...{ stiffness: rounded(300 * size.effort), damping: rounded(size.effort) },
  }),
  sheetMotor: (size) => ({
    ...{ voltage: 24, stallTorque, stallCurrent: 24, freeSpeed: 480, freeCurrent: 0.2, inductance: 1e-3, gear: geared(size) },
  }),
  firstOrderServo: (size) => ({ lag: 0.05, ...servoSlots(size) }),
  servo: (size) => ({ bandwidth: 30, damping: 0.7, ...servoSlots(size) }),
  jointStops: ({ effort, start, reach }) => ({
    ...{ least: start - reach, most: start + reach, stiffness: rounded(100 * effort), damping: rounded(effort) },
  }),
  jointSpring: ({ effort, start }) => ({ stiffness: rounded(2 * effort), damping: rounded(0.2 * effort), rest: start }),
  jointFriction: ({ effort }) => ({
    ...{ sliding: rounded(0.02 * effort), breakaway: rounded(0.03 * effort), viscous: rounded(0.02 * effort) },
    ...{ stribeck: 0.05, smooth: 0.005 },
  }),
  battery: () => ({ full: 25.2, empty: 18, resistance: 0.05, capacitance: 1e-3, charge: 18_000 }),
}

function sizeOf(machine: Part, joint: string): Size {
  const bodies = Object.entries(bodiesOf(machine))
  const [body, coordinate] = joint.split('.') as [string, string | undefined]
  const number = (value: unknown, otherwise: number) => (typeof value === 'number' && Number.isFinite(value) ? value : otherwise)
  const gravity = number(machine.gravity, 0) || 9.80665
  const far = bodies.flatMap(([, { centre, joint: own }]) => [centre, (own)?.at]).flatMap((at) => (Array.isArray(at) ? at : [])) // prettier-ignore
  const size = Math.max(0.05, ...far.map((value) => Math.abs(number(value, 0))))
  const weight = Math.max(1e-3, number(totalMass(machine), 1)) * gravity
  const isSliding = coordinate === 'travel'
  const start = number(bodies.find(([name]) => name === body)?.[1].joint?.start, 0)
  return { effort: isSliding ? weight : weight * size, start, reach: isSliding ? size : 1.5 }
}

/** Two digits: a guess should look like one. */
function rounded(value: number): number {
  return Number(value.toPrecision(2))
}
