import { number } from '../../kinds'
import { coordinateSlot, positive } from './slots'
import { motorOf, motorReach, motorSlots, rotorThroughGear, stifflyGeared } from './motor'
import { driveDynamics, driveLimits } from './sharedLayers'
import { defineEffect } from './effect'

/** A direct-current motor behind a stiff gear, by its constants. */
export const dcMotor = defineEffect({
  name: 'dcMotor',
  label: 'direct-current motor',
  says: 'A motor of {resistance} and {constant} drives {joint} through a gear of {gear}, at most {voltage}.',
  about:
    "L i' = u - R i - k N q'; effort = N k i - N² b q'; the rotor adds N² J to the joint. With drive dynamics off the current follows at once: i = (u - k N q')/R. Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, ch. 2 (from memory).",
  slots: {
    joint: coordinateSlot,
    gear: positive('gear ratio', ''),
    rotorInertia: number({ label: 'inertia of the rotor', unit: 'kg·m²', least: 0, otherwise: 0 }),
    ...motorSlots,
  },
  layers: [driveLimits, driveDynamics],
  states: [{ name: 'current', unit: 'A' }],
  input: { label: 'voltage', unit: 'V' },
  armature: rotorThroughGear,
  reach: (number, speed) =>
    motorReach(
      { resistance: number('resistance'), constant: number('constant'), drag: number('drag'), most: number('voltage') },
      number('gear'),
      speed,
    ),
  act: (scene, part) => stifflyGeared(scene, part, motorOf(scene)),
})
