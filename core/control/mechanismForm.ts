import { evaluate, evaluation, jacobian, jacobianAt } from '../expression'
import type { Scalar } from '../expression'
import { multiply, norm, solve, transpose, unitVector } from '../algebra'
import type { Matrix } from '../algebra'
import { unitQuaternions } from '../machine'
import type { MechanismForm } from '../machine'
import type { StateSpace } from '../linear'
import type { PointEquations } from './pointEquations'

/** A mechanism linearized about a point of rest or of steady motion. */
export interface LinearForm {
  /** In independent coordinates and their speeds; attitudes and places of bodies that are free as a small turn and way in their axes. */
  readonly system: StateSpace
  /** Speeds of all coordinates by independent speed, n x f: how the rest follows. */
  readonly spread: Matrix
  /** Rates of what runs on there, of positions and signals, by name. */
  readonly runs: Readonly<Record<string, number>>
  /** How much the accelerations differ from 0 once it has run on for a second: steady motion, to which that matters, has 0. */
  readonly leaves: number
}

/** Steps by which the motion is carried on for a second, to see whether it stays what it is. */
const stepsOn = 60
/** Share by which a slope may change as the motion goes on; more, and it is none of a form that does not change with time. */
const steadySlope = 1e-6

/**
 * The exact linear form of a mechanism about a point. In steady motion positions differ from where they would be by now by
 * T z, with T their rates by speed: z' = T⁺ (d(T v)/dq T - dT/dt) z + dv. Signals whose slopes change on the way, such as a
 * place of the world seen from what turns, are no outputs.
 */
export function linearFormAt(
  { form, asked, rates, gaps, gapRates, signals }: PointEquations,
  at: Float64Array,
  driven: readonly string[],
): LinearForm {
  const { positions, speeds } = form.assembly
  const [nq, nv, ns, nu] = [positions.length, speeds.length, form.states.length, asked.length]
  const all = Array.from({ length: ns + nu }, (_, i) => i)
  const full = jacobianAt(rates, all, at)
  const values = evaluation(at)
  const movement = rates.slice(0, nq).map((rate) => values.number(rate) as number)
  const moves = norm(movement) > 0
  const turning = full.slice(0, nq).map((row) => row.slice(nq, nq + nv)) // positions' rates by speed
  const gapsBySpeed = multiply(jacobianAt(gaps, all.slice(0, nq), at), turning)
  const { dependent, independent } = independentCoordinates(gapsBySpeed, nv, form, driven)
  const f = independent.length
  const own = ns - nq - nv
  const following = followers(gapsBySpeed, dependent, independent)
  const spread = Array.from({ length: nv }, (_, i) => following(i) ?? unitVector(f, independent.indexOf(i)))
  const byPosition = multiply(turning, spread)
  // where it moves, closed chains tie speeds to positions as well
  const bent =
    moves && dependent.length > 0
      ? solve(
          gapsBySpeed.map((row) => dependent.map((j) => row[j]!)),
          multiply(jacobianAt(gapRates, all.slice(0, nq), at), byPosition).map((row) => row.map((value) => -value)),
        )
      : undefined
  // full states from [z, z', own]: positions T N z, speeds N z' and what chains add
  const embed: Matrix = form.states.map((_, i) =>
    i < nq
      ? [...byPosition[i]!, ...zeros(f + own)]
      : i < nq + nv
        ? [...(bent?.[dependent.indexOf(i - nq)] ?? zeros(f)), ...spread[i - nq]!, ...zeros(own)]
        : unitVector(2 * f + own, 2 * f + (i - nq - nv)),
  )
  const picked = [...independent.map((i) => full[nq + i]!), ...full.slice(nq + nv)]
  const carried = moves ? carriedAlong(rates, at, full.slice(0, nq), turning, movement) : undefined
  const upper = independent.map((i, k) => [
    ...(carried === undefined ? zeros(f) : multiply([carried[i]!], spread)[0]!),
    ...unitVector(f, k),
    ...zeros(own),
  ])
  // what has no slope here, such as a speed over ground at rest, is no output of a linear form
  const shown = signals.map(({ value }) => value)
  const slopes = jacobianAt(shown, all, at)
  const later = moves ? carriedOn(form, rates, at) : undefined
  const slopesLater = later === undefined ? slopes : jacobianAt(shown, all, later)
  const byState = (row: readonly number[]) => multiply([row.slice(0, ns)], embed)[0]!
  const isSteady = (i: number) => {
    if (later === undefined) return true
    const [now, then] = [slopes[i]!, slopesLater[i]!].map((row) => [...byState(row), ...row.slice(ns)]) as [number[], number[]]
    return norm(now.map((value, k) => then[k]! - value)) <= steadySlope * (norm(now) + 1)
  }
  const smooth = slopes.flatMap((row, i) => (row.every(Number.isFinite) && isSteady(i) ? [i] : []))
  const names = independent.map((i) => speeds[i]!.name)
  const coordinates = independent.map((i) => freedomNames(form)[i]!)
  const stateNames = [...coordinates, ...names, ...form.states.slice(nq + nv).map(({ name }) => name)]
  const run = (row: readonly number[]) => row.slice(0, nq).reduce((sum, slope, i) => sum + slope * movement[i]!, 0)
  const running = [
    ...positions.map(({ name }, i) => [name, movement[i]!] as const),
    ...(moves ? signals.map(({ name }, i) => [name, run(slopes[i]!)] as const) : []),
  ]
  const left = later === undefined ? [] : [...rates.slice(nq), ...gapRates].map((rate) => evaluate(rate, later))
  return {
    spread,
    runs: Object.fromEntries(running.filter(([, rate]) => Math.abs(rate) > 1e-12)),
    leaves: Math.max(0, ...left.map(Math.abs)),
    system: {
      a: [
        ...upper,
        ...multiply(
          picked.map((row) => row.slice(0, ns)),
          embed,
        ),
      ],
      b: [...upper.map(() => zeros(nu)), ...picked.map((row) => row.slice(ns))],
      c: [
        ...Array.from({ length: 2 * f }, (_, i) => unitVector(stateNames.length, i)),
        ...smooth.map((i) => byState(slopes[i]!)),
      ],
      d: [...Array.from({ length: 2 * f }, () => zeros(nu)), ...smooth.map((i) => slopes[i]!.slice(ns))],
      dt: null,
      states: stateNames,
      inputs: [...asked],
      outputs: [...coordinates, ...names, ...smooth.map((i) => signals[i]!.name)],
    },
  }
}

function zeros(count: number): number[] {
  return new Array<number>(count).fill(0)
}

/** T⁺ (d(T v)/dq T - dT/dt): how small ways and turns are carried along by the motion they are counted from. */
function carriedAlong(
  rates: readonly Scalar[],
  at: Float64Array,
  slopes: Matrix,
  turning: Matrix,
  movement: readonly number[],
): Matrix {
  const [nq, nv] = [slopes.length, turning[0]!.length]
  const byPosition = slopes.map((row) => row.slice(0, nq))
  const slots = Array.from({ length: nv }, (_, i) => nq + i)
  const entries = jacobian(rates.slice(0, nq), slots).flat()
  const changes = jacobianAt(
    entries,
    Array.from({ length: nq }, (_, i) => i),
    at,
  ).map((row) => row.reduce((sum, slope, i) => sum + slope * movement[i]!, 0))
  const moved = multiply(byPosition, turning).map((row, i) => row.map((value, k) => value - changes[i * nv + k]!))
  const back = transpose(turning)
  return solve(multiply(back, turning), multiply(back, moved)) ?? moved
}

/** Where the motion has carried the positions after a second, speeds and all else as they are (Runge and Kutta's fourth order). */
function carriedOn(form: MechanismForm, rates: readonly Scalar[], at: Float64Array): Float64Array {
  const { assembly } = form
  const nq = assembly.positions.length
  const ratesAt = (values: Float64Array) => {
    const known = evaluation(values)
    return rates.slice(0, nq).map((rate) => known.number(rate) as number)
  }
  const stepped = (from: Float64Array, slope: readonly number[], by: number) => {
    const next = Float64Array.from(from)
    slope.forEach((value, i) => (next[i]! += by * value))
    return next
  }
  let now = at
  const h = 1 / stepsOn
  for (let step = 0; step < stepsOn; step++) {
    const k1 = ratesAt(now)
    const k2 = ratesAt(stepped(now, k1, h / 2))
    const k3 = ratesAt(stepped(now, k2, h / 2))
    const k4 = ratesAt(stepped(now, k3, h))
    now = stepped(
      now,
      k1.map((value, i) => (value + 2 * k2[i]! + 2 * k3[i]! + k4[i]!) / 6),
      h,
    )
    now.set(unitQuaternions(assembly, [...now.subarray(0, nq)]))
  }
  return now
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

/** Coordinates that stay free when the chains are closed, driven ones first, and those that follow. */
function independentCoordinates(
  gapsBySpeed: Matrix,
  n: number,
  form: MechanismForm,
  preferred: readonly string[],
): { dependent: number[]; independent: number[] } {
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
  return { dependent, independent }
}

/** How the speed of a coordinate follows from the independent ones; nothing of one that is independent. */
function followers(
  gapsBySpeed: Matrix,
  dependent: readonly number[],
  independent: readonly number[],
): (coordinate: number) => readonly number[] | undefined {
  const jd = gapsBySpeed.map((row) => dependent.map((j) => row[j]!))
  const ji = gapsBySpeed.map((row) => independent.map((j) => -row[j]!))
  const follow = dependent.length === 0 ? [] : (solve(jd, ji) ?? ji)
  return (coordinate) => follow[dependent.indexOf(coordinate)]
}
