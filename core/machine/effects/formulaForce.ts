import { dot } from '../../algebra'
import type { Vector } from '../../algebra'
import { formula, name, vector } from '../../kinds'
import { defineEffect } from './effect'

const pointNames = ['px', 'py', 'pz', 'vx', 'vy', 'vz']

/** A force at a point of a body, written as three formulas in world axes. */
export const formulaForce = defineEffect({
  name: 'formulaForce',
  label: 'force by a formula',
  says: 'At a point of {body} acts {x} along x, {y} along y, {z} along z.',
  about:
    'A force in world axes, N. The formulas may use coordinates and speeds by their names, parameters, constants of the machine, t, and the place and velocity of the point: px py pz, vx vy vz.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'where it acts', unit: 'm', components: ['x', 'y', 'z'] }),
    x: formula({ label: 'force along x', unit: 'N' }),
    y: formula({ label: 'force along y', unit: 'N' }),
    z: formula({ label: 'force along z', unit: 'N' }),
  },
  formulaNames: pointNames,
  isSudden: true,
  act: (scene, part) => {
    const at = scene.vector('at')
    const { position, velocity } = scene.point(part.body, at)
    const known = Object.fromEntries(pointNames.map((one, i) => [one, [...position, ...velocity][i]!]))
    const force: Vector = [scene.formula('x', known), scene.formula('y', known), scene.formula('z', known)]
    scene.push(part.body, at, force)
    return { supplied: dot(force, velocity) }
  },
})
