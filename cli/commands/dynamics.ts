import Joi from 'joi'
import { applied, forceOutOf, multiply, plus, quaternionFromRotation, solve, transposedRows } from '@calm-hand/core/algebra'
import type { Spatial, Vector } from '@calm-hand/core/algebra'
import type { Problem } from '@calm-hand/core/document'
import { nearestName } from '@calm-hand/core/document'
import { parseUrdf, robotMachine } from '@calm-hand/core/formats'
import type { Robot, RobotJoint, RobotMachine } from '@calm-hand/core/formats'
import * as machine from '@calm-hand/core/machine'
import type { Assembly } from '@calm-hand/core/machine'
import { bad, badFrom, badInput, fine } from '../output'
import type { Result } from '../output'
import { readJson, readText } from '../read'
import { Mimics } from './mimics'

const finite = Joi.number().strict()
const triple = Joi.array().items(finite).length(3)
const byName = Joi.object()
  .pattern(Joi.string(), Joi.alternatives(finite, Joi.array().items(finite).max(7)))
  .default({})
const requestSchema = Joi.object({
  gravity: triple.default([0, 0, -9.80665]),
  base: Joi.string().valid('fixed', 'free').default('fixed'),
  state: Joi.object({
    q: byName,
    qd: byName,
    base: Joi.object({
      position: triple.default([0, 0, 0]),
      orientation: Joi.array().items(finite).length(4).default([1, 0, 0, 0]),
      angular: triple.default([0, 0, 0]),
      linear: triple.default([0, 0, 0]),
    }).default(),
  }).default(),
  torque: byName,
  acceleration: byName,
  wrenches: Joi.object()
    .pattern(Joi.string(), Joi.object({ force: triple.default([0, 0, 0]), torque: triple.default([0, 0, 0]) }))
    .default({}),
  ask: Joi.array().items(Joi.string()).min(1).required(),
})

type Named = Readonly<Record<string, number | readonly number[]>>

interface Request {
  readonly gravity: readonly [number, number, number]
  readonly base: 'fixed' | 'free'
  readonly state: {
    readonly q: Named
    readonly qd: Named
    readonly base: Readonly<Record<'position' | 'orientation' | 'angular' | 'linear', readonly number[]>>
  }
  readonly torque: Named
  readonly acceleration: Named
  readonly wrenches: Readonly<Record<string, { readonly force: Vector; readonly torque: Vector }>>
  readonly ask: readonly string[]
}

/** dynamics ROBOT.urdf REQUEST.json */
export function dynamics(robotPath: string, requestPath: string): Result {
  const text = readText(robotPath)
  if (text.kind === 'refused') return badFrom(text)
  const robot = parseUrdf(text.value)
  if (robot.kind === 'refused') return badFrom(robot)
  const read = readJson(requestPath)
  if (read.kind === 'refused') return badFrom(read)
  const { value, error } = requestSchema.validate(read.value, { abortEarly: false, convert: false }) as {
    value: Request
    error?: Joi.ValidationError
  }
  if (error !== undefined) {
    const what = error.message.replaceAll('"', '`')
    return badInput('request', what, 'Give state, torque or acceleration, and a list of asks; see `calm-hand help dynamics`.')
  }
  const asked = new Asked(robot.value, value)
  if (asked.problems.length > 0) return bad(asked.problems)
  const weightless = asked.weightless()
  if (weightless !== undefined) return bad([weightless])
  const answers = asked.answers()
  return fine(answers, JSON.stringify(answers, null, 2))
}

/** A robot with what was asked of it. */
class Asked {
  readonly problems: Problem[] = []
  private readonly made: RobotMachine
  private readonly assembly: Assembly
  private readonly q: number[] = []
  private readonly qd: number[]
  private readonly mimics: Mimics

  constructor(
    private readonly robot: Robot,
    private readonly request: Request,
  ) {
    this.made = robotMachine(robot, request.base)
    const assembled = machine.assemble(this.made.machine, machine.numbersOf(this.made.machine))
    this.assembly = { ...assembled, tree: { ...assembled.tree, gravity: request.gravity } }
    this.mimics = new Mimics(
      this.bodies().flatMap(({ joint, speeds }) => speedNames(joint, speeds).map((name) => ({ name, joint }))),
    )
    this.qd = this.speeds(request.state.qd, 'state.qd', request.state.base)
    this.checkNames()
    this.setPositions()
  }

  answers(): object {
    const found = Object.fromEntries(this.request.ask.map((ask) => [ask, this.answer(ask)]))
    return { order: this.mimics.free, ...found }
  }

  /** Accelerations do not exist where something without mass can move. */
  weightless(): Problem | undefined {
    if (!this.request.ask.includes('forward')) return undefined
    const light = machine.weightlessSpeed(this.massMatrix())
    if (light === undefined) return undefined
    const name = this.mimics.free[light]
    const what = `Nothing with mass resists ${name}, so its acceleration has no value.`
    return { where: `joint ${name}`, what, remedy: 'Give the links beyond it a mass and an inertia.' }
  }

  private answer(ask: string): unknown {
    const { tree, seats } = this.assembly
    const { q, qd } = this
    const state = { q, speeds: qd }
    const poses = machine.bodyPoses(tree, q)
    const none = { angular: [0, 0, 0], linear: [0, 0, 0] }
    switch (ask) {
      case 'massMatrix':
        return this.massMatrix()
      case 'bias':
        return this.mimics.gathered(machine.biasEfforts(tree, state) as number[])
      case 'forward':
        return this.forward(this.perSpeed(this.request.torque, 'torque', none))
      case 'inverse':
        return this.mimics.gathered(this.inverse(this.speeds(this.request.acceleration, 'acceleration', none)))
      case 'poses':
        return Object.fromEntries(
          this.robot.links.map(({ name }) => {
            const { rotation, position } = machine.seatPose(seats.get(this.made.bodyOfLink.get(name)!)!, poses)
            return [name, { position, orientation: quaternionFromRotation(rotation as never) }]
          }),
        )
      case 'centerOfMass':
        return machine.massAndCentre(tree, poses).centre
      case 'energy':
        return machine.energies(tree, state)
      case 'momentum': {
        const { angular, linear } = machine.momentum(tree, state)
        return { linear, angular }
      }
      default:
        return this.jacobian(ask.slice('jacobian:'.length))
    }
  }

  private massMatrix(): number[][] {
    return this.mimics.reduced(machine.massMatrix(this.assembly.tree, { q: this.q }) as number[][])
  }

  private inverse(accelerations: readonly number[]): number[] {
    const state = { q: this.q, speeds: this.qd }
    return machine.inverseDynamics(this.assembly.tree, state, accelerations, this.forces()) as number[]
  }

  /** Accelerations of the free coordinates. */
  private forward(torques: readonly number[]): readonly number[] {
    const { tree } = this.assembly
    if (this.mimics.areNone)
      return machine.forwardDynamics(tree, { q: this.q, speeds: this.qd }, torques, this.forces()) as number[]
    const still = this.inverse(torques.map(() => 0))
    const left = this.mimics.gathered(torques.map((torque, i) => torque - still[i]!))
    const solved = solve(
      this.massMatrix(),
      left.map((value) => [value]),
    )
    return (solved ?? []).map(([value]) => value!)
  }

  private jacobian(link: string): unknown {
    const { tree, seats } = this.assembly
    const poses = machine.bodyPoses(tree, this.q)
    const seat = seats.get(this.made.bodyOfLink.get(link)!)!
    const { position } = machine.seatPose(seat, poses)
    const columns = machine.pointJacobian(tree, this.q, seat.body, position, poses)
    const rows = [0, 1, 2, 3, 4, 5].map((row) =>
      columns.map(({ angular, linear }) => (row < 3 ? angular[row as 0] : linear[(row - 3) as 0]) as number),
    )
    return multiply(rows, this.mimics.spread)
  }

  /** Wrenches at link origins in world axes, as forces on the tree's bodies in their own axes. */
  private forces(): (Spatial | undefined)[] {
    const { tree, seats } = this.assembly
    const poses = machine.bodyPoses(tree, this.q)
    const forces: (Spatial | undefined)[] = tree.bodies.map(() => undefined)
    for (const [link, { force, torque }] of Object.entries(this.request.wrenches)) {
      const seat = seats.get(this.made.bodyOfLink.get(link)!)!
      if (seat.body < 0) continue
      const back = transposedRows(machine.seatPose(seat, poses).rotation)
      const own = forceOutOf(seat.place, { angular: applied(back, torque), linear: applied(back, force) })
      const before = forces[seat.body]
      forces[seat.body] =
        before === undefined ? own : { angular: plus(before.angular, own.angular), linear: plus(before.linear, own.linear) }
    }
    return forces
  }

  /** The joints with freedom in the order of the tree; nothing stands for a free base. */
  private bodies(): { joint: RobotJoint | undefined; positions: number; speeds: number }[] {
    const byBody = new Map(this.robot.joints.map((joint) => [this.made.bodyOfJoint.get(joint.name)!, joint]))
    return this.assembly.tree.bodies.map(({ name, positions, speeds }) => ({ joint: byBody.get(name), positions, speeds }))
  }

  private setPositions(): void {
    const { state } = this.request
    for (const { joint, positions } of this.bodies()) {
      if (joint === undefined) {
        this.q.push(...state.base.orientation!, ...state.base.position!)
        continue
      }
      const given = this.position(joint, 0)
      const rest = joint.type === 'floating' ? [0, 0, 0, 1, 0, 0, 0] : new Array<number>(positions).fill(0)
      const values = given === undefined ? rest : typeof given === 'number' ? [given] : [...given]
      if (values.length !== positions)
        this.problems.push({
          where: `state.q.${joint.name}`,
          what: `${values.length} numbers are given; ${positions} are wanted.`,
          remedy: 'Give a number for one freedom, x y angle for a planar joint, x y z w x y z for a floating one.',
        })
      // the document has attitude first, the request position first
      this.q.push(...(joint.type === 'floating' ? [...values.slice(3), ...values.slice(0, 3)] : values))
    }
  }

  /** A joint that mimics another stands where that one puts it. */
  private position(joint: RobotJoint, depth: number): number | readonly number[] | undefined {
    const given = this.request.state.q[joint.name]
    if (joint.mimic === undefined || depth > this.robot.joints.length) return given
    const source = this.robot.joints.find(({ name }) => name === joint.mimic!.joint)!
    const at = this.position(source, depth + 1)
    const follows = joint.mimic.multiplier * (typeof at === 'number' ? at : 0) + joint.mimic.offset
    if (depth === 0) this.mustFollow(joint, 'state.q', given, follows)
    return follows
  }

  private mustFollow({ name, mimic }: RobotJoint, where: string, given: unknown, follows: number): void {
    if (given === undefined || (typeof given === 'number' && Math.abs(given - follows) <= 1e-9 * (1 + Math.abs(follows)))) return
    this.problems.push({
      where: `${where}.${name}`,
      what: `${name} mimics ${mimic!.joint} and so is at ${follows}, not at ${JSON.stringify(given)}.`,
      remedy: `Leave it out: it follows ${mimic!.joint}.`,
    })
  }

  /** One number a velocity coordinate, with joints that mimic others as those ask. */
  private speeds(given: Named, where: string, base: Readonly<Record<'angular' | 'linear', readonly number[]>>): number[] {
    const followed = this.mimics.followed(this.perSpeed(given, where, base))
    let at = 0
    for (const { joint, speeds } of this.bodies()) {
      if (joint?.mimic !== undefined) this.mustFollow(joint, where, given[joint.name], followed[at]!)
      at += speeds
    }
    return followed
  }

  private perSpeed(given: Named, where: string, base: Readonly<Record<'angular' | 'linear', readonly number[]>>): number[] {
    return this.bodies().flatMap(({ joint, speeds }) => {
      if (joint === undefined) return [...base.angular, ...base.linear]
      const value = given[joint.name]
      const values = value === undefined ? new Array<number>(speeds).fill(0) : typeof value === 'number' ? [value] : [...value]
      if (values.length !== speeds)
        this.problems.push({
          where: `${where}.${joint.name}`,
          what: `${values.length} numbers are given; ${speeds} are wanted.`,
          remedy: 'Give one number for each freedom of the joint.',
        })
      return values
    })
  }

  private checkNames(): void {
    const joints = this.robot.joints.map(({ name }) => name)
    const links = this.robot.links.map(({ name }) => name)
    const { state, torque, acceleration, wrenches, ask } = this.request
    const expect = (where: string, names: readonly string[], known: readonly string[], sort: string) => {
      for (const name of names.filter((one) => !known.includes(one))) {
        const near = nearestName(name, known)
        const remedy = near === undefined ? `Known: ${known.slice(0, 20).join(', ')}.` : `Did you mean ${near}?`
        this.problems.push({ where: `${where}.${name}`, what: `There is no ${sort} named ${name}.`, remedy })
      }
    }
    expect('state.q', Object.keys(state.q), joints, 'joint')
    expect('state.qd', Object.keys(state.qd), joints, 'joint')
    expect('torque', Object.keys(torque), joints, 'joint')
    expect('acceleration', Object.keys(acceleration), joints, 'joint')
    expect('wrenches', Object.keys(wrenches), links, 'link')
    const jacobians = ask.filter((one) => one.startsWith('jacobian:')).map((one) => one.slice('jacobian:'.length))
    expect('ask.jacobian', jacobians, links, 'link')
    expect(
      'ask',
      ask.filter((one) => !one.startsWith('jacobian:')),
      asks,
      'ask',
    )
  }
}

const asks = ['massMatrix', 'bias', 'forward', 'inverse', 'poses', 'jacobian:LINK', 'centerOfMass', 'energy', 'momentum']

function speedNames(joint: RobotJoint | undefined, speeds: number): string[] {
  if (joint === undefined) return ['wx', 'wy', 'wz', 'vx', 'vy', 'vz']
  return speeds === 1 ? [joint.name] : Array.from({ length: speeds }, (_, i) => `${joint.name}.${i + 1}`)
}
