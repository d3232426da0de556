import { abs, add, clamp, cos, div, less, mul, neg, select, sin, sqrt, sub } from '../expression'
import type { Scalar } from '../expression'
import { cross, scaled } from '../algebra'
import type { Vector } from '../algebra'
import { choice, number } from '../kinds'
import type { Kind } from '../kinds'
import type { Layers } from './layers'
import type { Read } from './read'

/**
 * Equal rotors on a circle, thrust along the machine's z, neighbours turning against each other.
 * Thrust = thrustCoefficient speed², reaction torque = torqueCoefficient speed², opposite to the turning
 * (common practice for small rotors in hover, no source). The speed follows what is asked with a first-order lag.
 */
export const rotorRing = {
  name: 'rotorRing',
  says: '{count} rotors on arms of {armLength}',
  about:
    'Equal rotors on a circle about the z axis. The first stands at half a step from the x axis, the others follow turning left; odd ones turn left, even ones right. Thrust and reaction torque grow with the square of the speed; the speed follows its command with a first-order lag.',
  slots: {
    count: number({ label: 'number of rotors', unit: '', least: 4, most: 12, whole: true }),
    armLength: number({ label: 'arm length', unit: 'm', above: 0 }),
    height: number({ label: 'height of the rotor discs', unit: 'm' }),
    radius: number({ label: 'rotor radius', unit: 'm', above: 0, note: 'for drawing' }),
    thrustCoefficient: number({ label: 'thrust coefficient', unit: 'N·s²/rad²', above: 0 }),
    torqueCoefficient: number({ label: 'torque coefficient', unit: 'N·m·s²/rad²', above: 0 }),
    lag: number({ label: 'motor lag', unit: 's', above: 0 }),
    leastSpeed: number({ label: 'least speed', unit: 'rad/s', least: 0 }),
    mostSpeed: number({ label: 'most speed', unit: 'rad/s', above: 0 }),
    allocation: choice({
      label: 'allocation',
      options: { mix: 'a fixed mix', leastSquares: 'least squares within the limits' },
      otherwise: 'mix',
    }),
    liftCounts: number({ label: 'missed lift counts', unit: '', above: 0, most: 1000, otherwise: 1, note: 'least squares only' }),
    tiltCounts: number({
      label: 'missed roll and pitch count',
      unit: '',
      above: 0,
      most: 1000,
      otherwise: 30,
      note: 'over the arm length',
    }),
    turnCounts: number({
      label: 'missed yaw counts',
      unit: '',
      above: 0,
      most: 1000,
      otherwise: 0.3,
      note: 'over the arm length',
    }),
  },
} as const satisfies Kind

export interface RotorPlace {
  /** rad from the x axis, turning left */
  readonly angle: number
  /** +1 turns left seen from above, -1 right */
  readonly turns: 1 | -1
}

export function rotorPlaces(count: number): RotorPlace[] {
  return Array.from({ length: count }, (_, i) => ({ angle: ((i + 0.5) * 2 * Math.PI) / count, turns: i % 2 === 0 ? 1 : -1 }))
}

/** p_machine_rotor for each rotor. */
export function rotorPositions(count: number, read: Read): Vector[] {
  return rotorPlaces(count).map(({ angle }) => {
    const arm = read('rotors.armLength')
    return [mul(cos(angle), arm), mul(sin(angle), arm), read('rotors.height')]
  })
}

/** Speed that gives a thrust; a negative thrust gives the negative speed, so that the ideal rotor may pull. */
export function speedForThrust(thrust: Scalar, read: Read): Scalar {
  const speed = sqrt(div(abs(thrust), read('rotors.thrustCoefficient')))
  return select(less(thrust, 0), neg(speed), speed)
}

export function thrustAtSpeed(speed: Scalar, read: Read): Scalar {
  return mul(read('rotors.thrustCoefficient'), mul(speed, abs(speed)))
}

/** The speed a rotor is really asked for: within its limits where that layer is on. */
export function reachableSpeed(asked: Scalar, layers: Layers, read: Read): Scalar {
  return layers.has('rotorLimits') ? clamp(asked, read('rotors.leastSpeed'), read('rotors.mostSpeed')) : asked
}

export function speedRate(speed: Scalar, target: Scalar, read: Read): Scalar {
  return mul(sub(target, speed), div(1, read('rotors.lag')))
}

/** Moment about the centre of mass, from p_com_rotor, thrust and reaction. */
export function rotorMoment(p_com_rotor: Vector, thrust: Scalar, turns: 1 | -1, read: Read): Vector {
  const lift = cross(p_com_rotor, scaled([0, 0, 1], thrust))
  const reaction = mul(-turns, mul(div(read('rotors.torqueCoefficient'), read('rotors.thrustCoefficient')), thrust))
  return [lift[0], lift[1], add(lift[2], reaction)]
}
