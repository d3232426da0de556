import { done, partHash, remembered } from '../document'
import type { Outcome, Part } from '../document'
import { channel, outputCoordinates } from '../linear'
import type { StateSpace } from '../linear'
import { bodilessMotion, findHeld, fullMechanism, isBodiless, numbersOf } from '../machine'
import type { AnyLayer, MechanismLayers } from '../machine'
import { bodilessPoint } from './bodilessPoint'
import type { BodilessPoint } from './bodilessPoint'
import { designPoint } from './mechanismPoint'
import type { MechanismPoint } from './mechanismPoint'
import type { LinearMachine } from './operatingPoint'
import { knownOf } from './trueNumbers'

/** Answers kept for machines seen lately: a drag of a gain asks for the same machine again and again. */
const mostKept = 200
const machines = new Map<string, Outcome<LinearMachine>>()
const plants = new Map<string, Outcome<StateSpace>>()

/** A machine linearized exactly about its operating point, with the allocation of what its software knows. */
export function linearMachine(machine: Part, layers: ReadonlySet<AnyLayer>): Outcome<LinearMachine> {
  // what is a matter of software changes nothing of the machine
  const own: MechanismLayers = new Set([...fullMechanism].filter((layer) => layers.has(layer)))
  return remembered(machines, mostKept, [...hashes(machine), ...own].join(' '), () =>
    isBodiless(machine) ? linearBodiless(machine, own) : linearMechanism(machine, own),
  )
}

function hashes(machine: Part): readonly string[] {
  const known = knownOf(machine)
  return known === machine ? [partHash(machine)] : [partHash(machine), partHash(known)]
}

function linearMechanism(machine: Part, layers: MechanismLayers): Outcome<LinearMachine> {
  const point = designPoint(machine, undefined, layers)
  if (point.kind === 'refused') return point
  const { shown, asked } = point.value
  return done(linearAt(point.value, shown, asked))
}

function linearBodiless(machine: Part, layers: MechanismLayers): Outcome<LinearMachine> {
  const point = bodilessPoint(machine, layers)
  if (point.kind === 'refused') return point
  const { states, inputs, form } = point.value
  const { outputs } = bodilessMotion(machine, numbersOf(machine), layers, states, inputs)
  return done(linearAt(point.value, named(outputs as readonly number[], form.outputs), named(inputs, form.inputs)))
}

/** A point that was found, with values of outputs that are no states. */
function linearAt(
  point: MechanismPoint | BodilessPoint,
  outputs: Readonly<Record<string, number>>,
  pushes: Readonly<Record<string, number>>,
): LinearMachine {
  const { system, states, form, residual, runs } = point
  const standing = 'standing' in point ? point.standing : {}
  const values = named(states, form.states)
  return {
    system,
    operatingPoint: { states: values, pushes, held: { ...values, ...outputs }, runs, standing, residual },
  }
}

function named(values: readonly number[], list: readonly { readonly name: string }[]): Record<string, number> {
  return Object.fromEntries(list.map(({ name }, i) => [name, values[i]!]))
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
    return made.kind === 'refused' ? made : done(channelOf(machine, made.value.system, push, holds, signals))
  })
}

/** The same of a linear form at hand, such as that about a point of one's own choice. */
export function channelOf(
  machine: Part,
  system: StateSpace,
  push: string,
  holds: string,
  signals: readonly string[] = [],
): StateSpace {
  const plant = channel(system, push, seenBy(machine, holds, signals))
  return plant.dt === null ? outputCoordinates(plant) : plant
}

/** What a loop sees of its machine, in this order: what it holds, the rate of that where it has one, other signals. */
export function seenBy(machine: Part, holds: string, signals: readonly string[]): readonly string[] {
  const rate = findHeld(machine, holds)?.rate
  return [holds, ...(rate === undefined ? [] : [rate]), ...signals]
}
