import { Graph, evaluate } from '../expression'
import type { Matrix } from '../algebra'
import { contentHash, done, refusedFor } from '../document'
import type { Outcome, Part } from '../document'
import { channel, inCoordinates, linearize, outputCoordinates } from '../linear'
import type { StateSpace } from '../linear'
import { allocate, axes, findQuantity, machineFacts, motion, numbersOf, quantities, stateList } from '../machine'
import type { Layers } from '../machine'

/** m/s² and rad/s²: what may be left unbalanced at a hover. */
const hoverResidual = 1e-6

export interface OperatingPoint {
  readonly states: Readonly<Record<string, number>>
  readonly pushes: Readonly<Record<string, number>>
  /** Largest acceleration left, m/s² or rad/s² */
  readonly residual: number
}

export interface LinearMachine {
  /** Inputs: the four pushes. Outputs: every quantity. Attitude as a small rotation vector in body axes. */
  readonly system: StateSpace
  readonly operatingPoint: OperatingPoint
}

/** Answers kept for machines seen lately: a drag of a gain asks for the same machine again and again. */
const mostKept = 200
const machines = new Map<string, Outcome<LinearMachine>>()
const plants = new Map<string, Outcome<StateSpace>>()

/** A machine linearized exactly about its hover at the origin, allocation included. */
export function linearMachine(machine: Part, layers: Layers): Outcome<LinearMachine> {
  return kept(machines, contentHash([machine, [...layers]]), () => linearizedAtHover(machine, layers))
}

function kept<Value>(known: Map<string, Value>, key: string, make: () => Value): Value {
  const found = known.get(key)
  if (found !== undefined) return found
  const made = make()
  if (known.size >= mostKept) known.clear()
  known.set(key, made)
  return made
}

function linearizedAtHover(machine: Part, layers: Layers): Outcome<LinearMachine> {
  const graph = new Graph()
  const read = numbersOf(machine)
  const infos = stateList(machine, layers)
  const states = infos.map((_, i) => graph.slot(i))
  const pushes = axes.map((_, i) => graph.slot(infos.length + i))
  const asked = allocate(machine, read, pushes)
  const moved = motion(machine, read, layers, states, asked)

  const { weight } = machineFacts(machine)
  const pushValues = [weight, 0, 0, 0]
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
  const named = (values: readonly number[], list: readonly string[]) =>
    Object.fromEntries(list.map((name, i) => [name, values[i]!]))
  return done({
    system: withRotationVector(full),
    operatingPoint: { states: named(at, full.states), pushes: named(pushValues, full.inputs), residual },
  })
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

/** From one push to a held quantity and its rate, only what the push reaches, in coordinates of the outputs. */
export function plantOf(machine: Part, layers: Layers, push: string, holds: string): Outcome<StateSpace> {
  return kept(plants, contentHash([machine, [...layers], push, holds]), () => {
    const made = linearMachine(machine, layers)
    if (made.kind === 'refused') return made
    const rate = findQuantity(holds)?.rate
    const outputs = rate === undefined ? [holds] : [holds, rate]
    return done(outputCoordinates(channel(made.value.system, push, outputs)))
  })
}
