import type { Part } from '../document'
import type { Tree } from '../machine'
import type { PlainBody } from './plainDynamics'
import { bodiesOf } from '../machine'

/** A tree of turning and sliding joints, given as numbers, for the plain algorithm. */
export function plainBodies(tree: Tree, machine: Part): PlainBody[] {
  const parts = bodiesOf(machine)
  return tree.bodies.map(({ name, parent, place, inertia }) => {
    const joint = parts[name]!.joint
    const axis = joint.axis as readonly [number, number, number]
    const length = Math.hypot(...axis)
    const mass = inertia.mass as number
    return {
      parent,
      sliding: joint.kind === 'sliding',
      axis: axis.map((value) => value / length) as [number, number, number],
      rotation: place.rotation.flat() as number[],
      position: place.position as [number, number, number],
      mass,
      centre: inertia.moment.map((value) => (value as number) / mass) as [number, number, number],
      inertia: inertia.about.flat() as number[],
    }
  })
}
