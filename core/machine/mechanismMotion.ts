import { add, mul, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import { applied, cross, plus, solveDefinite } from '../algebra'
import type { Placement, Spatial } from '../algebra'
import { partsIn } from '../document'
import type { Part } from '../document'
import { findKind, labelOf } from '../kinds'
import { assemble, seatPose, structuralVector } from './assemble'
import type { Assembly } from './assemble'
import { chains } from './chains'
import type { BodyView, ChainRow, ChainScene } from './chains/chain'
import { effects } from './effects'
import { unitAlong } from './effects/effect'
import type { Acted, EffectKind, EffectUnit, MechanismLayers } from './effects/effect'
import type { StateInfo } from './stateInfo'
import { mechanismSensors } from './mechanismSensors'
import { sensorsOf } from './mechanismSensors/sensor'
import type { Sensor, SensorKind } from './mechanismSensors/sensor'
import type { Read } from './read'
import { readSignals, readingParts } from './readings'
import {
  biasAccelerations,
  biasEfforts,
  bodyPoses,
  byBody,
  effortsLeft,
  energies,
  forwardDynamics,
  inverseDynamics,
  pointJacobian,
  massMatrix,
  motionOf,
  positionCount,
  positionRates,
} from './tree'
import { World, coordinateOf, numberIn } from './world'
import type { Looking } from './world'

export interface InputInfo {
  /** `drives.hoist` */
  readonly name: string
  readonly label: string
  readonly unit: string
}

/** What a mechanism is made of once its structure is known: names of states and inputs, in order. */
export interface MechanismForm {
  readonly assembly: Assembly
  readonly states: readonly StateInfo[]
  readonly inputs: readonly InputInfo[]
}

/** A row with the name of its chain. */
export interface NamedRow extends ChainRow {
  readonly chain: string
}

/** What is shown of a machine beside its states. */
export interface ShownSignal {
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly value: Scalar
  /** Of an effect: what others of its group show alike, and whose it is. */
  readonly alike?: { readonly name: string; readonly label: string; readonly part: string }
}

export interface MechanismMotion {
  /** Time derivatives of positions, speeds and the effects' own states. */
  readonly rates: readonly Scalar[]
  readonly poses: readonly Placement[]
  readonly chainRows: readonly NamedRow[]
  /** One a kept row: the force that keeps the chain closed. */
  readonly reactions: readonly Scalar[]
  readonly energy: { readonly kinetic: Scalar; readonly potential: Scalar; readonly stored: Scalar }
  /** W: what drives put in, and what is lost for good. */
  readonly power: { readonly supplied: Scalar; readonly dissipated: Scalar }
  readonly signals: readonly ShownSignal[]
  /** The same for accelerations that are known already: sensors need no second solution. */
  readonly signalsAt: (accelerations: readonly Scalar[]) => MechanismMotion['signals']
}

/** 1/s: how fast a gap in a chain is drawn shut (Baumgarte, 1972, critically damped). */
const closingRate = 40

/** Effects of a mechanism with their document paths, forces before drives. */
export function effectParts(machine: Part): { path: string; name: string; part: Part; kind: EffectKind }[] {
  return (['forces', 'drives'] as const).flatMap((group) =>
    Object.entries(partsIn(machine[group])).map(([name, part]) => ({
      path: `${group}.${name}`,
      name,
      part,
      kind: findKind(effects, part)!,
    })),
  )
}

/** Batteries that drives can name. */
export function batteryNames(machine: Part): string[] {
  return effectParts(machine)
    .filter(({ kind }) => kind?.voltage !== undefined)
    .map(({ name }) => name)
}

/** Sensors of a mechanism with their document paths. */
export function sensorParts(machine: Part): { path: string; name: string; part: Sensor; kind: SensorKind }[] {
  return Object.entries(sensorsOf(machine)).map(([name, part]) => ({
    path: `sensors.${name}`,
    name,
    part,
    kind: findKind(mechanismSensors, part)!,
  }))
}

export function mechanismForm(machine: Part, read: Read): MechanismForm {
  const assembly = assemble(machine, read)
  const { positions, speeds, start } = assembly
  const own = effectParts(machine).flatMap(({ path, part, kind }) =>
    (kind.states ?? []).map(({ name, unit, start: from }) => ({
      name: `${path}.${name}`,
      unit: unitAlong(unit, positionUnit(assembly, part)),
      atRest: from === undefined ? 0 : ((part[from] as number | undefined) ?? 0),
    })),
  )
  return {
    assembly,
    states: [
      ...positions.map(({ name, unit }, i) => ({ name, unit, atRest: start[i]! })),
      ...speeds.map(({ name, unit }) => ({ name, unit, atRest: 0 })),
      ...own,
    ],
    inputs: effectParts(machine).flatMap(({ path, part, kind }) =>
      kind.input === undefined
        ? []
        : [{ name: path, label: kind.input.label, unit: unitAlong(kind.input.unit, positionUnit(assembly, part)) }],
    ),
  }
}

function positionUnit({ positions }: Assembly, part: Part): string {
  return positions.find(({ name }) => name === part.joint)?.unit ?? ''
}

/**
 * Equations of motion: M v' = tau - h + Jᵀ reactions, J v' = -bias - 2 k rate - k² gap for the chain rows that are kept.
 * Without chains by articulated bodies.
 */
export function mechanismMotion(
  machine: Part,
  read: Read,
  layers: MechanismLayers,
  form: MechanismForm,
  states: readonly Scalar[],
  inputs: readonly Scalar[],
  keptRows: readonly number[],
  time: Scalar = 0,
  looking?: Looking,
): MechanismMotion {
  const assembly = gearedAssembly(machine, read, layers, form.assembly)
  const { tree } = assembly
  const count = positionCount(tree)
  const q = states.slice(0, count)
  const speeds = states.slice(count, count + assembly.speeds.length)
  const state = { q, speeds }
  const poses = bodyPoses(tree, q)
  const world = new World(machine, read, layers, assembly, state, poses, time, undefined, looking)
  const acted = actedOn(world, machine, states.slice(count + assembly.speeds.length), inputs)
  const chainRows = chainRowsOf(machine, read, assembly, state, poses)
  const kept = keptRows.map((row) => chainRows[row]!)
  const { accelerations, reactions } = solved(world, state, kept)
  const signalsAt = (given: readonly Scalar[]) => [
    ...acted.flatMap(({ path, part, acted: { signals } }) =>
      (signals ?? []).map((signal): ShownSignal => {
        const [group, name] = path.split('.') as [string, string]
        const called = labelOf(part, name)
        return {
          ...signal,
          name: `${path}.${signal.name}`,
          label: `${signal.label} of ${called}`,
          unit: unitAlong(signal.unit, positionUnit(assembly, part)),
          alike: { name: `${group}.${signal.name}`, label: signal.label, part: called },
        }
      }),
    ),
    ...looked(machine, world, given),
  ]
  const total = (of: (one: Acted) => Scalar | undefined) => sum(acted.map((one) => of(one.acted) ?? 0))
  return {
    rates: [...positionRates(tree, state), ...accelerations, ...acted.flatMap((one) => one.acted.rates ?? [])],
    poses,
    chainRows,
    reactions,
    // what is only looked at is made when it is looked at: building it costs more than running it
    get energy() {
      return { ...energies(tree, state), stored: total(({ stored }) => stored) }
    },
    power: { supplied: total(({ supplied }) => supplied), dissipated: total(({ dissipated }) => dissipated) },
    get signals() {
      return signalsAt(accelerations)
    },
    signalsAt,
  }
}

/** Lets all forces and drives act on a world, or the one at `only`: `own` are their states in order. */
export function actedOn(
  world: World,
  machine: Part,
  own: readonly Scalar[],
  inputs: readonly Scalar[],
  only?: string,
): { path: string; part: Part; acted: Acted }[] {
  let nextState = 0
  let nextInput = 0
  const all = effectParts(machine).map((one) => ({
    ...one,
    own: own.slice(nextState, (nextState += one.kind.states?.length ?? 0)),
    input: one.kind.input === undefined ? 0 : inputs[nextInput++]!,
  }))
  const batteries = all.filter(({ kind }) => kind.voltage !== undefined)
  const waiting = only === undefined ? all : all.filter((one) => one.path === only || batteries.includes(one))
  for (const one of batteries)
    world.offer(one.name, mul(one.kind.voltage!(world.scene(one.path, one.part, one.own, 0)), world.passedOn(one.path, one.part)))
  const acts = (one: (typeof waiting)[number]) => {
    const acted = one.kind.act(world.scene(one.path, one.part, one.own, one.input, world.drawnFrom(one.name)), one.part)
    return inPart(acted, world.passedOn(one.path, one.part))
  }
  // batteries after all that draws from them
  const done = new Map([...waiting.filter((one) => !batteries.includes(one)), ...batteries].map((one) => [one.path, acts(one)]))
  return waiting.map(({ path, part }) => ({ path, part, acted: done.get(path)! }))
}

/** What an effect leaves of which only a share arrives: its forces, and their power, are that much less. */
function inPart(acted: Acted, share: Scalar): Acted {
  if (share === 1) return acted
  const { stored = 0, dissipated = 0, supplied = 0 } = acted
  return {
    ...acted,
    ...{ stored: mul(stored, share), dissipated: mul(dissipated, share), supplied: mul(supplied, share) },
    signals: (acted.signals ?? []).map((one) => (isEffort(one.unit) ? { ...one, value: mul(one.value, share) } : one)),
  }
}

function isEffort(unit: EffectUnit): boolean {
  return typeof unit === 'string' ? unit === 'N' || unit === 'N·m' : unit.along === 'effort'
}

/**
 * Efforts of all coordinates that give accelerations against gravity and the forces of the machine, without its drives:
 * recursive Newton-Euler. Rotors geared to joints count as inertia of the joint.
 */
export function neededEfforts(
  machine: Part,
  read: Read,
  layers: MechanismLayers,
  form: MechanismForm,
  { q, speeds, accelerations }: Readonly<Record<'q' | 'speeds' | 'accelerations', readonly Scalar[]>>,
): Scalar[] {
  const rigid = new Set([...layers].filter((layer) => layer !== 'gears'))
  const assembly = gearedAssembly(machine, read, rigid, form.assembly)
  const world = new World(machine, read, layers, assembly, { q, speeds }, bodyPoses(assembly.tree, q), 0)
  for (const { path, part, kind } of effectParts(machine))
    if (path.startsWith('forces.')) kind.act(world.scene(path, part, [], 0), part)
  const needed = inverseDynamics(assembly.tree, { q, speeds }, accelerations, world.forces)
  return needed.map((effort, i) => sub(effort, world.efforts[i]!))
}

/** Everything that sensors of a mechanism read, by the name of its signal. `along` gives the unit of a coordinate. */
export function sensorReadings(machine: Part, along: (coordinate: string) => string) {
  return sensorParts(machine).flatMap(({ path, name: sensor, part, kind }) =>
    kind.readings(part).map(({ name, label, unit }, index) => ({
      name: name === '' ? path : `${path}.${name}`,
      label,
      unit: unit === '' || unit === '/s' ? `${along(part.joint as string)}${unit}` : unit,
      ...{ sensor, path, part, kind, index },
    })),
  )
}

/** What readings show, and what perfect sensors would read. */
function looked(machine: Part, world: World, accelerations: readonly Scalar[]): readonly ShownSignal[] {
  const [looks, sensors] = [readingParts(machine), sensorParts(machine)]
  if (looks.length + sensors.length === 0) return []
  const accelerated = world.accelerated(accelerations)
  const shown: ShownSignal[] = []
  const seen: Record<string, Scalar> = {}
  const sight = (path: string, part: Part) => {
    const scene = world.scene(path, part, [], 0)
    // formulas know all readings before them
    return { ...scene, ...accelerated, ...world.view(), formula: (slot: string) => scene.formula(slot, seen) }
  }
  const signals = readSignals(machine)
  for (const { path, name, part, kind } of looks) {
    const values = kind.reads(sight(path, part), part)
    signals
      .filter(({ reading }) => reading === name)
      .forEach((signal, i) => {
        seen[signal.name] = values[i]!
        shown.push({ name: signal.name, label: signal.label, unit: signal.unit, value: values[i]! })
      })
  }
  const values = sensors.flatMap(({ path, part, kind }) => kind.reads(sight(path, part), part))
  const { positions } = world.assembly
  const read = sensorReadings(machine, (coordinate) => positions.find(({ name }) => name === coordinate)?.unit ?? '')
  return [
    ...shown,
    ...read.map(({ name, label, unit, part, sensor }, i) => ({
      ...{ name, unit, value: values[i]! },
      label: `${label} of ${labelOf(part, sensor)}`,
    })),
  ]
}

function solved(
  world: World,
  state: { q: readonly Scalar[]; speeds: readonly Scalar[] },
  rows: readonly ChainRow[],
): { accelerations: Scalar[]; reactions: Scalar[] } {
  const { tree } = world.assembly
  if (rows.length === 0) return { accelerations: forwardDynamics(tree, state, world.efforts, world.forces), reactions: [] }
  const free = effortsLeft(world.efforts, biasEfforts(tree, state, world.forces))
  const columns = solveDefinite(
    massMatrix(tree, state),
    free.map((effort, i) => [effort, ...rows.map(({ jacobian }) => jacobian[i]!)]),
  )
  const along = (row: ChainRow, c: number) => sum(row.jacobian.map((entry, i) => mul(entry, columns[i]![c]!)))
  const a = rows.map((row) => rows.map((_, c) => along(row, c + 1)))
  const wanted = rows.map((row) => {
    const shut = add(mul(2 * closingRate, row.rate), mul(closingRate * closingRate, row.gap))
    return [sub(sub(sub(0, row.bias), shut), along(row, 0))]
  })
  const reactions = solveDefinite(a, wanted).map(([value]) => value!)
  const accelerations = columns.map((column) =>
    add(column[0]!, sum(reactions.map((reaction, c) => mul(column[c + 1]!, reaction)))),
  )
  return { accelerations, reactions }
}

/** Every equation of every chain, kept or not. */
export function chainRowsOf(
  machine: Part,
  read: Read,
  assembly: Assembly,
  state: { q: readonly Scalar[]; speeds: readonly Scalar[] },
  poses: readonly Placement[],
): NamedRow[] {
  const parts = Object.entries(partsIn(machine.chains))
  if (parts.length === 0) return []
  const views = new Map<string, BodyView>()
  const moved = motionOf(assembly.tree, state)
  const bias = biasAccelerations(assembly.tree, moved)
  const body = (name: string): BodyView => {
    const known = views.get(name)
    if (known !== undefined) return known
    const view = bodyView(assembly, name, state, poses, moved, bias)
    views.set(name, view)
    return view
  }
  return parts.flatMap(([name, part]) => {
    const kind = findKind(chains, part)!
    const scene: ChainScene = {
      body,
      vector: (slot) => structuralVector(part[slot] as readonly number[], `chains.${name}.${slot}`, read),
      number: (slot) => read(`chains.${name}.${slot}`),
      coordinate: (coordinate) => coordinateOf(assembly, state, coordinate),
      speeds: assembly.speeds.length,
    }
    return kind.rows(scene, part).map((row) => ({ ...row, chain: name }))
  })
}

const still: Spatial = { angular: [0, 0, 0], linear: [0, 0, 0] }

function bodyView(
  assembly: Assembly,
  name: string,
  state: { q: readonly Scalar[] },
  poses: readonly Placement[],
  moved: ReturnType<typeof motionOf>,
  bias: readonly Spatial[],
): BodyView {
  const seat = assembly.seats.get(name)!
  const pose = seatPose(seat, poses)
  if (seat.body < 0) {
    const none = assembly.speeds.map(() => still)
    return { name, pose, jacobian: none, ...still, angularBias: still.angular, linearBias: still.linear }
  }
  const { rotation } = poses[seat.body]!
  const { velocity } = moved[seat.body]!
  const own = bias[seat.body]!
  const arm = applied(rotation, seat.place.position)
  const angular = applied(rotation, velocity.angular)
  const linear = plus(applied(rotation, velocity.linear), cross(angular, arm))
  const angularBias = applied(rotation, own.angular)
  // from the spatial acceleration to that of the point: a + w x v, then out along the arm
  const ofOrigin = applied(rotation, plus(own.linear, cross(velocity.angular, velocity.linear)))
  const linearBias = plus(ofOrigin, plus(cross(angularBias, arm), cross(angular, cross(angular, arm))))
  const jacobian = pointJacobian(assembly.tree, state.q, seat.body, pose.position, [...poses])
  return { name, pose, jacobian, angular, linear, angularBias, linearBias }
}

/** The tree with the rotors that are geared to its joints. */
export function gearedAssembly(machine: Part, read: Read, layers: MechanismLayers, assembly: Assembly): Assembly {
  const parts = effectParts(machine).filter(({ kind }) => kind.armature !== undefined)
  if (parts.length === 0) return assembly
  const added: Scalar[] = assembly.speeds.map(() => 0)
  for (const { path, part, kind } of parts) {
    const at = assembly.pairs[assembly.positions.findIndex(({ name }) => name === part.joint)]!
    const inertia = kind.armature!({ number: numberIn(part, path, read), has: (layer) => layers.has(layer) })
    added[at] = add(added[at]!, inertia)
  }
  const bySpeed = byBody(assembly.tree, 'speeds', added)
  const bodies = assembly.tree.bodies.map((body, i) => ({ ...body, armature: bySpeed[i]! }))
  return { ...assembly, tree: { ...assembly.tree, bodies } }
}
