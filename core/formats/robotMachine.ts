import type { Part } from '../document'
import { ground } from '../machine'
import type { Robot, RobotJoint, RobotJointType, RobotLink } from './robot'

export interface RobotMachine {
  /** A mechanism; bodies carry the link's name as their title. */
  readonly machine: Part
  /** Body name of each link, and of each joint the body that hangs on it. */
  readonly bodyOfLink: ReadonlyMap<string, string>
  readonly bodyOfJoint: ReadonlyMap<string, string>
}

/** Our joint for each of the standard's. */
const jointKinds: Readonly<Record<RobotJointType, string>> = {
  revolute: 'turning',
  continuous: 'turning',
  prismatic: 'sliding',
  fixed: 'fixed',
  floating: 'free',
  planar: 'planar',
}

/** A robot description as a mechanism whose root link is fixed to ground, or free of it. */
export function robotMachine(robot: Robot, base: 'fixed' | 'free', gravity = 9.80665): RobotMachine {
  const bodyOfLink = uniqueNames(robot.links.map(({ name }) => name))
  const above = new Map(robot.joints.map((joint) => [joint.child, joint]))
  const bodies = robot.links.map((link): [string, Part] => {
    const joint = above.get(link.name)
    const hung = joint === undefined ? rootJoint(base) : jointPart(joint, bodyOfLink.get(joint.parent)!)
    return [bodyOfLink.get(link.name)!, bodyPart(link, hung)]
  })
  return {
    machine: { kind: 'mechanism', gravity, bodies: Object.fromEntries(bodies) },
    bodyOfLink,
    bodyOfJoint: new Map(robot.joints.map(({ name, child }) => [name, bodyOfLink.get(child)!])),
  }
}

function rootJoint(base: 'fixed' | 'free'): Part {
  return { kind: base, on: ground, at: [0, 0, 0], turned: [0, 0, 0] }
}

function jointPart({ type, origin, axis }: RobotJoint, on: string): Part {
  return { kind: jointKinds[type], on, at: origin.xyz, turned: origin.rpy, axis }
}

function bodyPart(link: RobotLink, joint: Part): Part {
  const drawn = link.visuals.length > 0 ? link.visuals : link.collisions
  return {
    kind: 'linkedBody',
    title: link.name,
    mass: link.mass,
    centre: link.centre,
    inertia: link.inertia,
    joint,
    shapes: Object.fromEntries(drawn.map(({ shape }, i) => [`shape${i + 1}`, shape])),
  }
}

/** Names of the file as names of the document: letters and digits, a small letter first, each once. */
function uniqueNames(names: readonly string[]): Map<string, string> {
  const taken = new Set<string>([ground])
  return new Map(
    names.map((name) => {
      const words = name.split(/[^A-Za-z0-9]+/).filter((word) => word !== '')
      const joined = words.map((word, i) => (i === 0 ? word : word[0]!.toUpperCase() + word.slice(1))).join('')
      const plain = /^[A-Za-z]/.test(joined) ? joined[0]!.toLowerCase() + joined.slice(1) : `link${joined}`
      let unique = plain.slice(0, 36)
      for (let i = 2; taken.has(unique); i++) unique = `${plain.slice(0, 33)}${i}`
      taken.add(unique)
      return [name, unique]
    }),
  )
}
