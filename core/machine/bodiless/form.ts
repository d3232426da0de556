import { add, clamp, max, min, mul, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { partsIn } from '../../document'
import type { Part } from '../../document'
import type { MechanismLayers } from '../effects/effect'
import type { StateInfo } from '../stateInfo'
import { formulaValue } from '../formulaValue'
import type { InputInfo } from '../mechanismMotion'
import type { Read } from '../read'
import { equations } from './equations'
import { matrices } from './matrices'

export interface BodilessForm {
  /** `near` is where an operating point is looked for: the nominal value of a linear model, else the start. */
  readonly states: readonly (StateInfo & { readonly near: number })[]
  /** With their nominal values. */
  readonly inputs: readonly (InputInfo & { readonly nominal: number })[]
  readonly outputs: readonly { readonly name: string; readonly unit: string }[]
  /** s; nothing for a continuous machine. */
  readonly sampleTime: number | undefined
}

export interface BodilessMotion {
  /** Rates of the states; with a sample time the states at the next sample. */
  readonly rates: readonly Scalar[]
  readonly outputs: readonly Scalar[]
}

/** Whether a machine has no bodies: matrices or typed equations. */
export function isBodiless(machine: Part): boolean {
  return machine.kind === matrices.name || machine.kind === equations.name
}

export function bodilessForm(machine: Part): BodilessForm {
  const listed = (group: string) => Object.entries(partsIn(machine[group]))
  const number = (part: Part, slot: string) => (part[slot] as number | undefined) ?? 0
  return {
    states: listed('states').map(([name, part]) => ({
      name,
      unit: part.unit as string,
      near: number(part, part.nominal === undefined ? 'start' : 'nominal'),
      atRest: number(part, part.start === undefined ? 'nominal' : 'start'),
    })),
    inputs: listed('inputs').map(([name, part]) => ({
      name,
      label: name,
      unit: part.unit as string,
      nominal: number(part, 'nominal'),
    })),
    outputs: listed('outputs').map(([name, part]) => ({ name, unit: part.unit as string })),
    sampleTime: machine.sampleTime as number | undefined,
  }
}

/** Rates and outputs of a machine without bodies. */
export function bodilessMotion(
  machine: Part,
  read: Read,
  layers: MechanismLayers,
  states: readonly Scalar[],
  inputs: readonly Scalar[],
  time: Scalar = 0,
): BodilessMotion {
  const form = bodilessForm(machine)
  const given = form.inputs.map(({ name }, i) => limited(machine, read, layers, name, inputs[i]!))
  return machine.kind === matrices.name
    ? linearMotion(machine, read, form, states, given)
    : typedMotion(machine, read, form, states, given, time)
}

function limited(machine: Part, read: Read, layers: MechanismLayers, name: string, asked: Scalar): Scalar {
  const { least, most } = partsIn(machine.inputs)[name]!
  if ((least === undefined && most === undefined) || !layers.has('driveLimits')) return asked
  if (least !== undefined && most !== undefined) return clamp(asked, read(`inputs.${name}.least`), read(`inputs.${name}.most`))
  return least === undefined ? min(asked, read(`inputs.${name}.most`)) : max(asked, read(`inputs.${name}.least`))
}

function linearMotion(
  machine: Part,
  read: Read,
  form: BodilessForm,
  states: readonly Scalar[],
  inputs: readonly Scalar[],
): BodilessMotion {
  const nominal = (group: string, name: string) => read(`${group}.${name}.nominal`)
  const x = form.states.map(({ name }, i) => sub(states[i]!, nominal('states', name)))
  const u = form.inputs.map(({ name }, i) => sub(inputs[i]!, nominal('inputs', name)))
  const entry = (matrix: 'a' | 'b' | 'c' | 'd', i: number, j: number) =>
    (machine[matrix] as readonly (readonly number[])[])[i]![j] === 0 ? 0 : read(`${matrix}.${i}.${j}`)
  const row = (byState: 'a' | 'c', byInput: 'b' | 'd', i: number) =>
    sum([...x.map((value, j) => mul(entry(byState, i, j), value)), ...u.map((value, j) => mul(entry(byInput, i, j), value))])
  const raised = (group: string, name: string, value: Scalar) => add(nominal(group, name), value)
  return {
    rates: form.states.map(({ name }, i) =>
      form.sampleTime === undefined ? row('a', 'b', i) : raised('states', name, row('a', 'b', i)),
    ),
    outputs: form.outputs.map(({ name }, i) => raised('outputs', name, row('c', 'd', i))),
  }
}

function typedMotion(
  machine: Part,
  read: Read,
  form: BodilessForm,
  states: readonly Scalar[],
  inputs: readonly Scalar[],
  time: Scalar,
): BodilessMotion {
  const known = new Map<string, Scalar>([
    ['t', time],
    ...form.states.map(({ name }, i): [string, Scalar] => [name, states[i]!]),
    ...form.inputs.map(({ name }, i): [string, Scalar] => [name, inputs[i]!]),
  ])
  const value = (group: string, name: string, slot: string) => {
    const part = partsIn(machine[group])[name]!
    return formulaValue(part[slot] as string, (one) => known.get(one), machine, read)
  }
  return {
    rates: form.states.map(({ name }) => value('states', name, 'rate')),
    outputs: form.outputs.map(({ name }) => value('outputs', name, 'value')),
  }
}
