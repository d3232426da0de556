import { rowsTimes, transposedRows, turnedBy } from '../algebra'
import type { Rows } from '../algebra'
import { done, nearestName, refused, refusedFor } from '../document'
import type { Outcome, Problem } from '../document'
import { cos, sin } from '../expression'
import { parseXml } from './xml'
import type { XmlElement as Element } from './xml'
import type { RobotOrigin, Robot, RobotGeometry, RobotJoint, RobotJointType, RobotLink } from './robot'

/** Links, and joints: more is a slip or an attack. */
const mostLinks = 2000
/** Problems whose remedy looks for the nearest name, which takes a look at all of them. */
const mostHinted = 30

const types: readonly RobotJointType[] = ['revolute', 'continuous', 'prismatic', 'fixed', 'floating', 'planar']

/**
 * Reads a robot description (URDF, http://wiki.ros.org/urdf/XML, from memory). Reads no other file, resolves no
 * entities, and finds all problems at once. Missing origins are the identity, a missing axis is 1 0 0.
 */
export function parseUrdf(text: string): Outcome<Robot> {
  if (/<\/?xacro:|xmlns:xacro/.test(text)) {
    const what = 'This is a xacro file: macros that still have to be expanded.'
    return refusedFor('robot', what, 'Expand it first (`xacro robot.urdf.xacro > robot.urdf`) and give the result.')
  }
  const read = parseXml(text)
  if (read.kind === 'refused') return read
  const { name: outermost, element: robot } = read.value
  if (outermost !== 'robot')
    return refusedFor(
      'robot',
      `The outermost element is ${outermost.slice(0, 80)}, not robot.`,
      'Give a robot description (URDF).',
    )
  for (const sort of ['link', 'joint'])
    if (list(robot[sort]).length > mostLinks) {
      const what = `The robot has ${list(robot[sort]).length} ${sort}s; at most ${mostLinks} are read.`
      return refusedFor('robot', what, 'Leave out links that do not move on their own.')
    }
  const reader = new Reader()
  const links = list(robot.link).map((link, i) => reader.link(link, i))
  const joints = list(robot.joint).map((joint, i) => reader.joint(joint, i))
  const name = typeof robot['@name'] === 'string' ? robot['@name'] : 'robot'
  const problems = [...reader.problems, ...treeProblems(links, joints)]
  return problems.length > 0 ? refused(problems) : done({ name, links, joints })
}

class Reader {
  readonly problems: Problem[] = []

  link(element: Element, index: number): RobotLink {
    const name = this.name(element, 'link', index)
    const where = `link ${name}`
    const inertial = one(element.inertial)
    const origin = this.origin(inertial?.origin, `${where}, inertial`)
    const mass = inertial === undefined ? 0 : this.number(one(inertial.mass), 'value', `${where}, mass`, undefined)
    if (mass < 0)
      this.problems.push({ where: `${where}, mass`, what: `The mass is ${mass} kg.`, remedy: 'Give 0 or more, in kg.' })
    const given = one(inertial?.inertia)
    const entry = (key: string) => (inertial === undefined ? 0 : this.number(given, key, `${where}, inertia`, 0))
    const [xx, yy, zz, xy, xz, yz] = ['ixx', 'iyy', 'izz', 'ixy', 'ixz', 'iyz'].map(entry) as Six
    return {
      name,
      mass,
      centre: origin.xyz,
      inertia: turnedInertia(origin, [xx, yy, zz, xy, xz, yz]),
      visuals: list(element.visual).flatMap((one) => this.geometry(one, `${where}, visual`)),
      collisions: list(element.collision).flatMap((one) => this.geometry(one, `${where}, collision`)),
    }
  }

  joint(element: Element, index: number): RobotJoint {
    const name = this.name(element, 'joint', index)
    const where = `joint ${name}`
    const type = String(element['@type'])
    if (!types.includes(type as RobotJointType)) {
      const near = nearestName(type, types)
      const remedy = near === undefined ? `Known: ${types.join(', ')}.` : `Did you mean ${near}?`
      this.problems.push({ where, what: `The type ${type} is not one of the standard's.`, remedy })
    }
    const axis = one(element.axis) === undefined ? [1, 0, 0] : this.triple(one(element.axis), 'xyz', `${where}, axis`, [1, 0, 0])
    const needsAxis = ['revolute', 'continuous', 'prismatic', 'planar'].includes(type)
    if (needsAxis && axis.every((value) => value === 0))
      this.problems.push({ where: `${where}, axis`, what: 'The axis is 0 0 0.', remedy: 'Give a direction, such as 0 0 1.' })
    const limit = one(element.limit)
    const mimic = one(element.mimic)
    const dynamics = one(element.dynamics)
    const limits =
      limit === undefined
        ? undefined
        : {
            lower: this.number(limit, 'lower', `${where}, limit`, 0),
            upper: this.number(limit, 'upper', `${where}, limit`, 0),
            effort: this.number(limit, 'effort', `${where}, limit`, Infinity),
            velocity: this.number(limit, 'velocity', `${where}, limit`, Infinity),
          }
    if (limits !== undefined && limits.lower > limits.upper) {
      const what = `The lower limit ${limits.lower} is above the upper limit ${limits.upper}.`
      this.problems.push({ where: `${where}, limit`, what, remedy: 'Exchange the two.' })
    }
    return {
      name,
      type: type as RobotJointType,
      parent: String(one(element.parent)?.['@link'] ?? ''),
      child: String(one(element.child)?.['@link'] ?? ''),
      origin: this.origin(element.origin, where),
      axis,
      ...(limits === undefined ? {} : { limit: limits }),
      ...(mimic === undefined
        ? {}
        : {
            mimic: {
              joint: String(mimic['@joint']),
              multiplier: this.number(mimic, 'multiplier', `${where}, mimic`, 1),
              offset: this.number(mimic, 'offset', `${where}, mimic`, 0),
            },
          }),
      damping: this.number(dynamics, 'damping', `${where}, dynamics`, 0),
      friction: this.number(dynamics, 'friction', `${where}, dynamics`, 0),
    }
  }

  private geometry(element: Element, where: string): RobotGeometry[] {
    const origin = this.origin(element.origin, where)
    const geometry = one(element.geometry)
    const placed = { at: origin.xyz, turned: origin.rpy }
    const [box, cylinder, capsule, sphere, mesh] = ['box', 'cylinder', 'capsule', 'sphere', 'mesh'].map((name) =>
      one(geometry?.[name]),
    )
    const length = (of: Element, key: string) => this.number(of, key, where, undefined)
    if (box !== undefined)
      return [{ origin, shape: { kind: 'box', ...placed, size: this.triple(box, 'size', where, [1, 1, 1]) } }]
    const round = cylinder ?? capsule
    if (round !== undefined) {
      const kind = cylinder === undefined ? 'capsule' : 'cylinder'
      return [{ origin, shape: { kind, ...placed, radius: length(round, 'radius'), length: length(round, 'length') } }]
    }
    if (sphere !== undefined) return [{ origin, shape: { kind: 'sphere', ...placed, radius: length(sphere, 'radius') } }]
    if (mesh !== undefined) {
      const scale = this.triple(mesh, 'scale', where, [1, 1, 1])
      return [{ origin, shape: { kind: 'mesh', ...placed, file: String(mesh['@filename'] ?? ''), scale } }]
    }
    return []
  }

  private name(element: Element, sort: string, index: number): string {
    const name = element['@name']
    if (typeof name === 'string' && name.trim() !== '') return name
    this.problems.push({
      where: `${sort} ${index + 1}`,
      what: `The ${sort} has no name.`,
      remedy: `Write <${sort} name="...">.`,
    })
    return `${sort}${index + 1}`
  }

  private origin(value: Element[string], where: string): RobotOrigin {
    const origin = one(value)
    return {
      xyz: this.triple(origin, 'xyz', `${where}, origin`, [0, 0, 0]),
      rpy: this.triple(origin, 'rpy', `${where}, origin`, [0, 0, 0]),
    }
  }

  private triple(element: Element | undefined, key: string, where: string, otherwise: readonly number[]): readonly number[] {
    const text = element?.[`@${key}`]
    if (typeof text !== 'string') return otherwise
    const values = text.trim().split(/\s+/).map(toNumber)
    if (values.length === 3 && values.every(Number.isFinite)) return values
    this.problems.push({ where, what: `${key}="${text}" is not three numbers.`, remedy: 'Write three numbers, such as 0 0 0.1.' })
    return otherwise
  }

  private number(element: Element | undefined, key: string, where: string, otherwise: number | undefined): number {
    const text = element?.[`@${key}`]
    if (typeof text !== 'string' && otherwise !== undefined) return otherwise
    const value = toNumber(String(text ?? ''))
    if (Number.isFinite(value)) return value
    const what = typeof text === 'string' ? `${key}="${text}" is not a number.` : `${key} is missing.`
    this.problems.push({ where, what, remedy: `Write ${key}="..." with a plain number.` })
    return otherwise ?? 0
  }
}

type Six = [number, number, number, number, number, number]

/** R I Rᵀ: the inertia's own frame may be turned against the link's. */
function turnedInertia({ rpy }: RobotOrigin, [xx, yy, zz, xy, xz, yz]: Six): number[] {
  const r = turnedBy(rpy.map((angle) => cos(angle)) as never, rpy.map((angle) => sin(angle)) as never)
  const own: Rows = [
    [xx, xy, xz],
    [xy, yy, yz],
    [xz, yz, zz],
  ]
  const turned = rowsTimes(rowsTimes(r, own), transposedRows(r)) as readonly (readonly number[])[]
  return [turned[0]![0]!, turned[1]![1]!, turned[2]![2]!, turned[0]![1]!, turned[0]![2]!, turned[1]![2]!]
}

/** Names that lead nowhere or stand twice, links with two parents, circles, several roots. */
function treeProblems(links: readonly RobotLink[], joints: readonly RobotJoint[]): Problem[] {
  const problems: Problem[] = []
  if (links.length === 0) problems.push({ where: 'robot', what: 'The robot has no links.', remedy: 'Add at least one <link>.' })
  const names = links.map(({ name }) => name)
  for (const [sort, all] of [
    ['link', names],
    ['joint', joints.map(({ name }) => name)],
  ] as const) {
    for (const name of repeated(all))
      problems.push({
        where: `${sort} ${name}`,
        what: `Two ${sort}s have the name ${name}.`,
        remedy: 'Give each a name of its own.',
      })
  }
  const parents = new Map<string, string>()
  const known = new Set(names)
  const jointNames = new Set(joints.map(({ name }) => name))
  for (const { name, parent, child, mimic } of joints) {
    for (const [end, link] of [
      ['parent', parent],
      ['child', child],
    ] as const) {
      if (known.has(link)) continue
      const near = problems.length < mostHinted ? nearestName(link, names) : undefined
      const remedy = near === undefined ? 'Name a link of this robot.' : `Did you mean ${near}?`
      problems.push({ where: `joint ${name}, ${end}`, what: `There is no link named ${link || '(nothing)'}.`, remedy })
    }
    if (parents.has(child)) {
      const what = `The link ${child} already hangs on ${parents.get(child)}.`
      problems.push({ where: `joint ${name}`, what, remedy: 'A link hangs on one joint only; close chains after the import.' })
    }
    parents.set(child, parent)
    if (mimic !== undefined && !jointNames.has(mimic.joint))
      problems.push({
        where: `joint ${name}, mimic`,
        what: `There is no joint named ${mimic.joint}.`,
        remedy: 'Name a joint of this robot.',
      })
  }
  const roots = names.filter((name) => !parents.has(name))
  if (problems.length > 0) return problems
  if (roots.length !== 1) {
    const what =
      roots.length === 0
        ? `The joints go round in a circle: ${names[0]} hangs on itself.`
        : `There are ${roots.length} links without a joint above them: ${roots.slice(0, 5).join(', ')}.`
    return [{ where: 'robot', what, remedy: 'One link, the root, must stand above all others.' }]
  }
  const lost = names.find((name) => !reaches(name, roots[0]!, parents, names.length))
  if (lost === undefined) return []
  return [
    {
      where: `link ${lost}`,
      what: `The joints above ${lost} go round in a circle.`,
      remedy: 'Let one of them hang on a link nearer the root.',
    },
  ]
}

/** Names that stand twice or more, each once. */
function repeated(names: readonly string[]): ReadonlySet<string> {
  const [once, again] = [new Set<string>(), new Set<string>()]
  for (const name of names) (once.has(name) ? again : once).add(name)
  return again
}

function reaches(name: string, root: string, parents: ReadonlyMap<string, string>, most: number): boolean {
  let at = name
  for (let i = 0; i <= most && at !== root; i++) at = parents.get(at) ?? root
  return at === root
}

function list(value: Element[string]): readonly Element[] {
  return typeof value === 'object' ? value : []
}

function one(value: Element[string]): Element | undefined {
  return list(value)[0]
}

/** Decimal numbers only: what JavaScript also reads (hexadecimal, empty) is not a number here. */
function toNumber(text: string): number {
  return /^[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/.test(text.trim()) ? Number(text) : NaN
}
