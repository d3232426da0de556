import { Graph } from '../expression'
import type { Scalar } from '../expression'
import { rememberedOf } from '../document'
import type { Part } from '../document'
import { askedNames, mechanismForm, mechanismMotion, mostEffort, numbersOf, spread } from '../machine'
import type { MechanismForm, MechanismLayers } from '../machine'
import { knownOf } from './trueNumbers'

/** Equations of a mechanism with slots for states, then for what is asked of it. */
export interface PointEquations {
  readonly form: MechanismForm
  readonly asked: readonly string[]
  /** What each slot is: a state, then what is asked. */
  readonly names: readonly string[]
  readonly slots: readonly Scalar[]
  /** Inputs of the form by what is asked. */
  readonly inputs: readonly Scalar[]
  /** Of inputs that pushes are spread over what each is at its most effort, and that effort; nothing of others. */
  readonly reach: readonly (readonly [input: number, effort: number] | undefined)[]
  readonly keptRows: readonly number[]
  readonly rates: readonly Scalar[]
  readonly gaps: readonly Scalar[]
  readonly gapRates: readonly Scalar[]
  readonly signals: ReturnType<typeof mechanismMotion>['signals']
}

/** By machine, which nobody changes in place; layers are turned on and off, so not all are kept. */
const mostKept = 6
const made = new WeakMap<Part, Map<string, PointEquations>>()

/** The same equations for the same machine: a search for a point begins anew from other conditions. */
export function pointEquations(machine: Part, layers: MechanismLayers, keptRows: readonly number[]): PointEquations {
  return rememberedOf(made, machine, [...layers, ...keptRows].join(' '), () => equationsOf(machine, layers, keptRows), mostKept)
}

function equationsOf(machine: Part, layers: MechanismLayers, keptRows: readonly number[]): PointEquations {
  const graph = new Graph()
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const states = form.states.map((_, i) => graph.slot(i))
  const asked = askedNames(machine)
  const given = new Map(asked.map((name, i) => [name, graph.slot(form.states.length + i)]))
  const spreadOver = spread(machine, numbersOf(knownOf(machine)), (push) => given.get(push)!, false)
  const inputs = form.inputs.map(({ name }) => spreadOver.get(name) ?? given.get(name)!)
  const { rates, chainRows, signals } = mechanismMotion(machine, read, layers, form, states, inputs, keptRows)
  return {
    form,
    asked,
    names: [...form.states.map(({ name }) => name), ...asked],
    slots: [...states, ...given.values()],
    inputs,
    reach: form.inputs.map(({ name }) => (spreadOver.has(name) ? mostEffort(machine, name) : undefined)),
    keptRows,
    rates,
    gaps: keptRows.map((row) => chainRows[row]!.gap),
    gapRates: keptRows.map((row) => chainRows[row]!.rate),
    signals,
  }
}
