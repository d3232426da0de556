import { add, square, sqrt, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { applied, dot } from '../../algebra'
import type { Vector } from '../../algebra'
import { choice, name, vector } from '../../kinds'
import { defineEffect } from './effect'

const components = ['x', 'y', 'z'] as const

/** The same force and torque always, in axes of the world or of the body. */
export const steadyForce = defineEffect({
  name: 'steadyForce',
  label: 'steady force and torque',
  says: 'A steady force acts at a point of {body}, in {axes}.',
  about: 'A force, N, at a point of a body, and a torque, N·m, about it: along axes of the world, or turning with the body.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'where it acts', unit: 'm', components }),
    force: vector({ label: 'force', unit: 'N', components }),
    torque: vector({ label: 'torque', unit: 'N·m', components }),
    axes: choice({ label: 'axes', options: { world: 'axes of the world', own: 'its own axes' } }),
  },
  act: (scene, part) => {
    const [at, force, torque] = [scene.vector('at'), scene.vector('force'), scene.vector('torque')]
    const { velocity } = scene.point(part.body, at)
    const turn = (given: Vector) => (part.axes === 'own' ? applied(scene.axes(part.body), given) : given)
    if (part.axes === 'own') scene.pushOwn(part.body, at, force, torque)
    else {
      scene.push(part.body, at, force)
      scene.twist(part.body, torque)
    }
    return {
      supplied: add(dot(turn(force), velocity), dot(turn(torque), scene.turning(part.body))),
      signals: [
        { name: 'force', label: 'force', unit: 'N', value: size(force) },
        { name: 'torque', label: 'torque', unit: 'N·m', value: size(torque) },
      ],
    }
  },
})

function size(given: Vector): Scalar {
  return sqrt(sum(given.map((one) => square(one))))
}
