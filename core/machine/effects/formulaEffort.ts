import { mul } from '../../expression'
import { formula } from '../../kinds'
import { coordinateSlot } from './slots'
import { defineEffect } from './effect'

/** An effort on a joint, written as a formula. */
export const formulaEffort = defineEffect({
  name: 'formulaEffort',
  label: 'effort by a formula',
  says: 'On {joint} acts {effort}.',
  about:
    'N·m on a turning coordinate, N on a sliding one. The formula may use coordinates and speeds by their names (boom.angle, boom.rate), parameters, constants of the machine, and t.',
  slots: { joint: coordinateSlot, effort: formula({ label: 'effort', unit: '' }) },
  isSudden: true,
  act: (scene, part) => {
    const effort = scene.formula('effort')
    scene.effort(part.joint, effort)
    return {
      supplied: mul(effort, scene.coordinate(part.joint).speed),
      signals: [{ name: 'effort', label: 'effort', unit: { along: 'effort' }, value: effort }],
    }
  },
})
