import { jacobianAt, sub, tapeOf } from '../expression'
import type { Scalar, Tape } from '../expression'
import { done, partsIn, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import {
  askedNames,
  assemble,
  bodiesOf,
  closeChains,
  closedPose,
  conditionsOf,
  coordinateNames,
  designMechanism,
  fullMechanism,
  numbersOf,
  runnableNames,
  runningOf,
  shortName,
  stillIn,
  totalMass,
  unitFixed,
  unitQuaternions,
} from '../machine'
import type { MechanismForm, MechanismLayers } from '../machine'
import { balance, mostUnbalanced, leastEffort } from './balance'
import type { BalanceRequest } from './balance'
import { linearFormAt } from './mechanismForm'
import type { LinearForm } from './mechanismForm'
import { pointEquations } from './pointEquations'
import type { PointEquations } from './pointEquations'

export interface PointConditions {
  /** Positions to start from, and to hold where they are held. The start of the machine unless given. */
  readonly q?: readonly number[]
  /** Positions that stay where they are; those that drives move unless given. The others go where they balance. */
  readonly held?: readonly string[]
  /** Values of speeds, states of drives, what is asked and signals, by name. */
  readonly fixed?: ReadonlyMap<string, number>
  /** What need not stand still. */
  readonly running?: readonly string[]
  /** Where the search for what is no position begins, speeds first: elsewhere than at rest. */
  readonly near?: ArrayLike<number>
}

export interface MechanismPoint extends LinearForm {
  readonly states: readonly number[]
  /** What drives are asked for. */
  readonly inputs: readonly number[]
  /** What is asked of the machine, through its allocations: the inputs of its linear form. */
  readonly asked: Readonly<Record<string, number>>
  /** What sensors and effects show there, by name. */
  readonly shown: Readonly<Record<string, number>>
  /** Largest acceleration or rate left, of what does not run on. */
  readonly residual: number
  readonly held: readonly string[]
  /** Unknowns that the equations leave open: how many more the engineer could fix. */
  readonly open: number
  /** Inputs that share a load between them: the split is that of least effort, each as a share of its limit. */
  readonly sharing: readonly string[]
  /** Drives that stand there and have no slope, such as a fan whose thrust goes with the square of its speed, by push. */
  readonly standing: Readonly<Record<string, readonly string[]>>
  readonly form: MechanismForm
  readonly keptRows: readonly number[]
}

/**
 * Where a mechanism rests, or moves steadily: positions, drive states and inputs with every rate 0 but those of what runs on,
 * chains closed and what is fixed kept, by Newton's method on exact derivatives, from the pose given and with the least change.
 * Refused where nothing balances it.
 */
export function mechanismPoint(
  machine: Part,
  layers: MechanismLayers,
  conditions: PointConditions = {},
): Outcome<MechanismPoint> {
  const rest = restOf(machine, layers, conditions)
  return rest.kind === 'refused' ? rest : done({ ...toldOf(rest.value), ...linearOf(machine, rest.value) })
}

/** Where a mechanism rests or moves steadily, with the equations that say so. */
interface Rest {
  readonly equations: PointEquations
  readonly at: Float64Array
  readonly residual: number
  readonly held: readonly string[]
  readonly open: number
  /** Slots of what shares a load. */
  readonly sharing: readonly number[]
}

function restOf(machine: Part, layers: MechanismLayers, conditions: PointConditions): Outcome<Rest> {
  if (conditions.held !== undefined) return restWith(machine, layers, { ...conditions, held: conditions.held })
  const driven = [...new Set(drivenCoordinates(machine))]
  // what flies or floats stays where it is where it can: near the ground it would hover in many places
  const places = freePlaces(machine)
  const rests = restWith(machine, layers, { ...conditions, held: [...driven, ...places] })
  if (rests.kind === 'done') return rests
  const onDrives = places.length === 0 ? rests : restWith(machine, layers, { ...conditions, held: driven })
  // a drive that is told what to give moves what it holds
  const told = [...(conditions.fixed?.keys() ?? [])].some((name) => askedNames(machine).includes(name))
  if (onDrives.kind === 'done' || !told) return onDrives
  const loose = restWith(machine, layers, { ...conditions, held: [] })
  return loose.kind === 'done' ? loose : onDrives
}

interface Conditions extends PointConditions {
  readonly held: readonly string[]
}

function restWith(machine: Part, layers: MechanismLayers, conditions: Conditions): Outcome<Rest> {
  const closure = closeChains(machine, conditions.q)
  if (closure.kind === 'open')
    return refusedFor(`chains.${closure.chain}`, 'The chains do not close here.', 'Start from another pose.')
  const { held, fixed = new Map<string, number>(), running = [] } = conditions
  const equations = pointEquations(machine, layers, closure.kept)
  const { form, names, asked } = equations
  const { positions, speeds } = form.assembly
  const [nq, nv, ns] = [positions.length, speeds.length, form.states.length]
  const stays = (i: number) => fixed.has(names[i]!) || (i < ns && running.includes(names[i]!))
  const isMoving = movesBy(equations, conditions)
  const unknowns = names
    .map((_, i) => i)
    .filter((i) => !stays(i) && (i < nq ? !held.includes(names[i]!) : i >= nq + nv || isMoving))
  const needed = toMeet(machine, equations, conditions)
  const must = tapeOf(needed.map(({ rate }) => rate))
  const tidy = (at: Float64Array) => at.set(unitQuaternions(form.assembly, [...at.subarray(0, nq)]))
  /** From the pose given, with what else is not a position. */
  const request = (needed: Tape, rest: ArrayLike<number>): BalanceRequest => ({
    must: needed,
    unknowns,
    start: Float64Array.from([...closure.q, ...Array.from(rest, (value, i) => fixed.get(names[nq + i]!) ?? value)]),
    positions: nq,
    tidy,
  })
  const from = (needed: Tape, rest: ArrayLike<number>) => balance(request(needed, rest))
  const carried = carrying(machine, 0)
  const search = (needed: Tape) => {
    const start = (input: number, pushed = carried) => [
      ...form.states.slice(nq).map(({ atRest }) => atRest),
      ...asked.map((name) => pushed.get(name) ?? input),
    ]
    const own = Array.from({ length: ns - nq - nv }, (_, i) => nq + nv + i)
    const drivesOwn = () => tapeOf(own.map((slot) => equations.rates[slot]!))
    // a rotor that stands has no slope: drives start where their pushes have them
    const settled = (pushed: ReadonlyMap<string, number>) =>
      balance({ ...request(drivesOwn(), start(0, pushed)), unknowns: own }).at.subarray(nq)
    const { near } = conditions
    const bears = [...carried.values()].some((push) => push !== 0)
    const starts: readonly (() => ArrayLike<number>)[] = [
      ...(near === undefined ? [] : [() => near]),
      ...(bears ? [() => settled(carried)] : []),
      () => start(0),
      // a magnet without current has no slope in its current: some of every input
      ...(asked.length === 0 ? [] : [() => start(1)]),
      // a fan that only moves a machine along has nothing to bear: it pushes ahead a little
      ...(isMoving && carried.size > 0 ? [() => settled(carrying(machine, aheadShare))] : []),
    ]
    let found = from(needed, starts[0]!())
    for (const next of starts.slice(1)) {
      if (found.residual < mostUnbalanced) break
      const other = from(needed, next())
      if (other.residual < found.residual) found = other
    }
    return found
  }
  let best = search(must)
  if (!(best.residual < mostUnbalanced) && layers.has('driveLimits')) {
    // a drive at its limit has no slope: what it gives is found without limits first, then with them from there
    const unlimited = new Set([...layers].filter((layer) => layer !== 'driveLimits'))
    const freely = toMeet(machine, pointEquations(machine, unlimited, closure.kept), conditions)
    const free = search(tapeOf(freely.map(({ rate }) => rate)))
    if (free.residual < mostUnbalanced) best = from(must, free.at.subarray(nq))
  }
  if (!(best.residual < mostUnbalanced)) return unbalanced(machine, needed[best.worst], best.residual, conditions)
  const open = Math.max(0, unknowns.length - needed.length)
  const efforts = asked
    .map((name, i) => ({ slot: ns + i, size: limitOf(machine, name) }))
    .filter(({ slot }) => unknowns.includes(slot))
  const least = leastEffort(
    request(must, best.at.subarray(nq)),
    best,
    unknowns.filter((slot) => slot >= nq + nv),
    efforts,
  )
  return done({ equations, at: least.at, residual: least.residual, held, open, sharing: least.sharing })
}

/** What is told of a point beside its linear form. */
function toldOf({ equations, at, residual, held, open, sharing }: Rest): Omit<MechanismPoint, keyof LinearForm> {
  const { asked, form, inputs, keptRows, names, signals } = equations
  const ns = form.states.length
  const values = [...at]
  const shown = tapeOf(signals.map(({ value }) => value)).values(at)
  const standing = standingAt(equations, at)
  // what has no slope could be anything, but it shares nothing
  const shares = sharing.map((slot) => names[slot]!).filter((name) => standing[name] === undefined)
  return {
    ...{ residual, held, open, form, keptRows, standing },
    sharing: shares.length > 1 ? shares : [],
    states: values.slice(0, ns),
    inputs: tapeOf(inputs).values(at),
    asked: Object.fromEntries(asked.map((name, i) => [name, values[ns + i]!])),
    shown: Object.fromEntries(signals.map(({ name }, i) => [name, shown[i]!])),
  }
}

function linearOf(machine: Part, { equations, at }: Rest): LinearForm {
  return linearFormAt(equations, at, [...new Set(drivenCoordinates(machine))])
}

/** How much more a drive would change for a little effort here than on its whole way to the most: more, and it stands. */
const mostSteep = 1e4

/** The drives that stand, by what is asked of them: to ask for a little more than nothing is to ask for any change at once. */
function standingAt({ asked, form, inputs, reach }: PointEquations, at: Float64Array): MechanismPoint['standing'] {
  const ns = form.states.length
  const slopes = jacobianAt(
    inputs,
    asked.map((_, i) => ns + i),
    at,
  )
  const isSteep = (i: number, k: number) => {
    const most = reach[i]
    return most !== undefined && !(Math.abs(slopes[i]![k]! * most[1]) <= mostSteep * Math.abs(most[0]))
  }
  return Object.fromEntries(
    asked.flatMap((push, k) => {
      const drives = form.inputs.flatMap(({ name }, i) => (isSteep(i, k) ? [name] : []))
      return drives.length === 0 ? [] : [[push, drives]]
    }),
  )
}

/** What must be 0, with the name of what changes where it is not. */
interface Needed {
  readonly name: string
  readonly rate: Scalar
}

/** Whether anything may move: what is said to run on, or has a speed of its own. */
function movesBy({ form, names }: PointEquations, { fixed, running = [] }: PointConditions): boolean {
  const [nq, nv] = [form.assembly.positions.length, form.assembly.speeds.length]
  return running.length > 0 || names.slice(nq, nq + nv).some((name) => (fixed?.get(name) ?? 0) !== 0)
}

function toMeet(machine: Part, equations: PointEquations, { fixed = new Map(), running = [] }: Conditions): Needed[] {
  const { form, names, slots, rates, gaps, gapRates, signals } = equations
  const [nq, nv] = [form.assembly.positions.length, form.assembly.speeds.length]
  const accelerations = rates.slice(nq).map((rate, i) => ({ name: names[nq + i]!, rate }))
  const chains = gaps.map((rate) => ({ name: 'a chain', rate }))
  const wanted = signals.flatMap(({ name, value }) => (fixed.has(name) ? [{ name, rate: sub(value, fixed.get(name)!) }] : []))
  if (!movesBy(equations, { fixed, running })) return [...accelerations, ...chains, ...wanted]
  const state = { q: slots.slice(0, nq), speeds: slots.slice(nq, nq + nv) }
  return [
    ...accelerations.filter(({ name }) => !running.includes(name)),
    ...chains,
    ...wanted,
    ...stillIn(machine, running, form.assembly, state),
    ...gapRates.map((rate) => ({ name: 'a chain', rate })),
  ]
}

function unbalanced(
  machine: Part,
  worst: Needed | undefined,
  residual: number,
  { held, fixed, running = [] }: Conditions,
): Outcome<never> {
  const name = worst?.name ?? 'a chain'
  const said = shortName(name, machine)
  const size = Number(residual.toPrecision(3))
  if (fixed?.has(name) === true)
    return refusedFor(
      'operating point',
      `Nothing balances the machine with ${said} at ${fixed.get(name)!} ${unitFixed(machine, name)}: it stays ${size} away from it.`,
      `Fix another value, or let go what it depends on${running.length > 0 ? '' : ': what moves with it is said to run on'}.`,
    )
  const what = `Nothing balances the machine here: ${said} keeps changing by ${size}.`
  const byMoving = runnableNames(machine).includes(name) && !running.includes(name)
  const remedy = byMoving
    ? `Let ${said} run on, or fix other values.`
    : held.length === 0
      ? 'Start from another pose, or give it a drive or spring that can hold it.'
      : `Let one of ${held.map((one) => shortName(one, machine)).join(', ')} go, start from another pose, or add a drive.`
  return refusedFor('operating point', what, remedy)
}

/**
 * The operating point of the whole machine, with the linear form that a design uses: friction, stops and limits off, as
 * about rest a smoothed friction would look like a brake. What drives must give is that of the whole machine.
 */
export function designPoint(
  machine: Part,
  conditions: PointConditions = conditionsIn(machine),
  layers: MechanismLayers = fullMechanism,
): Outcome<MechanismPoint> {
  const whole = restOf(machine, layers, conditions)
  if (whole.kind === 'refused') return whole
  const { at, equations } = whole.value
  const { assembly } = equations.form
  const nq = assembly.positions.length
  const isMoving = (conditions.running ?? []).length > 0
  const speeds = assembly.speeds.map(({ name }, i) => [name, at[nq + i]!] as const)
  const there: PointConditions = {
    q: [...at.subarray(0, nq)],
    held: [...coordinateNames(machine), ...freePlaces(machine)],
    near: at.subarray(nq),
    ...(isMoving ? { running: conditions.running!, fixed: new Map(speeds) } : {}),
  }
  const kept = new Set([...designMechanism].filter((layer) => layers.has(layer)))
  const design = restOf(machine, kept, there)
  const seen = design.kind === 'refused' ? whole.value : design.value
  return done({ ...toldOf(whole.value), ...linearOf(machine, seen) })
}

/** What the document fixes: the pose to start from, what stays, and what runs on. Nothing where it says nothing. */
export function conditionsIn(machine: Part): PointConditions {
  const conditions = conditionsOf(machine)
  const running = runningOf(machine)
  if (conditions.length + running.length === 0) return {}
  const { positions, start } = assemble(machine, numbersOf(machine))
  const placed = conditions.filter(({ signal }) => positions.some(({ name }) => name === signal))
  const asked = start.map((value, i) => placed.find(({ signal }) => signal === positions[i]!.name)?.value ?? value)
  const held = placed.map(({ signal }) => signal)
  const fixed = new Map(conditions.filter((one) => !placed.includes(one)).map(({ signal, value }) => [signal, value]))
  return {
    q: closedPose(machine, asked, held) ?? asked,
    ...(held.length === 0 ? {} : { held }),
    ...(fixed.size === 0 ? {} : { fixed }),
    ...(running.length === 0 ? {} : { running }),
  }
}

/** Places of bodies that nothing but pushes on bodies holds. */
function freePlaces(machine: Part): string[] {
  if (machine.pushes === undefined) return []
  return Object.entries(bodiesOf(machine)).flatMap(([name, { joint }]) =>
    joint.kind === 'free' ? ['x', 'y', 'z'].map((axis) => `${name}.${axis}`) : [],
  )
}

/** Coordinates that the drives of a mechanism move: their own joint, or that of the body they draw. */
export function drivenCoordinates(machine: Part): string[] {
  const known = coordinateNames(machine)
  return Object.values(partsIn(machine.drives)).flatMap(({ joint, to }) =>
    known.filter((name) => name === joint || (typeof to === 'string' && name.startsWith(`${to}.`))),
  )
}

/** Share of the weight, m/s² without any, that forces across it have where a search for steady motion begins anew. */
const aheadShare = 0.05

/**
 * What pushes on bodies start with when a point is looked for: forces carry the weight of all, and have a share of it across;
 * torques nothing.
 */
function carrying(machine: Part, across: number): ReadonlyMap<string, number> {
  const mass = totalMass(machine)
  const gravity = (machine.gravity as number | undefined) ?? 0
  return new Map(
    Object.entries(partsIn(machine.pushes)).flatMap(([name, { axis, sort }]) => {
      if (axis === undefined) return []
      const [x, y, z] = axis as readonly [number, number, number]
      const along = z / Math.sqrt(x * x + y * y + z * z)
      const size = along === 0 ? across * (gravity || 1) : along * gravity
      return [[`pushes.${name}`, sort === 'force' ? mass * size : 0]]
    }),
  )
}

/** The most that may be asked of an input: its effort or voltage; 1 without. */
function limitOf(machine: Part, input: string): number {
  const [group, name] = input.split('.') as [string, string]
  const { most, voltage } = partsIn(machine[group])[name]!
  return ((most ?? voltage) as number | undefined) ?? 1
}
