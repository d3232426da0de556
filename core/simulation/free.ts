import {
  Graph,
  abs,
  add,
  assign,
  atMost,
  call,
  copy,
  hoistInvariants,
  less,
  loadModule,
  max,
  printWasm,
  repeatWhile,
  set,
  sub,
  sum,
  when,
  and,
} from '../expression'
import type { NumberNode, Procedure, Scalar } from '../expression'
import type { Part } from '../document'
import { everyNumber } from '../kinds'
import { machineKinds, mechanismForm, mechanismMotion } from '../machine'
import type { MechanismForm, MechanismLayers, MechanismMotion } from '../machine'
import { equationSlots, rungeKutta4 } from './integrate'
import { Layout, slotOf } from './layout'
import type { Column, Ending, Record } from './record'

/** A state this large (in its SI unit) has left every machine's world. */
const divergenceLimit = 1e7

export interface FreeProgram {
  readonly form: MechanismForm
  readonly columns: readonly Column[]
  /** Runs from given states with constant inputs; several value sets one after the other, nothing compiled again. */
  run(request: FreeRun): FreeRecord
}

export interface FreeRun {
  /** Positions, speeds and the effects' own states. */
  readonly start: readonly number[]
  readonly inputs: readonly number[]
  readonly until: number
  readonly step: number
  /** Steps between rows of the record. */
  readonly every: number
  /** Numbers of the machine by path, instead of the document's. */
  readonly values?: Readonly<{ [path: string]: number }>
}

export type FreeRecord = Pick<Record, 'time' | 'columns' | 'ending'>

/**
 * A mechanism alone, without loops: its equations in a module with fixed Runge-Kutta steps. Columns: states, signals of
 * effects, the three energies, what drives put in and what was lost for good, and the largest gap of the chains.
 */
export function freeProgram(machine: Part, layers: MechanismLayers, keptRows: readonly number[]): FreeProgram {
  const graph = new Graph()
  const layout = new Layout(graph)
  const numbers = new Map(everyNumber(machineKinds, machine).map(({ path, value }) => [path, { node: layout.one(), value }]))
  const read = (path: string): Scalar => numbers.get(path)!.node
  const form = mechanismForm(machine, read)
  const count = form.states.length
  const inputs = layout.many(form.inputs.length)
  const control = {
    step: layout.one(),
    left: layout.one(),
    tillRow: layout.one(),
    every: layout.one(),
    row: layout.one(),
    diverged: layout.one(),
  }
  // behind the states: energy put in by drives, and energy lost for good
  const equation = equationSlots(layout, count + 2)
  const motionAt = (states: readonly NumberNode[], time: Scalar) =>
    mechanismMotion(machine, read, layers, form, states.slice(0, count), inputs, keptRows, time)
  const derivative = motionAt(equation.stage, equation.stageTime)
  const slopes = [...derivative.rates, derivative.power.supplied, derivative.power.dissipated]
  const shown = shownColumns(form, motionAt(equation.x, equation.t), equation.x)
  const row = layout.many(shown.length)

  const constants = new Set([...numbers.values()].map(({ node }) => slotOf(node)))
  const { first, expressions } = hoistInvariants(
    graph,
    [...slopes, ...shown.map(({ value }) => value)],
    (slot) => constants.has(slot),
    () => layout.reserve(1),
  )
  const write = (targets: readonly NumberNode[], values: readonly Scalar[]) =>
    assign(targets.map((target, i) => ({ slot: slotOf(target), value: values[i]! })))
  const size = sum(equation.x.slice(0, count).map((x) => abs(x)))
  const procedures: Procedure[] = [
    { name: 'prepare', body: [assign(first)] },
    { name: 'derivative', body: [write(equation.slope, expressions.slice(0, slopes.length))] },
    { name: 'publish', body: [write(row, expressions.slice(slopes.length))] },
    rungeKutta4(layout, equation, control.step),
    {
      name: 'run',
      body: [
        repeatWhile(and(less(0, control.left), less(control.diverged, 1)), [
          when(less(control.tillRow, 1), [
            call('publish'),
            copy(slotOf(row[0]!), shown.length, control.row),
            set(slotOf(control.row), add(control.row, shown.length)),
            set(slotOf(control.tillRow), control.every),
          ]),
          when(atMost(size, divergenceLimit), [call('rk4')], [set(slotOf(control.diverged), 1)]),
          set(slotOf(control.left), sub(control.left, 1)),
          set(slotOf(control.tillRow), sub(control.tillRow, 1)),
        ]),
      ],
    },
  ]
  const module = printWasm({ slots: layout.slots, procedures })
  const loaded = loadModule(module)
  const columns = shown.map(({ value: _value, ...column }) => column)

  const run = ({ start, inputs: given, until, step, every, values }: FreeRun): FreeRecord => {
    const steps = Math.round(until / step) + 1
    const rows = Math.ceil(steps / every)
    loaded.reserve(module.slots + rows * shown.length)
    const memory = loaded.memory()
    for (const [path, { node, value }] of numbers) memory[slotOf(node)] = values?.[path] ?? value
    inputs.forEach((node, i) => (memory[slotOf(node)] = given[i] ?? 0))
    equation.x.forEach((node, i) => (memory[slotOf(node)] = start[i] ?? form.states[i]?.atRest ?? 0))
    memory[slotOf(equation.t)] = 0
    for (const [name, value] of Object.entries({ step, left: steps, tillRow: 0, every, row: module.slots, diverged: 0 }))
      memory[slotOf(control[name as keyof typeof control])] = value
    loaded.call('prepare')
    loaded.call('run')
    const made = (memory[slotOf(control.row)]! - module.slots) / shown.length
    return {
      time: Float64Array.from({ length: made }, (_, k) => k * every * step),
      columns: columns.map((column, c) => ({
        ...column,
        values: Float64Array.from({ length: made }, (_, k) => memory[module.slots + k * shown.length + c]!),
      })),
      ending:
        memory[slotOf(control.diverged)] === 0 ? { kind: 'finished' } : endingOf(form, memory, equation.x, made * every * step),
    }
  }
  return { form, columns, run }
}

function endingOf(form: MechanismForm, memory: Float64Array, x: readonly NumberNode[], at: number): Ending {
  const states = form.states.map(({ name }, i) => ({ state: name, value: memory[slotOf(x[i]!)]! }))
  const worst =
    states.find(({ value }) => Number.isNaN(value)) ?? states.reduce((a, b) => (Math.abs(b.value) > Math.abs(a.value) ? b : a))
  return { kind: 'diverged', at, ...worst }
}

function shownColumns(
  form: MechanismForm,
  motion: MechanismMotion,
  x: readonly NumberNode[],
): (Column & { readonly value: Scalar })[] {
  const actual = (name: string, label: string, unit: string, value: Scalar) => ({
    name,
    label,
    unit,
    role: 'actual' as const,
    value,
  })
  const count = form.states.length
  return [
    ...form.states.map(({ name, unit }, i) => actual(name, name, unit, x[i]!)),
    ...motion.signals.map(({ name, label, unit, value }) => actual(name, label, unit, value)),
    actual('energy.kinetic', 'kinetic energy', 'J', motion.energy.kinetic),
    actual('energy.potential', 'potential energy', 'J', motion.energy.potential),
    actual('energy.stored', 'energy in springs', 'J', motion.energy.stored),
    actual('energy.supplied', 'energy put in', 'J', x[count]!),
    actual('energy.lost', 'energy lost', 'J', x[count + 1]!),
    actual(
      'chains.gap',
      'largest gap of the chains',
      'm',
      motion.chainRows.map(({ gap }) => gap).reduce<Scalar>((most, gap) => max(most, abs(gap)), 0),
    ),
  ]
}
