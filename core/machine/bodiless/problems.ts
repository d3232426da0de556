import { nameRemedy, partsIn } from '../../document'
import type { Part, Problem } from '../../document'
import { constantNames, formulaProblems } from '../formulaValue'
import { conditionProblems } from '../conditionProblems'
import { readingEndsProblems } from '../readingEnds'
import { equations } from './equations'
import { followed } from './figures'
import { bodilessForm } from './form'
import { matrices } from './matrices'

/** More states are a slip, and no picture of them would be legible. */
const mostStates = 200

/** What no schema can see in a machine without bodies: shapes of matrices, names twice, formulas, limits crossed. */
export function bodilessProblems(path: string, machine: Part): Problem[] {
  const form = bodilessForm(machine)
  const count = form.states.length
  if (count === 0 && machine.kind === equations.name)
    return [{ where: `${path}.states`, what: 'The machine has no states.', remedy: 'Add a state with its rate.' }]
  if (count > mostStates) {
    const what = `The machine has ${count} states; at most ${mostStates} are taken.`
    return [{ where: `${path}.states`, what, remedy: 'Reduce the model first.' }]
  }
  return [
    ...nameProblems(path, machine),
    ...limitProblems(path, machine),
    ...(machine.kind === matrices.name ? shapeProblems(path, machine) : textProblems(path, machine)),
    ...sensorProblems(path, machine),
    ...figureProblems(path, machine),
    ...conditionProblems(path, machine, fixableNames(machine), stateNames(machine)),
  ]
}

/** A sensor reads what is there, and its ends do not cross. */
function sensorProblems(path: string, machine: Part): Problem[] {
  const { states, outputs } = bodilessForm(machine)
  const known = [...states, ...outputs].map(({ name }) => name)
  const parts = Object.entries(partsIn(machine.sensors))
  return parts.flatMap(([sensor, part]): Problem[] => {
    const where = `${path}.sensors.${sensor}`
    const signal = part.signal as string
    if (known.includes(signal)) return readingEndsProblems(where, part)
    const what = `There is no state or output named ${signal}.`
    return [{ where: `${where}.signal`, what, remedy: nameRemedy(signal, known) }]
  })
}

/** What may run on at an operating point. */
function stateNames(machine: Part): string[] {
  return bodilessForm(machine).states.map(({ name }) => name)
}

/** What a condition of the operating point can fix. */
export function fixableNames(machine: Part): string[] {
  const { states, inputs, outputs } = bodilessForm(machine)
  return [...states, ...inputs, ...outputs].map(({ name }) => name)
}

/** States, inputs and outputs share their charts and formulas: a name can mean one thing only. */
function nameProblems(path: string, machine: Part): Problem[] {
  const form = bodilessForm(machine)
  const owners = new Map<string, string>([['t', 'the time']])
  return (['states', 'inputs', 'outputs'] as const).flatMap((group) =>
    form[group].flatMap(({ name }): Problem[] => {
      const owner = owners.get(name)
      const sort = group === 'states' ? 'a state' : group === 'inputs' ? 'an input' : 'an output'
      if (owner === undefined) {
        owners.set(name, sort)
        return []
      }
      const what = `${name} is ${owner} already, so it cannot name ${sort} as well.`
      return [{ where: `${path}.${group}.${name}`, what, remedy: `Give it another name, such as ${name}Read.` }]
    }),
  )
}

function limitProblems(path: string, machine: Part): Problem[] {
  return Object.entries(partsIn(machine.inputs)).flatMap(([name, { least, most }]) => {
    if (least === undefined || most === undefined || (least as number) < (most as number)) return []
    const what = `The least of ${name}, ${least as number}, is not below its most, ${most as number}.`
    return [{ where: `${path}.inputs.${name}.least`, what, remedy: `Give less than ${most as number}.` }]
  })
}

function shapeProblems(path: string, machine: Part): Problem[] {
  const { states, inputs, outputs } = bodilessForm(machine)
  const wanted = {
    a: [states.length, states.length],
    b: [states.length, inputs.length],
    c: [outputs.length, states.length],
    d: [outputs.length, inputs.length],
  } as const
  return Object.entries(wanted).flatMap(([name, [rows, columns]]) => {
    const given = machine[name] as readonly (readonly number[])[]
    const empty = rows === 0 || columns === 0
    if (empty && given.flat().length === 0) return []
    if (given.length === rows && given.every((row) => row.length === columns)) return []
    const what = `${name.toUpperCase()} is ${given.length} × ${given[0]?.length ?? 0}; with ${states.length} states, ${inputs.length} inputs and ${outputs.length} outputs it must be ${rows} × ${columns}.`
    return [{ where: `${path}.${name}`, what, remedy: 'Change the matrix, or add or remove names.' }]
  })
}

/** Names that rates and outputs may use. */
export function bodilessFormulaNames(machine: Part): readonly string[] {
  const { states, inputs } = bodilessForm(machine)
  return [...[...states, ...inputs].map(({ name }) => name), ...constantNames(machine), 't']
}

function textProblems(path: string, machine: Part): Problem[] {
  const known = bodilessFormulaNames(machine)
  const texts = (group: string, slot: string) =>
    Object.entries(partsIn(machine[group])).flatMap(([name, part]) =>
      formulaProblems(`${path}.${group}.${name}.${slot}`, part[slot] as string, known, 'state, input or parameter'),
    )
  return [...texts('states', 'rate'), ...texts('outputs', 'value')]
}

function figureProblems(path: string, machine: Part): Problem[] {
  const { states, outputs } = bodilessForm(machine)
  const known = [...states, ...outputs].map(({ name }) => name)
  return Object.entries(partsIn(machine.figure)).flatMap(([name, part]) =>
    followed.flatMap((slot): Problem[] => {
      const given = part[slot] as string | undefined
      if (given === undefined || given === '' || known.includes(given)) return []
      const remedy = nameRemedy(given, known)
      return [{ where: `${path}.figure.${name}.${slot}`, what: `There is no state or output named ${given}.`, remedy }]
    }),
  )
}
