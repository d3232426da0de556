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
  const coordinate = (name: string) => coordinateOf(robot, bodyOfLink, name)
  return {
    machine: {
      kind: 'mechanism',
      gravity,
      bodies: Object.fromEntries(bodies),
      chains: named(robot.joints, (joint) => mimicChain(joint, coordinate)),
      forces: {
        ...named(robot.joints, (joint) => stopsOf(joint, coordinate), 'Stops'),
        ...named(robot.joints, (joint) => lossesOf(joint, coordinate), 'Friction'),
      },
      drives: named(robot.joints, (joint) => driveOf(joint, coordinate)),
    },
    bodyOfLink,
    bodyOfJoint: new Map(robot.joints.map(({ name, child }) => [name, bodyOfLink.get(child)!])),
  }
}

/** Parts made from joints, by the joint's name; nothing for those that give none. */
function named(
  joints: readonly RobotJoint[],
  make: (joint: RobotJoint) => Part | undefined,
  ending = '',
): Readonly<Record<string, Part>> {
  const made = joints.map((joint) => ({ joint, part: make(joint) })).filter(({ part }) => part !== undefined)
  const names = uniqueNames(made.map(({ joint }) => `${joint.name}${ending}`))
  return Object.fromEntries(made.map(({ joint, part }) => [names.get(`${joint.name}${ending}`)!, part!]))
}

/** The position of a joint of one freedom. */
function coordinateOf({ joints }: Robot, bodyOfLink: ReadonlyMap<string, string>, name: string): string | undefined {
  const joint = joints.find((one) => one.name === name)
  if (joint === undefined || !movesOneWay(joint)) return undefined
  return `${bodyOfLink.get(joint.child)}.${joint.type === 'prismatic' ? 'travel' : 'angle'}`
}

function movesOneWay({ type }: RobotJoint): boolean {
  return type === 'revolute' || type === 'continuous' || type === 'prismatic'
}

type FindCoordinate = (joint: string) => string | undefined

function mimicChain({ name, mimic }: RobotJoint, coordinate: FindCoordinate): Part | undefined {
  if (mimic === undefined) return undefined
  const [joint, source] = [coordinate(name), coordinate(mimic.joint)]
  if (joint === undefined || source === undefined) return undefined
  return { kind: 'coupled', joint, source, ratio: mimic.multiplier, offset: mimic.offset }
}

/** A description has limits but no stiffness: ends of a kind that stop a robot within about a degree or millimetre. */
const stopStiffness = { turning: 2000, sliding: 100_000 }

function stopsOf(joint: RobotJoint, coordinate: FindCoordinate): Part | undefined {
  const at = coordinate(joint.name)
  if (at === undefined || joint.limit === undefined || joint.type === 'continuous' || joint.limit.lower >= joint.limit.upper)
    return undefined
  const stiffness = joint.type === 'prismatic' ? stopStiffness.sliding : stopStiffness.turning
  return { kind: 'jointStops', joint: at, least: joint.limit.lower, most: joint.limit.upper, stiffness, damping: stiffness / 50 }
}

function lossesOf({ name, damping, friction }: RobotJoint, coordinate: FindCoordinate): Part | undefined {
  const at = coordinate(name)
  if (at === undefined || (damping === 0 && friction === 0)) return undefined
  return {
    kind: 'jointFriction',
    joint: at,
    sliding: friction,
    breakaway: friction,
    viscous: damping,
    stribeck: 0.05,
    smooth: 0.01,
  }
}

function driveOf({ name, limit, mimic }: RobotJoint, coordinate: FindCoordinate): Part | undefined {
  const at = coordinate(name)
  if (at === undefined || mimic !== undefined || limit === undefined || !(limit.effort > 0 && limit.effort < 1e12))
    return undefined
  return { kind: 'effortDrive', joint: at, most: limit.effort }
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
