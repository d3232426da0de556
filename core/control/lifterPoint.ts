import { Graph, evaluate, jacobianAt } from '../expression'
import type { Scalar } from '../expression'
import { product, quaternionOf, solve } from '../algebra'
import type { Matrix, Quaternion } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import { inCoordinates, linearize } from '../linear'
import type { StateSpace } from '../linear'
import { allocate, axes, machineFacts, motion, numbersOf, quantities, stateList } from '../machine'
import type { Layers } from '../machine'
import type { LinearMachine } from './operatingPoint'
import { knownOf } from './trueNumbers'

/** How a lifter flies at its operating point: steadily, heading one way. */
export interface SteadyFlight {
  /** rad */
  readonly heading: number
  /** m/s, east, north and up */
  readonly velocity: readonly [number, number, number]
}

/** Hover, heading as it was built. */
export const still: SteadyFlight = { heading: 0, velocity: [0, 0, 0] }

/** m/s² and rad/s²: what may be left unbalanced. */
const mostLeft = 1e-6
const mostSteps = 30

/**
 * A lifter linearized exactly about steady flight: its tilt and pushes are found such that nothing accelerates, through the
 * allocation of what its software knows. Its attitude is a small rotation vector in body axes. Refused where it cannot fly so.
 */
export function linearLifter(machine: Part, layers: Layers, flight: SteadyFlight): Outcome<LinearMachine> {
  const graph = new Graph()
  const read = numbersOf(machine)
  const infos = stateList(machine, layers)
  const slots = infos.map((_, i) => graph.slot(i))
  const pushes = axes.map((_, i) => graph.slot(infos.length + i))
  const asked = allocate(machine, numbersOf(knownOf(machine)), pushes)
  const moved = motion(machine, read, layers, slots, asked)

  const { attitude, pushes: pushValues } = trimmed(machine, layers, flight)
  const at = [...infos.map(({ atRest }) => atRest), ...pushValues]
  at.splice(3, 7, ...attitude, ...flight.velocity)
  asked.forEach((speed, i) => {
    if (infos[13 + i] !== undefined) at[13 + i] = evaluate(speed, at)
  })
  // places move on in flight; nothing else may
  const left = moved.rates.map((rate, i) => (i < 3 ? 0 : evaluate(rate, at)))
  const residual = Math.max(...left.map(Math.abs))
  if (!(residual < mostLeft)) {
    const [where, remedy] =
      flight === still
        ? ['at hover', 'Check the rotor limits and coefficients: hover must lie inside them.']
        : ['in this flight', 'Let it fly slower, or check rotors and drag.']
    const what = `The machine does not balance ${where}: ${infos[left.findIndex((value) => Math.abs(value) === residual)]?.name ?? 'a state'} changes at ${residual}.`
    return refusedFor('machines', what, remedy)
  }
  const full = linearize({
    rates: moved.rates,
    outputs: quantities.map((quantity) => quantity.of(moved)),
    stateSlots: infos.map((_, i) => i),
    inputSlots: pushValues.map((_, i) => infos.length + i),
    at,
    names: {
      states: infos.map(({ name }) => name),
      inputs: axes.map(({ name }) => name),
      outputs: quantities.map(({ name }) => name),
    },
  })
  const named = (list: readonly { readonly name: string }[], values: readonly number[]) =>
    Object.fromEntries(list.map(({ name }, i) => [name, values[i]!]))
  return done({
    system: withRotationVector(full, attitude),
    operatingPoint: {
      states: named(infos, at),
      pushes: named(axes, pushValues),
      standing: {},
      runs: Object.fromEntries(
        ['east', 'north', 'height'].flatMap((name, i) => (flight.velocity[i] === 0 ? [] : [[name, flight.velocity[i]!]])),
      ),
      held: Object.fromEntries(quantities.map(({ name, of }) => [name, evaluate(of(moved), at)])),
      residual,
    },
  })
}

type Numbers4 = readonly [number, number, number, number]

/** Attitude and pushes with which nothing accelerates, by Newton's method on roll, pitch and the pushes. */
function trimmed(
  machine: Part,
  layers: Layers,
  flight: SteadyFlight,
): { readonly attitude: Numbers4; readonly pushes: readonly number[] } {
  const weighed = [machineFacts(machine).weight, 0, 0, 0]
  const known = knownOf(machine)
  if (flight === still && known === machine) return { attitude: [1, 0, 0, 0], pushes: weighed }
  // rotors without lag give at once what they are asked
  const settled = new Set([...layers].filter((layer) => layer !== 'rotorLag'))
  const graph = new Graph()
  const [roll, pitch, ...pushes] = ['roll', 'pitch', ...axes].map((_, i) => graph.slot(i)) as [Scalar, Scalar, ...Scalar[]]
  const orientation = quaternionOf({ roll, pitch, heading: flight.heading })
  const states = [0, 0, 0, ...orientation, ...flight.velocity, 0, 0, 0]
  const { rates } = motion(machine, numbersOf(machine), settled, states, allocate(machine, numbersOf(known), pushes))
  const accelerations = rates.slice(7, 13)
  let at = [0, 0, ...weighed]
  for (let k = 0; k < mostSteps; k++) {
    const left = accelerations.map((rate) => [-evaluate(rate, at)])
    if (left.every(([value]) => Math.abs(value!) < 1e-12)) break
    const change = solve(
      jacobianAt(
        accelerations,
        at.map((_, i) => i),
        at,
      ),
      left,
    )
    if (change === undefined) break
    at = at.map((value, i) => value + change[i]![0]!)
  }
  const attitude = orientation.map((part) => evaluate(part, at)) as unknown as Numbers4
  return { attitude, pushes: at.slice(2) }
}

/** Replaces the quaternion about q by the small rotation d in body axes: q (1, d/2). */
function withRotationVector(system: StateSpace, [w, x, y, z]: Numbers4): StateSpace {
  const n = system.states.length
  const kept = system.states.map((_, i) => i).filter((i) => i !== 3)
  const axis = (i: number) => [0, 1, 2].map((k) => (k === i ? 1 : 0)) as [number, number, number]
  const turned = [0, 1, 2].map((i) => product([w, x, y, z], [0, ...axis(i)]) as readonly number[])
  const unit = (i: number): Quaternion => [i === 0 ? 1 : 0, ...axis(i - 1)]
  const back = [0, 1, 2, 3].map((i) => product([w, -x, -y, -z], unit(i)) as readonly number[])
  const isTurn = (k: number) => k >= 4 && k <= 6
  const isPart = (i: number) => i >= 3 && i <= 6
  const from: Matrix = Array.from({ length: n }, (_, i) =>
    kept.map((k) => (isTurn(k) ? (isPart(i) ? 0.5 * turned[k - 4]![i - 3]! : 0) : k === i ? 1 : 0)),
  )
  const to: Matrix = kept.map((k) =>
    Array.from({ length: n }, (_, i) => (isTurn(k) ? (isPart(i) ? 2 * back[i - 3]![k - 3]! : 0) : k === i ? 1 : 0)),
  )
  const names = kept.map((k) => system.states[k]!.replace('attitude.', 'turn.'))
  return inCoordinates(system, from, to, names)
}
