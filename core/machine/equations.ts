import { add, div, mul, neg, sub } from '../expression'
import type { Scalar } from '../expression'
import {
  applied,
  attitude,
  cross,
  dividedBy,
  dot,
  minus,
  plus,
  quaternionRate,
  rotation,
  scaled,
  solved,
  transposedRows,
} from '../algebra'
import type { Quaternion, Vector } from '../algebra'
import type { Part } from '../document'
import type { Layers } from './layers'
import { massProperties } from './massProperties'
import type { Read } from './read'
import { rotorMoment, rotorPlaces, rotorPositions, speedRate, thrustAtSpeed } from './rotorRing'

export interface StateInfo {
  readonly name: string
  readonly unit: string
  /** Value at rest at the origin; rotors are set by the operating point. */
  readonly atRest: number
}

/** Position and velocity of the centre of mass in world axes, attitude, rates in body axes, then rotor speeds. */
export function stateList(machine: Part, layers: Layers): StateInfo[] {
  const rigid: [string, string, number][] = [
    ['east', 'm', 0],
    ['north', 'm', 0],
    ['height', 'm', 0],
    ['attitude.w', '', 1],
    ['attitude.x', '', 0],
    ['attitude.y', '', 0],
    ['attitude.z', '', 0],
    ['eastRate', 'm/s', 0],
    ['northRate', 'm/s', 0],
    ['climbRate', 'm/s', 0],
    ['rollRate', 'rad/s', 0],
    ['pitchRate', 'rad/s', 0],
    ['yawRate', 'rad/s', 0],
  ]
  const rotors = layers.has('rotorLag') ? rotorCount(machine) : 0
  const speeds = Array.from({ length: rotors }, (_, i): [string, string, number] => [`rotor${i + 1}.speed`, 'rad/s', 0])
  return [...rigid, ...speeds].map(([name, unit, atRest]) => ({ name, unit, atRest }))
}

export function rotorCount(machine: Part): number {
  return (machine.rotors as { count: number }).count
}

export interface Motion {
  /** d/dt of the states, in their order. */
  readonly rates: Scalar[]
  readonly position: Vector
  readonly velocity: Vector
  readonly orientation: Quaternion
  readonly omega: Vector
  readonly roll: Scalar
  readonly pitch: Scalar
  readonly heading: Scalar
  /** What an accelerometer feels, in body axes, m/s². */
  readonly specificForce: Vector
  readonly speeds: Scalar[]
  readonly thrusts: Scalar[]
}

/**
 * Newton and Euler for the composed body: m v' = R F - m g z - c v, J w' = M - w x (J w).
 * `targets` are the speeds that the rotors go to, rad/s, within
 * their limits already.
 */
export function motion(machine: Part, read: Read, layers: Layers, states: readonly Scalar[], targets: readonly Scalar[]): Motion {
  const { mass, centre, inertia } = massProperties(machine, read)
  const position = vectorAt(states, 0)
  const orientation = states.slice(3, 7) as unknown as Quaternion
  const velocity = vectorAt(states, 7)
  const omega = vectorAt(states, 10)
  const r_world_body = rotation(orientation)

  const lagging = layers.has('rotorLag')
  const speeds = lagging ? states.slice(13) : [...targets]
  const thrusts = speeds.map((speed) => thrustAtSpeed(speed, read))
  const places = rotorPlaces(rotorCount(machine))
  const arms = rotorPositions(places.length, read).map((arm) => minus(arm, centre))
  const moments = thrusts.map((thrust, i) => rotorMoment(arms[i]!, thrust, places[i]!.turns, read))
  const moment = moments.reduce(plus)
  const lift = thrusts.reduce(add)

  const drag = layers.has('drag') ? scaled(velocity, neg(read('drag'))) : ([0, 0, 0] as Vector)
  const felt = plus(scaled(columnOf(r_world_body, 2), lift), drag)
  const specific_inWorld = dividedBy(felt, mass)
  const acceleration = minus(specific_inWorld, [0, 0, read('gravity')])
  const gyroscopic = cross(omega, applied(inertia, omega))
  const omegaRate = solved(inertia, minus(moment, gyroscopic))
  const speedRates = lagging ? speeds.map((speed, i) => speedRate(speed, targets[i]!, read)) : []
  return {
    rates: [...velocity, ...quaternionRate(orientation, omega), ...acceleration, ...omegaRate, ...speedRates],
    position,
    velocity,
    orientation,
    omega,
    ...attitude(r_world_body),
    specificForce: applied(transposedRows(r_world_body), specific_inWorld),
    speeds,
    thrusts,
  }
}

/** Kinetic and potential energy, J (potential 0 at height 0), and angular momentum about the centre in world axes. */
export function energyAndMomentum(machine: Part, read: Read, states: readonly Scalar[]): { energy: Scalar; momentum: Vector } {
  const { mass, inertia } = massProperties(machine, read)
  const velocity = vectorAt(states, 7)
  const omega = vectorAt(states, 10)
  const spin = applied(inertia, omega)
  const kinetic = mul(0.5, add(mul(mass, dot(velocity, velocity)), dot(omega, spin)))
  const potential = mul(mul(mass, read('gravity')), states[2]!)
  return { energy: add(kinetic, potential), momentum: applied(rotation(states.slice(3, 7) as unknown as Quaternion), spin) }
}

/** The distance a range finder would show with unlimited range: down the body's z axis to the ground. */
export function trueRange(
  motionNow: Pick<Motion, 'orientation' | 'position'>,
  at: Vector,
  centre: Vector,
  ground: Scalar,
): Scalar {
  const r = rotation(motionNow.orientation)
  const sensorHeight = add(motionNow.position[2], applied(r, minus(at, centre))[2])
  return div(sub(sensorHeight, ground), r[2][2])
}

function vectorAt(values: readonly Scalar[], from: number): Vector {
  return [values[from]!, values[from + 1]!, values[from + 2]!]
}

function columnOf(rows: readonly [Vector, Vector, Vector], k: 0 | 1 | 2): Vector {
  return [rows[0][k], rows[1][k], rows[2][k]]
}
