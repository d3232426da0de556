import { Graph, evaluate, jacobianAt } from '../expression'
import { solve } from '../algebra'
import type { Matrix } from '../algebra'
import { done, partHash, refusedFor, remembered } from '../document'
import type { Outcome, Part } from '../document'
import { channel, inCoordinates, linearize, outputCoordinates } from '../linear'
import type { StateSpace } from '../linear'
import {
  allocate,
  axes,
  bodilessMotion,
  findHeld,
  floatingBody,
  isBodiless,
  machineFacts,
  motion,
  numbersOf,
  quantities,
  stateList,
} from '../machine'
import type { AnyLayer, Layers, MechanismLayers, Read } from '../machine'
import { bodilessPoint } from './bodilessPoint'
import type { BodilessPoint } from './bodilessPoint'
import { designPoint } from './mechanismPoint'
import type { MechanismPoint } from './mechanismPoint'
import { knownOf } from './trueNumbers'

/** States that pushes hold still at hover. */
const hoverRates = ['climbRate', 'rollRate', 'pitchRate', 'yawRate']
/** m/s² and rad/s²: what may be left unbalanced at a hover. */
const hoverResidual = 1e-6

export interface OperatingPoint {
  readonly states: Readonly<Record<string, number>>
  readonly pushes: Readonly<Record<string, number>>
  /** Values of what loops can hold. */
  readonly held: Readonly<Record<string, number>>
  /** Largest acceleration or rate left */
  readonly residual: number
}

export interface LinearMachine {
  /** Inputs: what loops push. Outputs: what they hold, and more. A lifter's attitude as a small rotation vector in body axes. */
  readonly system: StateSpace
  readonly operatingPoint: OperatingPoint
}

/** Answers kept for machines seen lately: a drag of a gain asks for the same machine again and again. */
const mostKept = 200
const machines = new Map<string, Outcome<LinearMachine>>()
const plants = new Map<string, Outcome<StateSpace>>()

/**
 * A machine linearized exactly about its operating point: a lifter about hover at the origin, with the allocation of what
 * its software knows.
 */
export function linearMachine(machine: Part, layers: ReadonlySet<AnyLayer>): Outcome<LinearMachine> {
  return remembered(machines, mostKept, [...hashes(machine), ...layers].join(' '), () => {
    if (machine.kind === floatingBody.name) return linearizedAtHover(machine, layers as Layers)
    return isBodiless(machine)
      ? linearBodiless(machine, layers as MechanismLayers)
      : linearMechanism(machine, layers as MechanismLayers)
  })
}

function hashes(machine: Part): readonly string[] {
  const known = knownOf(machine)
  return known === machine ? [partHash(machine)] : [partHash(machine), partHash(known)]
}

function linearMechanism(machine: Part, layers: MechanismLayers): Outcome<LinearMachine> {
  const point = designPoint(machine, undefined, layers)
  return point.kind === 'refused' ? point : done(linearAt(point.value, point.value.shown))
}

function linearBodiless(machine: Part, layers: MechanismLayers): Outcome<LinearMachine> {
  const point = bodilessPoint(machine, layers)
  if (point.kind === 'refused') return point
  const { states, inputs, form } = point.value
  const { outputs } = bodilessMotion(machine, numbersOf(machine), layers, states, inputs)
  return done(linearAt(point.value, named(outputs as readonly number[], form.outputs)))
}

/** A point that was found, with values of outputs that are no states. */
function linearAt(
  { system, states, inputs, form, residual }: MechanismPoint | BodilessPoint,
  outputs: Readonly<Record<string, number>>,
): LinearMachine {
  const values = named(states, form.states)
  return {
    system,
    operatingPoint: { states: values, pushes: named(inputs, form.inputs), held: { ...values, ...outputs }, residual },
  }
}

function named(values: readonly number[], list: readonly { readonly name: string }[]): Record<string, number> {
  return Object.fromEntries(list.map(({ name }, i) => [name, values[i]!]))
}

function linearizedAtHover(machine: Part, layers: Layers): Outcome<LinearMachine> {
  const graph = new Graph()
  const read = numbersOf(machine)
  const infos = stateList(machine, layers)
  const states = infos.map((_, i) => graph.slot(i))
  const pushes = axes.map((_, i) => graph.slot(infos.length + i))
  const known = numbersOf(knownOf(machine))
  const asked = allocate(machine, known, pushes)
  const moved = motion(machine, read, layers, states, asked)

  const pushValues = hoverPushes(machine, layers, known)
  const at = [...infos.map(({ atRest }) => atRest), ...pushValues]
  asked.forEach((speed, i) => {
    if (infos[13 + i] !== undefined) at[13 + i] = evaluate(speed, at)
  })
  const left = moved.rates.map((rate) => evaluate(rate, at))
  const residual = Math.max(...left.map(Math.abs))
  if (!(residual < hoverResidual)) {
    const what = `The machine does not balance at hover: ${infos[left.findIndex((value) => Math.abs(value) === residual)]?.name ?? 'a state'} changes at ${residual}.`
    return refusedFor('machines', what, 'Check the rotor limits and coefficients: hover must lie inside them.')
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
  return done({
    system: withRotationVector(full),
    operatingPoint: {
      states: named(at, infos),
      pushes: named(pushValues, axes),
      held: Object.fromEntries(quantities.map(({ name, of }) => [name, evaluate(of(moved), at)])),
      residual,
    },
  })
}

/** What asks the rotors for a hover: lift and moments that balance, through an allocation that may not know the machine. */
function hoverPushes(machine: Part, layers: Layers, known: Read): readonly number[] {
  const weighed = [machineFacts(machine).weight, 0, 0, 0]
  if (knownOf(machine) === machine) return weighed
  const graph = new Graph()
  const pushes = axes.map((_, i) => graph.slot(i))
  // rotors without lag give at once what they are asked
  const settled = new Set([...layers].filter((layer) => layer !== 'rotorLag'))
  const resting = stateList(machine, settled).map(({ atRest }) => atRest)
  const { rates } = motion(machine, numbersOf(machine), settled, resting, allocate(machine, known, pushes))
  const moved = hoverRates.map((name) => rates[stateList(machine, settled).findIndex((info) => info.name === name)]!)
  const slots = axes.map((_, i) => i)
  let at = weighed
  // thrusts are proportional to pushes, so that the first step is nearly the last
  for (let k = 0; k < 3; k++) {
    const left = moved.map((rate) => [-evaluate(rate, at)])
    const change = solve(jacobianAt(moved, slots, at), left)
    if (change === undefined) return at
    at = at.map((push, i) => push + change[i]![0]!)
  }
  return at
}

/** Replaces the quaternion about (1, 0, 0, 0) by the small rotation d: q = (1, d/2). */
function withRotationVector(system: StateSpace): StateSpace {
  const n = system.states.length
  const kept = system.states.map((_, i) => i).filter((i) => i !== 3)
  const from: Matrix = Array.from({ length: n }, (_, i) => kept.map((k) => (k === i ? (i >= 4 && i <= 6 ? 0.5 : 1) : 0)))
  const to: Matrix = kept.map((k) => Array.from({ length: n }, (_, i) => (k === i ? (i >= 4 && i <= 6 ? 2 : 1) : 0)))
  const names = kept.map((k) => system.states[k]!.replace('attitude.', 'turn.'))
  return inCoordinates(system, from, to, names)
}

/**
 * From one push to a held quantity, its rate where it has one and other signals, of a continuous machine only what the push
 * reaches, in coordinates of the outputs.
 */
export function plantOf(
  machine: Part,
  layers: ReadonlySet<AnyLayer>,
  push: string,
  holds: string,
  signals: readonly string[] = [],
): Outcome<StateSpace> {
  return remembered(plants, mostKept, [...hashes(machine), ...layers, push, holds, ...signals].join(' '), () => {
    const made = linearMachine(machine, layers)
    if (made.kind === 'refused') return made
    const rate = findHeld(machine, holds)?.rate
    const plant = channel(made.value.system, push, [holds, ...(rate === undefined ? [] : [rate]), ...signals])
    return done(plant.dt === null ? outputCoordinates(plant) : plant)
  })
}
