import { clamp, mul, neg } from '../../expression'
import { number } from '../../kinds'
import { coordinateSlot, positive } from './slots'
import { driveLimits } from './sharedLayers'
import { defineEffect } from './effect'

/** The ideal drive: gives the effort that is asked, within its limit. */
export const effortDrive = defineEffect({
  name: 'effortDrive',
  label: 'ideal drive',
  says: 'A drive moves {joint} with the effort asked, at most {most}.',
  about: 'effort = what is asked, held within plus and minus its limit. N·m on a turning coordinate, N on a sliding one.',
  slots: {
    joint: coordinateSlot,
    most: positive('most effort', ''),
    inertia: number({ label: 'inertia it adds to the joint', unit: '', least: 0, otherwise: 0 }),
  },
  layers: [driveLimits],
  input: { label: 'effort asked', unit: { along: 'effort' } },
  effort: {
    label: 'effort',
    unit: { along: 'effort' },
    input: (effort) => effort,
    limits: (slot) => [neg(slot('most')), slot('most')],
  },
  armature: ({ number: slot }) => slot('inertia'),
  reach: (slot) => slot('most'),
  act: (scene, part) => {
    const most = scene.number('most')
    const effort = scene.has('driveLimits') ? clamp(scene.input, neg(most), most) : scene.input
    scene.effort(part.joint, effort)
    return {
      supplied: mul(effort, scene.coordinate(part.joint).speed),
      signals: [{ name: 'effort', label: 'effort', unit: { along: 'effort' }, value: effort }],
    }
  },
})
