import { abs, add, div, less, max, min, mul, select, sqrt, square, sub } from '../../expression'
import { number } from '../../kinds'
import { coordinateSlot, notNegative, positive } from './slots'
import { motorAt, motorOf, motorReach, motorSlots, rotorThroughGear } from './motor'
import { driveDynamics, driveLimits } from './sharedLayers'
import { defineEffect } from './effect'

/** rad/s of the shaft over which the loss of the teeth changes its sign. */
const turnOver = 0.05
/** s: with gears off the rotor's own states come to the joint's, so that they mean something. */
const following = 0.01

/**
 * A motor whose gear gives, has play and loses power. The rotor turns by itself: J w' = k i - b w - T/N - loss, and the
 * teeth pass T = stiffness × the give beyond half the play + damping × its rate. The loss takes (1/efficiency - 1) of the
 * power passed on, or (1 - efficiency) of what comes back. With gears off it is stiff: the rotor adds N² J to the joint.
 */
export const gearMotor = defineEffect({
  name: 'gearMotor',
  label: 'motor behind a gear that gives',
  says: 'A motor drives {joint} through a gear of {gear} that gives by {stiffness}, with {play} of play and {efficiency} passed on.',
  about:
    "Rotor: J w' = k i - b w - T/N - loss. Teeth: T = stiffness × the give beyond half the play + damping × its rate, at the joint. The loss is (1/efficiency - 1) of the power passed on, (1 - efficiency) of what comes back (common practice, no source).",
  slots: {
    joint: coordinateSlot,
    gear: positive('gear ratio', ''),
    stiffness: positive('stiffness at the joint', 'N·m/rad'),
    damping: notNegative('damping at the joint', 'N·m·s/rad'),
    play: notNegative('play at the joint', 'rad'),
    efficiency: number({ label: 'share passed on', unit: '', above: 0, most: 1 }),
    rotorInertia: positive('inertia of the rotor', 'kg·m²'),
    ...motorSlots,
  },
  layers: [
    driveLimits,
    driveDynamics,
    { name: 'gears', label: 'Gears that give', standIn: 'gears are stiff, tight and without loss', inDesign: true },
  ],
  states: [
    { name: 'current', unit: 'A' },
    { name: 'turn', unit: 'rad' },
    { name: 'speed', unit: 'rad/s' },
  ],
  input: { label: 'voltage', unit: 'V' },
  armature: (scene) => (scene.has('gears') ? 0 : rotorThroughGear(scene)),
  reach: (number, speed) =>
    motorReach(
      { resistance: number('resistance'), constant: number('constant'), drag: number('drag'), most: number('voltage') },
      number('gear'),
      speed,
    ),
  isSudden: true,
  act: (scene, part) => {
    const joint = part.joint
    const { position, speed } = scene.coordinate(joint)
    const gear = scene.number('gear')
    const [, turn, own] = scene.states as [never, never, never]
    const shaft = scene.has('gears') ? own : mul(gear, speed)
    const { torque, signals, ...acted } = motorAt(scene, part, motorOf(scene), shaft)
    if (!scene.has('gears')) {
      scene.effort(joint, mul(gear, torque))
      const followed = [div(sub(mul(gear, position), turn), following), div(sub(shaft, own), following)]
      return { ...acted, rates: [...acted.rates!, ...followed], signals: signals! }
    }
    const give = sub(div(turn, gear), position)
    const half = mul(0.5, scene.number('play'))
    const beyond = add(max(0, sub(give, half)), min(0, add(give, half)))
    const giving = select(less(half, abs(give)), sub(div(own, gear), speed), 0)
    const elastic = mul(scene.number('stiffness'), beyond)
    const damped = mul(scene.number('damping'), giving)
    const passed = add(elastic, damped)
    scene.effort(joint, passed)
    const efficiency = scene.number('efficiency')
    const share = select(less(0, mul(passed, own)), sub(div(1, efficiency), 1), sub(1, efficiency))
    const loss = div(mul(mul(share, abs(passed)), div(own, sqrt(add(square(own), turnOver * turnOver)))), gear)
    const inertia = scene.number('rotorInertia')
    return {
      rates: [...acted.rates!, own, div(sub(sub(torque, div(passed, gear)), loss), inertia)],
      stored: add(
        acted.stored!,
        add(mul(mul(0.5, scene.number('stiffness')), square(beyond)), mul(mul(0.5, inertia), square(own))),
      ),
      dissipated: add(acted.dissipated!, add(mul(damped, giving), mul(loss, own))),
      supplied: acted.supplied!,
      signals: [
        ...signals!,
        { name: 'passed', label: 'effort of the teeth', unit: 'N·m', value: passed },
        { name: 'give', label: 'give of the gear', unit: 'rad', value: give },
      ],
    }
  },
})
