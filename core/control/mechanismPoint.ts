import { Graph, evaluate, jacobianAt } from '../expression'
import type { Scalar } from '../expression'
import { multiply, solve } from '../algebra'
import type { Matrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import {
  askedNames,
  assemble,
  closeChains,
  closedPose,
  conditionsOf,
  coordinateNames,
  designMechanism,
  fullMechanism,
  mechanismForm,
  mechanismMotion,
  numbersOf,
  shortName,
  spread,
  totalMass,
  unitQuaternions,
} from '../machine'
import type { MechanismForm, MechanismLayers } from '../machine'
import type { StateSpace } from '../linear'
import { knownOf } from './trueNumbers'
import { balance, balanced, leastEffort } from './balance'
import type { BalanceRequest } from './balance'

export interface PointConditions {
  /** Positions to start from, and to hold where they are held. The start of the machine unless given. */
  readonly q?: readonly number[]
  /** Coordinates that stay where they are; those that drives move unless given. The others go where they balance. */
  readonly held?: readonly string[]
}

export interface MechanismPoint {
  readonly states: readonly number[]
  /** What drives are asked for. */
  readonly inputs: readonly number[]
  /** What is asked of the machine, through its allocations: the inputs of its linear form. */
  readonly asked: Readonly<Record<string, number>>
  /** What sensors and effects show there, by name. */
  readonly shown: Readonly<Record<string, number>>
  /** Largest acceleration or rate left. */
  readonly residual: number
  readonly held: readonly string[]
  /** Unknowns that the equations leave open: how many more the engineer could fix. */
  readonly open: number
  /** Inputs that share a load between them: the split is that of least effort, each as a share of its limit. */
  readonly sharing: readonly string[]
  readonly form: MechanismForm
  readonly keptRows: readonly number[]
  /** The exact linear form about the point in independent coordinates and their speeds. */
  readonly system: StateSpace
  /** Speeds of all coordinates by independent speed, n x f: how the rest follows. */
  readonly spread: Matrix
}

/** Equations of a mechanism at rest, with slots for states and inputs. */
interface Equations {
  readonly form: MechanismForm
  readonly asked: readonly string[]
  /** Inputs of the form by what is asked. */
  readonly inputs: readonly Scalar[]
  readonly keptRows: readonly number[]
  readonly rates: ReturnType<typeof mechanismMotion>['rates']
  readonly gaps: ReturnType<typeof mechanismMotion>['rates']
  readonly signals: ReturnType<typeof mechanismMotion>['signals']
}

/**
 * Where a mechanism rests: positions, drive states and inputs with every rate 0, speeds 0 and chains closed, by Newton's
 * method on exact derivatives, from the pose given and with the least change. Refused where nothing balances it.
 */
export function mechanismPoint(
  machine: Part,
  layers: MechanismLayers,
  conditions: PointConditions = {},
): Outcome<MechanismPoint> {
  // what flies or floats stays where it is where it can: near the ground it would hover in many places
  const places = conditions.held === undefined ? freePlaces(machine) : []
  if (places.length > 0) {
    const there = pointWith(machine, layers, { ...conditions, held: [...drivenCoordinates(machine), ...places] })
    if (there.kind === 'done') return there
  }
  return pointWith(machine, layers, conditions)
}

function pointWith(machine: Part, layers: MechanismLayers, conditions: PointConditions): Outcome<MechanismPoint> {
  const closure = closeChains(machine, conditions.q)
  if (closure.kind === 'open')
    return refusedFor(`chains.${closure.chain}`, 'The chains do not close here.', 'Start from another pose.')
  const equations = equationsAtRest(machine, layers, closure.kept)
  const { form } = equations
  const { positions, speeds } = form.assembly
  const driven = [...new Set(drivenCoordinates(machine))]
  const held = conditions.held ?? driven
  const [nq, nv, ns] = [positions.length, speeds.length, form.states.length]
  const unknowns = [
    ...positions.map((_, i) => i).filter((i) => !held.includes(positions[i]!.name)),
    ...Array.from({ length: ns - nq - nv + equations.asked.length }, (_, i) => nq + nv + i),
  ]
  const mustOf = ({ rates, gaps }: Equations) => [...rates.slice(nq), ...gaps]
  const must = mustOf(equations)
  const tidy = (at: Float64Array) => at.set(unitQuaternions(form.assembly, [...at.subarray(0, nq)]))
  /** From the pose given, with what else is not a position. */
  const request = (toMeet: readonly Scalar[], rest: ArrayLike<number>): BalanceRequest => ({
    must: toMeet,
    unknowns,
    start: Float64Array.from([...closure.q, ...Array.from(rest)]),
    positions: nq,
    tidy,
  })
  const from = (toMeet: readonly Scalar[], rest: ArrayLike<number>) => balance(request(toMeet, rest))
  const carried = carrying(machine)
  const search = (toMeet: readonly Scalar[]) => {
    const start = (input: number) => [
      ...form.states.slice(nq).map(({ atRest }) => atRest),
      ...equations.asked.map((name) => carried.get(name) ?? input),
    ]
    const first = from(toMeet, start(0))
    if (first.residual < balanced || equations.asked.length === 0) return first
    // a magnet without current has no slope in its current: a second start has some of every input
    const second = from(toMeet, start(1))
    if (second.residual < balanced || carried.size === 0) return second
    // a rotor that stands has no slope either: a third starts with all drives where their pushes have them
    const own = Array.from({ length: ns - nq - nv }, (_, i) => nq + nv + i)
    const settled = balance({
      ...request(
        own.map((slot) => equations.rates[slot]!),
        start(0),
      ),
      unknowns: own,
    })
    return from(toMeet, settled.at.subarray(nq))
  }
  let best = search(must)
  if (!(best.residual < balanced) && layers.has('driveLimits')) {
    // a drive at its limit has no slope: what it gives is found without limits first, then with them from there
    const unlimited = new Set([...layers].filter((layer) => layer !== 'driveLimits'))
    const free = search(mustOf(equationsAtRest(machine, unlimited, closure.kept)))
    if (free.residual < balanced) best = from(must, free.at.subarray(nq))
  }
  const open = Math.max(0, unknowns.length - must.length)
  if (!(best.residual < balanced)) {
    const found = form.states[nq + best.worst]?.name
    const name = found === undefined ? 'a chain' : shortName(found, machine)
    const what = `Nothing balances the machine here: ${name} keeps changing by ${Number(best.residual.toPrecision(3))}.`
    const remedy =
      held.length === 0
        ? 'Start from another pose, or give it a drive or spring that can hold it.'
        : `Let one of ${held.map((one) => shortName(one, machine)).join(', ')} go, start from another pose, or add a drive.`
    return refusedFor('operating point', what, remedy)
  }
  const efforts = equations.asked.map((name, i) => ({ slot: ns + i, size: limitOf(machine, name) }))
  const least = leastEffort(
    request(must, best.at.subarray(nq)),
    best,
    unknowns.filter((slot) => slot >= nq),
    efforts,
  )
  const sharing = least.sharing.map((slot) => equations.asked[slot - ns]!)
  return done(linearizedAt(equations, least.at, { residual: least.residual, held, open, sharing }, driven))
}

/**
 * The resting point of the whole machine, with the linear form that a design uses: friction, stops and limits off, as
 * about rest a smoothed friction would look like a brake. What drives must give is that of the whole machine.
 */
export function designPoint(
  machine: Part,
  conditions: PointConditions = conditionsIn(machine),
  layers: MechanismLayers = fullMechanism,
): Outcome<MechanismPoint> {
  const whole = mechanismPoint(machine, layers, conditions)
  if (whole.kind === 'refused') return whole
  const { states, form } = whole.value
  const there = {
    q: states.slice(0, form.assembly.positions.length),
    held: [...coordinateNames(machine), ...freePlaces(machine)],
  }
  const kept = new Set([...designMechanism].filter((layer) => layers.has(layer)))
  const design = mechanismPoint(machine, kept, there)
  return design.kind === 'refused' ? whole : done({ ...whole.value, system: design.value.system, spread: design.value.spread })
}

/** What the document fixes: the pose to start from, and which coordinates stay. Nothing where it fixes nothing. */
export function conditionsIn(machine: Part): PointConditions {
  const fixed = conditionsOf(machine)
  if (fixed.length === 0) return {}
  const { positions, start } = assemble(machine, numbersOf(machine))
  const asked = start.map((value, i) => fixed.find(({ signal }) => signal === positions[i]!.name)?.value ?? value)
  const held = fixed.map(({ signal }) => signal)
  return { q: closedPose(machine, asked, held) ?? asked, held }
}

/** Places of bodies that nothing but pushes on bodies holds. */
function freePlaces(machine: Part): string[] {
  if (machine.pushes === undefined) return []
  return Object.entries(machine.bodies as Readonly<Record<string, Part>>).flatMap(([name, { joint }]) =>
    (joint as Part).kind === 'free' ? ['x', 'y', 'z'].map((axis) => `${name}.${axis}`) : [],
  )
}

/** Coordinates that the drives of a mechanism move: their own joint, or that of the body they draw. */
export function drivenCoordinates(machine: Part): string[] {
  const known = coordinateNames(machine)
  return Object.values((machine.drives ?? {}) as Record<string, Part>).flatMap(({ joint, to }) =>
    known.filter((name) => name === joint || (typeof to === 'string' && name.startsWith(`${to}.`))),
  )
}

/** What pushes on bodies start with when a point of rest is looked for: forces carry the weight of all, torques nothing. */
function carrying(machine: Part): ReadonlyMap<string, number> {
  const weight = totalMass(machine) * ((machine.gravity as number | undefined) ?? 0)
  return new Map(
    Object.entries((machine.pushes ?? {}) as Readonly<Record<string, Part>>).flatMap(([name, { axis, sort }]) => {
      if (axis === undefined) return []
      const [x, y, z] = axis as readonly [number, number, number]
      return [[`pushes.${name}`, sort === 'force' ? (weight * z) / Math.sqrt(x * x + y * y + z * z) : 0]]
    }),
  )
}

/** The most that may be asked of an input: its effort or voltage; 1 without. */
function limitOf(machine: Part, input: string): number {
  const [group, name] = input.split('.') as [string, string]
  const { most, voltage } = (machine[group] as Readonly<Record<string, Part>>)[name]!
  return ((most ?? voltage) as number | undefined) ?? 1
}

function equationsAtRest(machine: Part, layers: MechanismLayers, keptRows: readonly number[]): Equations {
  const graph = new Graph()
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const states = form.states.map((_, i) => graph.slot(i))
  const asked = askedNames(machine)
  const slots = new Map(asked.map((name, i) => [name, graph.slot(form.states.length + i)]))
  const given = spread(machine, numbersOf(knownOf(machine)), (push) => slots.get(push)!, false)
  const inputs = form.inputs.map(({ name }) => given.get(name) ?? slots.get(name)!)
  const { rates, chainRows, signals } = mechanismMotion(machine, read, layers, form, states, inputs, keptRows)
  return {
    form,
    asked,
    inputs,
    keptRows,
    rates,
    gaps: keptRows.map((row) => chainRows[row]!.gap),
    signals,
  }
}

function linearizedAt(
  { form, asked, inputs, keptRows, rates, gaps, signals }: Equations,
  at: Float64Array,
  found: Pick<MechanismPoint, 'residual' | 'held' | 'open' | 'sharing'>,
  driven: readonly string[],
): MechanismPoint {
  const { positions, speeds } = form.assembly
  const [nq, nv, ns, nu] = [positions.length, speeds.length, form.states.length, asked.length]
  const all = Array.from({ length: ns + nu }, (_, i) => i)
  const full = jacobianAt(rates, all, at)
  const turning = full.slice(0, nq).map((row) => row.slice(nq, nq + nv)) // positions' rates by speed
  const gapsBySpeed = multiply(jacobianAt(gaps, all.slice(0, nq), at), turning)
  const { spread, independent } = independentCoordinates(gapsBySpeed, nv, form, driven)
  // full states from [z, z', own]: positions T N z, speeds N z'
  const f = independent.length
  const own = ns - nq - nv
  const byPosition = multiply(turning, spread)
  const embed: Matrix = form.states.map((_, i) =>
    Array.from({ length: 2 * f + own }, (__, k) =>
      i < nq
        ? (byPosition[i]![k] ?? 0)
        : i < nq + nv
          ? k >= f && k < 2 * f
            ? spread[i - nq]![k - f]!
            : 0
          : k === 2 * f + (i - nq - nv)
            ? 1
            : 0,
    ),
  )
  const picked = [...independent.map((i) => full[nq + i]!), ...full.slice(nq + nv)]
  const upper = Array.from({ length: f }, (_, i) => Array.from({ length: 2 * f + own }, (__, k) => (k === f + i ? 1 : 0)))
  // what has no slope here, such as a speed over ground at rest, is no output of a linear form
  const slopes = jacobianAt(
    signals.map(({ value }) => value),
    all,
    at,
  )
  const smooth = slopes.flatMap((row, i) => (row.every(Number.isFinite) ? [i] : []))
  const outputsByState = smooth.map((i) => slopes[i]!)
  const names = independent.map((i) => speeds[i]!.name)
  const coordinates = independent.map((i) => freedomNames(form)[i]!)
  const values = [...at]
  const stateNames = [...coordinates, ...names, ...form.states.slice(nq + nv).map(({ name }) => name)]
  const select = (rows: number) => Array.from({ length: rows }, (_, i) => stateNames.map((__, k) => (k === i ? 1 : 0)))
  return {
    ...found,
    states: values.slice(0, ns),
    inputs: inputs.map((input) => evaluate(input, at)),
    asked: Object.fromEntries(asked.map((name, i) => [name, values[ns + i]!])),
    shown: Object.fromEntries(signals.map(({ name, value }) => [name, evaluate(value, at)])),
    form,
    keptRows,
    spread,
    system: {
      a: [
        ...upper,
        ...multiply(
          picked.map((row) => row.slice(0, ns)),
          embed,
        ),
      ],
      b: [...upper.map(() => new Array<number>(nu).fill(0)), ...picked.map((row) => row.slice(ns))],
      c: [
        ...select(2 * f),
        ...multiply(
          outputsByState.map((row) => row.slice(0, ns)),
          embed,
        ),
      ],
      d: [...Array.from({ length: 2 * f }, () => new Array<number>(nu).fill(0)), ...outputsByState.map((row) => row.slice(ns))],
      dt: null,
      states: stateNames,
      inputs: [...asked],
      outputs: [...coordinates, ...names, ...smooth.map((i) => signals[i]!.name)],
    },
  }
}

/** The position that goes with each speed, by name; where none does, the small turn or way in axes of the body. */
function freedomNames({ assembly: { positions, speeds, pairs } }: MechanismForm): string[] {
  const small = (name: string) => {
    const [, body, speed] = /^(.*)\.([^.]+)$/.exec(name)!
    const turn = /^(?:w([xyz])|([xyz])Rate)$/.exec(speed!)
    const axis = (turn?.[1] ?? turn?.[2] ?? speed!.replace(/^v([xyz])$/, '$1')).toUpperCase()
    if (speed === 'rate') return `${body}.turn`
    if (turn !== null) return `${body}.turnAbout${axis}`
    return axis.length === 1 ? `${body}.wayAlong${axis}` : `${body}.way${speed![0]!.toUpperCase()}${speed!.slice(1)}`
  }
  return speeds.map(({ name }, i) => positions[pairs.indexOf(i)]?.name ?? small(name))
}

/** Coordinates that stay free when the chains are closed, driven ones first, and how all speeds follow from theirs. */
function independentCoordinates(
  gapsBySpeed: Matrix,
  n: number,
  form: MechanismForm,
  preferred: readonly string[],
): { spread: number[][]; independent: number[] } {
  const names = freedomNames(form)
  const dependent: number[] = []
  const rows = gapsBySpeed.map((row) => [...row])
  for (let r = 0; r < rows.length; r++) {
    const weight = (j: number) => Math.abs(rows[r]![j]!) * (preferred.includes(names[j]!) ? 1e-6 : 1)
    let best = -1
    for (let j = 0; j < n; j++) if (!dependent.includes(j) && (best < 0 || weight(j) > weight(best))) best = j
    dependent.push(best)
    for (let i = 0; i < rows.length; i++) {
      if (i === r) continue
      const factor = rows[i]![best]! / rows[r]![best]!
      rows[i] = rows[i]!.map((value, j) => value - factor * rows[r]![j]!)
    }
  }
  const independent = Array.from({ length: n }, (_, i) => i).filter((i) => !dependent.includes(i))
  const jd = gapsBySpeed.map((row) => dependent.map((j) => row[j]!))
  const ji = gapsBySpeed.map((row) => independent.map((j) => -row[j]!))
  const follow = dependent.length === 0 ? [] : (solve(jd, ji) ?? ji)
  const spread = Array.from({ length: n }, (_, i) => {
    const at = independent.indexOf(i)
    return at >= 0 ? independent.map((__, k) => (k === at ? 1 : 0)) : follow[dependent.indexOf(i)]!
  })
  return { spread, independent }
}
