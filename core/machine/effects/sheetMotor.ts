import { div, mul } from '../../expression'
import { number } from '../../kinds'
import { show } from '../show'
import { coordinateSlot, positive } from './slots'
import { motorReach, rotorThroughGear, stifflyGeared, supplySlot } from './motor'
import { driveDynamics, driveLimits } from './sharedLayers'
import { defineEffect } from './effect'

/** Share by which the no-load speed of a sheet may differ from what its other figures say: makers round. */
const sheetSlack = 0.1

/**
 * A direct-current motor by the figures of its data sheet: k = stall torque / stall current, R = voltage / stall
 * current, friction b = k no-load current / no-load speed (common practice, no source).
 */
export const sheetMotor = defineEffect({
  name: 'sheetMotor',
  label: 'motor by its data sheet',
  says: 'A motor of {voltage} that stalls at {stallTorque} and runs free at {freeSpeed} drives {joint} through a gear of {gear}.',
  about:
    'k = stall torque / stall current, R = voltage / stall current, b = k × no-load current / no-load speed; then as a direct-current motor by its constants (common practice, no source).',
  slots: {
    joint: coordinateSlot,
    voltage: positive('nominal voltage', 'V'),
    stallTorque: positive('stall torque', 'N·m'),
    stallCurrent: positive('stall current', 'A'),
    freeSpeed: positive('no-load speed', 'rad/s'),
    freeCurrent: number({ label: 'no-load current', unit: 'A', least: 0 }),
    inductance: positive('inductance', 'H'),
    rotorInertia: number({ label: 'inertia of the rotor', unit: 'kg·m²', least: 0, otherwise: 0 }),
    gear: positive('gear ratio', ''),
    supply: supplySlot,
  },
  layers: [driveLimits, driveDynamics],
  states: [{ name: 'current', unit: 'A' }],
  input: { label: 'voltage', unit: 'V' },
  armature: rotorThroughGear,
  reach: (number, speed) => {
    const constant = number('stallTorque') / number('stallCurrent')
    const drag = (constant * number('freeCurrent')) / number('freeSpeed')
    const resistance = number('voltage') / number('stallCurrent')
    return motorReach({ resistance, constant, drag, most: number('voltage') }, number('gear'), speed)
  },
  act: (scene, part) => {
    const constant = div(scene.number('stallTorque'), scene.number('stallCurrent'))
    return stifflyGeared(scene, part, {
      resistance: div(scene.number('voltage'), scene.number('stallCurrent')),
      inductance: scene.number('inductance'),
      constant,
      drag: div(mul(constant, scene.number('freeCurrent')), scene.number('freeSpeed')),
      most: scene.number('voltage'),
    })
  },
  contradictions: (part) => {
    const { voltage, stallTorque, stallCurrent, freeSpeed, freeCurrent } = part as unknown as Record<string, number>
    const free = (voltage! * (1 - freeCurrent! / stallCurrent!)) / (stallTorque! / stallCurrent!)
    if (Math.abs(free - freeSpeed!) <= sheetSlack * freeSpeed!) return []
    const what = `The data sheet contradicts itself: its voltage, stall torque and currents give a no-load speed of ${show(free)} rad/s, but it says ${show(freeSpeed!)} rad/s.`
    return [
      { slot: 'freeSpeed', what, remedy: 'Check the units: torque in N·m, speed in rad/s (1 turn a minute is 0.10472 rad/s).' },
    ]
  },
})
