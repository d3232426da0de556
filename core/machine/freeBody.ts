import type { Scalar } from '../expression'
import { applied, cross, minus, plus, scaled } from '../algebra'
import type { Vector } from '../algebra'
import type { Part } from '../document'
import { outwardOrder, seatPose } from './assemble'
import type { MechanismLayers } from './effects/effect'
import { actedOn, mechanismMotion } from './mechanismMotion'
import type { MechanismForm } from './mechanismMotion'
import { numbersOf } from './numbers'
import { bodyPoses } from './tree'
import { World } from './world'
import type { Load } from './world'
import { bodiesOf } from './linkedBody'

type Triple = readonly [number, number, number]

/** One force and moment on a body, world axes. */
export interface BodyLoad {
  /** `weight`, the path of a force, drive or chain, or the body across the joint. */
  readonly from: string
  readonly sort: 'weight' | 'joint' | 'effect' | 'chain'
  /** Where it acts, m. */
  readonly at: Triple
  /** N */
  readonly force: Triple
  /** N·m, about that point. */
  readonly moment: Triple
}

/** A machine at rest: all its states and inputs, and the chain rows that are kept. */
export interface RestState {
  readonly form: MechanismForm
  readonly states: readonly number[]
  readonly inputs: readonly number[]
  readonly keptRows: readonly number[]
}

/**
 * The free body of every body of a machine at rest: its weight, what forces, drives and chains do to it, and what its
 * joints carry, so that forces and moments are in balance. What acts between the two bodies of a joint, such as a drive,
 * is part of what the joint carries.
 */
export function freeBodies(machine: Part, layers: MechanismLayers, rest: RestState): ReadonlyMap<string, readonly BodyLoad[]> {
  const read = numbersOf(machine)
  const { assembly } = rest.form
  const [nq, nv] = [assembly.positions.length, assembly.speeds.length]
  const state = { q: rest.states.slice(0, nq), speeds: rest.states.slice(nq, nq + nv) }
  const poses = bodyPoses(assembly.tree, state.q)
  const loads: Load[] = []
  const world = new World(machine, read, layers, assembly, state, poses, 0, (load) => loads.push(load))
  actedOn(world, machine, rest.states.slice(nq + nv), rest.inputs)

  const bodies = Object.entries(bodiesOf(machine))
  const poseOf = (body: string) => seatPose(assembly.seats.get(body)!, poses)
  const own = new Map(bodies.map(([name]): [string, BodyLoad[]] => [name, []]))
  for (const [name, { mass, centre }] of bodies) {
    const { rotation, position } = poseOf(name)
    const at = plus(position, applied(rotation, centre))
    const force = scaled(assembly.tree.gravity, mass)
    if (mass !== 0) own.get(name)!.push({ from: 'weight', sort: 'weight', at: numbers(at), force: numbers(force), moment: zero })
  }
  for (const { path, body, at, force, moment } of loads) add(own.get(body), { from: path, sort: 'effect' }, at, force, moment)
  // what keeps chains closed is known only with the accelerations
  if (rest.keptRows.length > 0) {
    const { reactions, chainRows } = mechanismMotion(machine, read, layers, rest.form, rest.states, rest.inputs, rest.keptRows)
    rest.keptRows.forEach((row, k) => {
      const { chain, acts } = chainRows[row]!
      const what = { from: `chains.${chain}`, sort: 'chain' } as const
      for (const { body, at, force, moment } of acts)
        add(own.get(body), what, at, scaled(force, reactions[k]!), scaled(moment, reactions[k]!))
    })
  }

  // from the ends inward: what hangs on a body has been balanced before it is
  const origin = (body: string) => numbers(poseOf(body).position)
  const all = new Map([...own].map(([name, list]): [string, BodyLoad[]] => [name, merged(list)]))
  const inward = outwardOrder(bodiesOf(machine))!.reverse()
  for (const name of inward) {
    const at = origin(name)
    const carried = resultant(all.get(name)!, at)
    const [force, moment] = [numbers(scaled(carried.force, -1)), numbers(scaled(carried.moment, -1))]
    if (!carries(force, moment)) continue
    const { on } = (machine.bodies as Readonly<Record<string, { joint: { on: string } }>>)[name]!.joint
    all.get(name)!.push({ from: on, sort: 'joint', at, force, moment })
    all.get(on)?.push({ from: name, sort: 'joint', at, force: carried.force, moment: carried.moment })
  }
  return all
}

/** N and N·m: less is what Newton's method left. */
const negligible = 1e-6
const zero: Triple = [0, 0, 0]

function carries(force: Triple, moment: Triple): boolean {
  return [...force, ...moment].some((value) => Math.abs(value) > negligible)
}

function add(
  list: BodyLoad[] | undefined,
  what: Pick<BodyLoad, 'from' | 'sort'>,
  at: Vector,
  force: Vector,
  moment: Vector,
): void {
  const load = { ...what, at: numbers(at), force: numbers(force), moment: numbers(moment) }
  if (list !== undefined && carries(load.force, load.moment)) list.push(load)
}

/** Pushes of one part at one point are one. */
function merged(loads: readonly BodyLoad[]): BodyLoad[] {
  const out = new Map<string, BodyLoad>()
  for (const load of loads) {
    const key = `${load.from} ${load.at.map((value) => value.toFixed(9)).join()}`
    const before = out.get(key)
    const next =
      before === undefined ? load : { ...load, force: sum(before.force, load.force), moment: sum(before.moment, load.moment) }
    out.set(key, next)
  }
  return [...out.values()]
}

/** All loads as one force and one moment about a point. */
export function resultant(loads: readonly BodyLoad[], about: Triple): { force: Triple; moment: Triple } {
  return loads.reduce(
    (total, { at, force, moment }) => ({
      force: sum(total.force, force),
      moment: sum(sum(total.moment, moment), numbers(cross(minus(at, about), force))),
    }),
    { force: zero, moment: zero },
  )
}

function sum(a: Triple, b: Triple): Triple {
  return numbers(plus(a, b))
}

function numbers(vector: readonly Scalar[]): Triple {
  return vector.map((value) => value as number) as unknown as Triple
}
