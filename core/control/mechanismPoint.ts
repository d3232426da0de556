import { Graph, evaluation, jacobianAt } from '../expression'
import type { Scalar } from '../expression'
import { complex, eigenvalues, leastChange, magnitude, multiply, solve, solveComplex } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import {
  closeChains,
  coordinateNames,
  designMechanism,
  fullMechanism,
  mechanismForm,
  mechanismMotion,
  numbersOf,
  unitQuaternions,
} from '../machine'
import type { MechanismForm, MechanismLayers } from '../machine'
import type { StateSpace } from '../linear'

/** m/s², rad/s² and their like: what may be left unbalanced. */
const balanced = 1e-9
const mostSteps = 200
/** rad or m: a longer step of a position is shortened, so that a turn does not jump to another branch. */
const longestStep = 0.5

export interface PointConditions {
  /** Positions to start from, and to hold where they are held. The start of the machine unless given. */
  readonly q?: readonly number[]
  /** Coordinates that stay where they are; those that drives move unless given. The others go where they balance. */
  readonly held?: readonly string[]
}

export interface MechanismPoint {
  readonly states: readonly number[]
  readonly inputs: readonly number[]
  /** Largest acceleration or rate left. */
  readonly residual: number
  readonly held: readonly string[]
  /** Unknowns that the equations leave open: how many more the engineer could fix. */
  readonly open: number
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
    ...Array.from({ length: ns - nq - nv + form.inputs.length }, (_, i) => nq + nv + i),
  ]
  const must = [...equations.rates.slice(nq), ...equations.gaps]
  // a magnet without current has no slope in its current: a second start has some of every input
  const from = (input: number) =>
    balance(
      must,
      unknowns,
      Float64Array.from([...closure.q, ...form.states.slice(nq).map(({ atRest }) => atRest), ...form.inputs.map(() => input)]),
      nq,
      (at) => at.set(unitQuaternions(form.assembly, [...at.subarray(0, nq)])),
    )
  const first = from(0)
  const best = first.residual < balanced || form.inputs.length === 0 ? first : from(1)
  const open = Math.max(0, unknowns.length - must.length)
  if (!(best.residual < balanced)) {
    const name = form.states[nq + best.worst]?.name ?? 'a chain'
    const what = `Nothing balances the machine here: ${name} keeps changing by ${Number(best.residual.toPrecision(3))}.`
    const remedy =
      held.length === 0
        ? 'Start from another pose, or give it a drive or spring that can hold it.'
        : `Let one of ${held.join(', ')} go, start from another pose, or add a drive.`
    return refusedFor('operating point', what, remedy)
  }
  return done(linearizedAt(equations, best.at, { residual: best.residual, held, open }, driven))
}

/**
 * The resting point of the whole machine, with the linear form that a design uses: friction, stops and limits off, as
 * about rest a smoothed friction would look like a brake. What drives must give is that of the whole machine.
 */
export function designPoint(machine: Part, conditions: PointConditions = {}): Outcome<MechanismPoint> {
  const whole = mechanismPoint(machine, fullMechanism, conditions)
  if (whole.kind === 'refused') return whole
  const { states, form } = whole.value
  const there = { q: states.slice(0, form.assembly.positions.length), held: coordinateNames(machine) }
  const design = mechanismPoint(machine, designMechanism, there)
  return design.kind === 'refused' ? whole : done({ ...whole.value, system: design.value.system, spread: design.value.spread })
}

/**
 * Newton's method with the least change. The first `positions` slots are positions; `tidy` brings the values back to
 * where they belong after a step.
 */
function balance(
  must: readonly Scalar[],
  unknowns: readonly number[],
  start: Float64Array,
  positions: number,
  tidy: (at: Float64Array) => void,
): { at: Float64Array; residual: number; worst: number } {
  let at = start
  let best = { at, residual: Infinity, worst: 0 }
  for (let step = 0; step < mostSteps; step++) {
    const values = evaluation(at)
    const left = must.map((one) => values.number(one) as number)
    const residual = Math.max(0, ...left.map((value) => (Number.isFinite(value) ? Math.abs(value) : Infinity)))
    // once it balances, rounding alone is left
    if (residual < balanced && residual > 0.5 * best.residual) break
    if (residual < best.residual) best = { at, residual, worst: left.findIndex((value) => Math.abs(value) === residual) }
    if (unknowns.length === 0) break
    const change = leastChange(
      jacobianAt(must, unknowns, at),
      left.map((value) => -value),
    )
    if (change === undefined) break
    const most = Math.max(0, ...change.map((value, i) => (unknowns[i]! < positions ? Math.abs(value) : 0)))
    const share = most > longestStep ? longestStep / most : 1
    const next = Float64Array.from(at)
    unknowns.forEach((slot, i) => (next[slot]! += share * change[i]!))
    tidy(next)
    at = next
  }
  return best
}

/** Coordinates that the drives of a mechanism move: their own joint, or that of the body they draw. */
export function drivenCoordinates(machine: Part): string[] {
  const known = coordinateNames(machine)
  return Object.values((machine.drives ?? {}) as Record<string, Part>).flatMap(({ joint, to }) =>
    known.filter((name) => name === joint || (typeof to === 'string' && name.startsWith(`${to}.`))),
  )
}

function equationsAtRest(machine: Part, layers: MechanismLayers, keptRows: readonly number[]): Equations {
  const graph = new Graph()
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const states = form.states.map((_, i) => graph.slot(i))
  const inputs = form.inputs.map((_, i) => graph.slot(form.states.length + i))
  const { rates, chainRows, signals } = mechanismMotion(machine, read, layers, form, states, inputs, keptRows)
  return {
    form,
    keptRows,
    rates,
    gaps: keptRows.map((row) => chainRows[row]!.gap),
    signals,
  }
}

function linearizedAt(
  { form, keptRows, rates, gaps, signals }: Equations,
  at: Float64Array,
  found: Pick<MechanismPoint, 'residual' | 'held' | 'open'>,
  driven: readonly string[],
): MechanismPoint {
  const { positions, speeds } = form.assembly
  const [nq, nv, ns, nu] = [positions.length, speeds.length, form.states.length, form.inputs.length]
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
  const shown = signals.map(({ value }) => value)
  const outputsByState = jacobianAt(shown, all, at)
  const names = independent.map((i) => speeds[i]!.name)
  const coordinates = independent.map((i) => freedomNames(form)[i]!)
  const values = [...at]
  const stateNames = [...coordinates, ...names, ...form.states.slice(nq + nv).map(({ name }) => name)]
  const select = (rows: number) => Array.from({ length: rows }, (_, i) => stateNames.map((__, k) => (k === i ? 1 : 0)))
  return {
    ...found,
    states: values.slice(0, ns),
    inputs: values.slice(ns),
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
      inputs: form.inputs.map(({ name }) => name),
      outputs: [...coordinates, ...names, ...signals.map(({ name }) => name)],
    },
  }
}

/** The position that goes with each speed, by name; a turn of a quaternion has the name of its speed. */
function freedomNames({ assembly: { positions, speeds, pairs } }: MechanismForm): string[] {
  return speeds.map(({ name }, i) => positions[pairs.indexOf(i)]?.name ?? `${name.replace(/Rate$/, '')}.turn`)
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

export interface Mode {
  readonly pole: Complex
  /** rad/s; 0 for a mode that does not swing */
  readonly frequency: number
  /** Share of the critical damping, for a mode that swings. */
  readonly damping: number
  /** s until it falls (or grows, where it is unstable) by e; absent where it does neither */
  readonly timeConstant?: number
  /** How far each coordinate moves, the largest 1, with its phase. */
  readonly shape: readonly { readonly name: string; readonly size: number; readonly phase: Complex }[]
}

/** Natural modes of a system in independent coordinates: one for each real pole and each pair, slowest first. */
export function modes(system: StateSpace): Outcome<readonly Mode[]> {
  const all = eigenvalues(system.a)
  if (all === undefined)
    return refusedFor('modes', 'The poles cannot be found: entries are not finite.', 'Check the operating point.')
  const upper = all.filter(({ im }) => im >= 0).sort((a, b) => magnitude(a) - magnitude(b))
  return done(upper.map((pole) => modeAt(system, pole)))
}

function modeAt(system: StateSpace, pole: Complex): Mode {
  const size = magnitude(pole)
  const swings = pole.im > 1e-9 * size
  const still = size < 1e-7
  return {
    pole,
    frequency: swings ? size : 0,
    damping: swings ? -pole.re / size : 1,
    ...(still || Math.abs(pole.re) < 1e-12 ? {} : { timeConstant: 1 / Math.abs(pole.re) }),
    shape: shapeOf(system, pole),
  }
}

/** The eigenvector by inverse iteration, a hair beside the pole so that the matrix can be solved. */
function shapeOf({ a, states }: StateSpace, pole: Complex): Mode['shape'] {
  const n = a.length
  const beside = complex(pole.re + 1e-7 * (1 + magnitude(pole)), pole.im + 1e-8)
  const shifted = a.map((row, i) => row.map((value, j) => (i === j ? complex(value - beside.re, -beside.im) : complex(value))))
  let v: Complex[][] = Array.from({ length: n }, (_, i) => [complex(1 + 0.1 * i)])
  for (let k = 0; k < 3; k++) {
    const next = solveComplex(shifted, v)
    if (next === undefined) break
    const most = Math.max(...next.map(([one]) => magnitude(one!)))
    v = next.map(([one]) => [complex(one!.re / most, one!.im / most)])
  }
  const coordinates = states.map((name, i) => ({ name, value: v[i]![0]! }))
  const most = Math.max(1e-300, ...coordinates.map(({ value }) => magnitude(value)))
  return coordinates.map(({ name, value }) => {
    const phase = complex(value.re / most, value.im / most)
    return { name, size: magnitude(phase), phase }
  })
}
