import { done, partsIn, refused } from '../document'
import type { Outcome, Part, Problem } from '../document'
import { bodiesOf, coordinateNames, effectParts, ground } from '../machine'

export interface UrdfText {
  readonly text: string
  /** What the format has no place for. */
  readonly left: readonly string[]
}

/** The link that stands for ground where bodies hang on it in other ways than fixed or free. */
const rootName = 'world'
/** Where a joint has no stops or drive the format still wants numbers: large ones that no robot reaches. */
const noLimit = 1e6

/**
 * A mechanism as URDF (http://wiki.ros.org/urdf/XML, from memory): links with their inertials and shapes, joints with
 * axes, limits, losses and mimics. A joint of two axes becomes two joints with a light link between. Refused for joints
 * that the standard has not; what it has no place for is named in `left`.
 */
export function mechanismToUrdf(machine: Part, name: string): Outcome<UrdfText> {
  const bodies = Object.entries(bodiesOf(machine))
  const problems = bodies.flatMap(([body, { joint }]): Problem[] =>
    joint.kind !== 'ball'
      ? []
      : [
          {
            where: `bodies.${body}.joint`,
            what: `${body} hangs on a ball joint, which URDF has not.`,
            remedy: 'Use three turning joints with light bodies between, or another format.',
          },
        ],
  )
  if (problems.length > 0) return refused(problems)
  const root = bodies.length > 0 && isRoot(bodies) ? bodies.find(([, { joint }]) => joint.on === ground)![0] : undefined
  const lines = [
    '<?xml version="1.0"?>',
    `<robot name="${plain(name)}">`,
    ...(root === undefined ? [`  <link name="${rootName}"/>`] : []),
    ...bodies.map(([body, part]) => link(body, part)),
    ...bodies.filter(([body]) => body !== root).flatMap(([body, part]) => jointsOf(machine, body, part.joint)),
    '</robot>',
    '',
  ]
  return done({ text: lines.join('\n'), left: leftOut(machine, bodies) })
}

/** One body on ground, fixed to it or free of it where the world's origin is, is the root link itself. */
function isRoot(bodies: readonly (readonly [string, Part])[]): boolean {
  const onGround = bodies.map(([, { joint }]) => joint as Part).filter(({ on }) => on === ground)
  const [only] = onGround
  const atOrigin = [...((only?.at as number[] | undefined) ?? []), ...((only?.turned as number[] | undefined) ?? [])].every(
    (value) => value === 0,
  )
  return onGround.length === 1 && only!.kind === 'fixed' && atOrigin
}

function link(name: string, { mass, centre, inertia, shapes }: Part): string {
  const drawn = Object.values(partsIn(shapes)).flatMap(shapeLines)
  const inertial = (mass as number) > 0 ? inertialLines(mass as number, centre as number[], inertia as number[]) : []
  const inner = [...inertial, ...drawn]
  return inner.length === 0 ? `  <link name="${name}"/>` : [`  <link name="${name}">`, ...inner, '  </link>'].join('\n')
}

function inertialLines(mass: number, centre: readonly number[], [ixx, iyy, izz, ixy, ixz, iyz]: readonly number[]): string[] {
  return [
    '    <inertial>',
    `      <origin xyz="${list(centre)}" rpy="0 0 0"/>`,
    `      <mass value="${mass}"/>`,
    `      <inertia ixx="${ixx!}" ixy="${ixy!}" ixz="${ixz!}" iyy="${iyy!}" iyz="${iyz!}" izz="${izz!}"/>`,
    '    </inertial>',
  ]
}

function shapeLines(shape: Part): string[] {
  const geometry = geometryOf(shape)
  if (geometry === undefined) return []
  const origin = `      <origin xyz="${list(shape.at as number[])}" rpy="${list(shape.turned as number[])}"/>`
  return ['visual', 'collision'].flatMap((sort) => [
    `    <${sort}>`,
    origin,
    `      <geometry>${geometry}</geometry>`,
    `    </${sort}>`,
  ])
}

function geometryOf({ kind, size, radius, length, file, scale }: Part): string | undefined {
  switch (kind) {
    case 'box':
      return `<box size="${list(size as number[])}"/>`
    case 'cylinder':
      return `<cylinder radius="${radius as number}" length="${length as number}"/>`
    case 'capsule':
      return `<capsule radius="${radius as number}" length="${length as number}"/>`
    case 'sphere':
      return `<sphere radius="${radius as number}"/>`
    case 'mesh':
      return `<mesh filename="${plain(file as string)}" scale="${list(scale as number[])}"/>`
    default:
      return undefined
  }
}

interface JointWords {
  readonly type: string
  /** Coordinate that limits, losses and drives name. */
  readonly coordinate?: string
  readonly axis?: readonly number[]
}

function jointsOf(machine: Part, body: string, joint: Part): string[] {
  const parent = joint.on === ground ? rootName : (joint.on as string)
  const steps = stepsOf(machine, body, joint)
  return steps.flatMap((step, i) => {
    const isLast = i === steps.length - 1
    const child = isLast ? body : `${body}Between`
    const origin =
      i === 0
        ? ([joint.at, joint.turned] as [number[], number[]])
        : [
            [0, 0, 0],
            [0, 0, 0],
          ]
    const between = isLast ? [] : [`  <link name="${child}"/>`]
    return [
      ...between,
      jointLines(
        machine,
        isLast ? body : child,
        step,
        i === 0 ? parent : `${body}Between`,
        child,
        origin as [number[], number[]],
      ),
    ]
  })
}

/** One joint of the standard, or two in a row. */
function stepsOf(machine: Part, body: string, joint: Part): JointWords[] {
  const turning = (name: string, axis: unknown): JointWords => ({
    type: stopsOf(machine, `${body}.${name}`) === undefined ? 'continuous' : 'revolute',
    coordinate: `${body}.${name}`,
    axis: axis as number[],
  })
  switch (joint.kind) {
    case 'fixed':
      return [{ type: 'fixed' }]
    case 'turning':
      return [turning('angle', joint.axis)]
    case 'sliding':
      return [{ type: 'prismatic', coordinate: `${body}.travel`, axis: joint.axis as number[] }]
    case 'planar':
      return [{ type: 'planar', axis: joint.axis as number[] }]
    case 'turningSliding':
      return [{ type: 'prismatic', coordinate: `${body}.travel`, axis: joint.axis as number[] }, turning('angle', joint.axis)]
    case 'twoAxis':
      return [turning('firstAngle', joint.first), turning('secondAngle', joint.second)]
    default:
      return [{ type: 'floating' }]
  }
}

function jointLines(
  machine: Part,
  name: string,
  { type, coordinate, axis }: JointWords,
  parent: string,
  child: string,
  [xyz, rpy]: [number[], number[]],
): string {
  return [
    `  <joint name="${name}Joint" type="${type}">`,
    `    <parent link="${parent}"/>`,
    `    <child link="${child}"/>`,
    `    <origin xyz="${list(xyz)}" rpy="${list(rpy)}"/>`,
    ...(axis === undefined ? [] : [`    <axis xyz="${list(axis)}"/>`]),
    ...(coordinate === undefined ? [] : limitLines(machine, type, coordinate)),
    '  </joint>',
  ].join('\n')
}

function limitLines(machine: Part, type: string, coordinate: string): string[] {
  const stops = stopsOf(machine, coordinate)
  const drive = effectParts(machine).find(({ kind, part }) => kind.input !== undefined && part.joint === coordinate)
  const effort = drive?.kind.reach?.((slot) => (drive.part[slot] as number | undefined) ?? 0, 0)
  const friction = partWith(machine, 'forces', 'jointFriction', coordinate)
  const mimic = partWith(machine, 'chains', 'coupled', coordinate)
  const [lower, upper] = [stops?.least ?? -noLimit, stops?.most ?? noLimit] as [number, number]
  const bounds = type === 'continuous' ? '' : `lower="${lower}" upper="${upper}" `
  const isLimited = type !== 'continuous' || effort !== undefined
  return [
    ...(isLimited ? [`    <limit ${bounds}effort="${effort ?? 0}" velocity="${noLimit}"/>`] : []),
    ...(friction === undefined
      ? []
      : [`    <dynamics damping="${friction.viscous as number}" friction="${friction.sliding as number}"/>`]),
    ...(mimic === undefined
      ? []
      : [
          `    <mimic joint="${(mimic.source as string).split('.')[0]!}Joint" multiplier="${mimic.ratio as number}" offset="${mimic.offset as number}"/>`,
        ]),
  ]
}

function stopsOf(machine: Part, coordinate: string): Part | undefined {
  return partWith(machine, 'forces', 'jointStops', coordinate)
}

function partWith(machine: Part, group: string, kind: string, coordinate: string): Part | undefined {
  return Object.values(partsIn(machine[group])).find((part) => part.kind === kind && part.joint === coordinate)
}

/** What has no place in the format, in words. */
function leftOut(machine: Part, bodies: readonly (readonly [string, Part])[]): string[] {
  const names = (group: string, keeps: (part: Part) => boolean) =>
    Object.entries(partsIn(machine[group]))
      .filter(([, part]) => !keeps(part))
      .map(([name]) => name)
  const known = new Set(coordinateNames(machine))
  const chains = names('chains', ({ kind }) => kind === 'coupled')
  const forces = names(
    'forces',
    ({ kind, joint }) => (kind === 'jointStops' || kind === 'jointFriction') && known.has(joint as string),
  )
  const starts = bodies.filter(([, { joint }]) => ((joint as Part).start ?? 0) !== 0).map(([name]) => name)
  const more = ['sensors', 'surroundings', 'motions', 'expectations', 'conditions'].filter(
    (group) => names(group, () => false).length > 0,
  )
  return [
    ...(chains.length > 0 ? [`closed chains: ${chains.join(', ')}`] : []),
    ...(forces.length > 0 ? [`forces: ${forces.join(', ')}`] : []),
    ...(starts.length > 0 ? [`where joints start: ${starts.join(', ')}`] : []),
    ...more,
  ]
}

function list(values: readonly number[]): string {
  return values.join(' ')
}

/** Without the characters that XML would have to spell out: readers of robot descriptions differ in undoing that. */
function plain(text: string): string {
  return text
    .replace(/[&"<>]/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
}
