import { add, clamp, div, min, mul, neg, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { name } from '../../kinds'
import { notNegative, positive } from './slots'
import type { Acted, Scene } from './effect'

/** A battery that the drive takes its current from. */
export const supplySlot = name({ label: 'battery', of: 'supply', optional: true })

/** What drives by their constants share. */
export const motorSlots = {
  resistance: positive('resistance', 'Ω'),
  inductance: positive('inductance', 'H'),
  constant: positive('motor constant', 'N·m/A'),
  drag: notNegative('rotor friction', 'N·m·s/rad'),
  voltage: positive('most voltage', 'V'),
  supply: supplySlot,
} as const

/** The motor of a part with those slots. */
export function motorOf({ number: slot }: Pick<Scene, 'number'>): Motor {
  const [resistance, inductance, constant, drag, most] = ['resistance', 'inductance', 'constant', 'drag', 'voltage'].map(slot)
  return { resistance: resistance!, inductance: inductance!, constant: constant!, drag: drag!, most: most! }
}

/** What a brushed motor is, whatever its data are given as. SI. */
export interface Motor {
  readonly resistance: Scalar
  readonly inductance: Scalar
  /** N·m/A and V·s/rad alike. */
  readonly constant: Scalar
  /** N·m·s/rad at the shaft */
  readonly drag: Scalar
  /** V */
  readonly most: Scalar
}

/**
 * L i' = u - R i - k w: the current of a motor whose shaft turns at `shaft`, and the torque of its shaft, k i - b w.
 * With drive dynamics off the current follows at once. Current of its battery by the power that its bridge passes on.
 */
export function motorAt(
  scene: Scene,
  part: { readonly supply?: string },
  motor: Motor,
  shaft: Scalar,
): Acted & { readonly torque: Scalar } {
  const { resistance: r, inductance, constant: k, drag, most } = motor
  const supply = part.supply === undefined || part.supply === '' ? undefined : scene.supply(part.supply)
  const limit = supply === undefined ? most : min(most, supply.voltage)
  const u = scene.has('driveLimits') ? clamp(scene.input, neg(limit), limit) : scene.input
  const current = scene.has('driveDynamics') ? scene.states[0]! : div(sub(u, mul(k, shaft)), r)
  if (supply !== undefined) supply.draw(div(mul(u, current), supply.voltage))
  return {
    torque: sub(mul(k, current), mul(drag, shaft)),
    rates: [div(sub(sub(u, mul(r, scene.states[0]!)), mul(k, shaft)), inductance)],
    stored: scene.has('driveDynamics') ? mul(mul(0.5, inductance), square(current)) : 0,
    dissipated: add(mul(r, square(current)), mul(drag, square(shaft))),
    supplied: supply === undefined ? mul(u, current) : 0,
    signals: [{ name: 'current', label: 'current', unit: 'A', value: current }],
  }
}

/** A motor stiffly geared to its joint: what it does, and the effort at the joint. */
export function stifflyGeared(scene: Scene, part: { readonly joint: string; readonly supply?: string }, motor: Motor): Acted {
  const joint = part.joint
  const gear = scene.number('gear')
  const { torque, signals, ...acted } = motorAt(scene, part, motor, mul(gear, scene.coordinate(joint).speed))
  const effort = mul(gear, torque)
  scene.effort(joint, effort)
  return {
    ...acted,
    signals: [...signals!, { name: 'effort', label: 'effort at the joint', unit: { along: 'effort' }, value: effort }],
  }
}

/** Inertia of a rotor seen through its gear. */
export function rotorThroughGear({ number }: Pick<Scene, 'number'>): Scalar {
  return mul(square(number('gear')), number('rotorInertia'))
}

/** Effort that a motor can still give at the joint while it turns with a speed, at its most voltage. */
export function motorReach(
  { resistance, constant, drag, most }: Readonly<Record<'resistance' | 'constant' | 'drag' | 'most', number>>,
  gear: number,
  speed: number,
): number {
  const shaft = gear * Math.abs(speed)
  return Math.max(0, gear * ((constant * (most - constant * shaft)) / resistance - drag * shaft))
}
