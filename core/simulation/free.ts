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
  repeatWhile,
  set,
  sub,
  sum,
  when,
  and,
} from '../expression'
import type { NumberNode, Procedure, Scalar } from '../expression'
import type { Part } from '../document'
import { bodilessForm, bodilessMotion, isBodiless, mechanismForm, mechanismMotion, machineNumbers } from '../machine'
import type { MechanismLayers, Read, StateInfo } from '../machine'
import { equationSlots } from './integrate'
import type { Equation } from './integrate'
import { freeSteps, setFineness } from './integration'
import { Layout, slotOf } from './layout'
import type { Column, Ending, Record as RunRecord } from './record'
import { printed } from './printed'

/** A state this large (in its SI unit) has left every machine's world. */
const divergenceLimit = 1e7

export interface FreeProgram {
  readonly states: readonly StateInfo[]
  readonly columns: readonly Column[]
  /** Runs from given states with constant inputs; several value sets one after the other, nothing compiled again. */
  run(request: FreeRun): FreeRecord
  /** For whoever changes inputs on the way, at most every `step` s: goes on from where it is. No record. */
  begin(start: readonly number[], step: number): FreeSteps
}

export interface FreeSteps {
  /** Some steps with constant inputs; the states after them, or nothing where it diverged. */
  advance(inputs: readonly number[], steps: number): Float64Array | undefined
}

export interface FreeRun {
  /** Positions, speeds and the effects' own states; where they are at rest unless given. */
  readonly start?: readonly number[]
  /** Nominal values unless given. */
  readonly inputs?: readonly number[]
  readonly until: number
  /** s, the longest step; of a sampled machine that between its samples */
  readonly step: number
  /** Longest steps between rows of the record. */
  readonly every: number
  /** Numbers of the machine by path, instead of the document's. */
  readonly values?: Readonly<{ [path: string]: number }>
}

export type FreeRecord = Pick<RunRecord, 'time' | 'columns' | 'ending'>

/** What runs: a mechanism, or a machine without bodies. */
interface Plant {
  readonly states: readonly StateInfo[]
  /** Nominal values of the inputs. */
  readonly inputs: readonly number[]
  /** s between states of a sampled machine; its rates are then its next states. */
  readonly sampleTime: number | undefined
  readonly at: (states: readonly Scalar[], inputs: readonly Scalar[], time: Scalar) => PlantMotion
}

interface PlantMotion {
  readonly rates: readonly Scalar[]
  readonly supplied: Scalar
  readonly dissipated: Scalar
  /** What is recorded besides the states, from energy put in and lost so far and the rates as they are in memory. */
  readonly shown: (known: {
    readonly supplied: Scalar
    readonly lost: Scalar
    readonly rates: readonly Scalar[]
  }) => readonly ShownColumn[]
}

type ShownColumn = Column & { readonly value: Scalar }

/**
 * A machine alone, without loops: its equations in a module with steps that measure their error, or sample by sample.
 * `fastest`, rad/s, is that of its modes where it is known: steps are implicit where it is stiff. Columns:
 * states, then for a mechanism signals of effects, the three energies, what drives put in and what was lost for good, and
 * the largest gap of the chains; without bodies the outputs.
 */
export function freeProgram(machine: Part, layers: MechanismLayers, keptRows: readonly number[], fastest = 0): FreeProgram {
  const laid = laidOut(machine, layers, keptRows, fastest)
  const procedures = proceduresOf(laid) // takes slots of its own
  const module = printed({ slots: laid.layout.slots, procedures })
  const loaded = { module, program: loadModule(module) }
  const columns = laid.shown.map(({ value: _value, ...column }) => column)
  return {
    states: laid.plant.states,
    columns,
    run: (request) => recorded(laid, columns, loaded, request),
    begin: (start, step) => begun(laid, loaded, start, step),
  }
}

/** What a program is made of, and where its numbers lie. */
interface Laid {
  readonly graph: Graph
  readonly layout: Layout
  readonly numbers: ReadonlyMap<string, { readonly node: NumberNode; readonly value: number }>
  readonly plant: Plant
  readonly inputs: readonly NumberNode[]
  readonly control: Readonly<Record<(typeof controls)[number], NumberNode>>
  readonly equation: Equation
  /** Rates of the states, then those of energy put in and energy lost. */
  readonly slopes: readonly Scalar[]
  readonly shown: readonly ShownColumn[]
  /** One row of the record. */
  readonly row: readonly NumberNode[]
  /** How it steps through time; nothing where it goes from sample to sample. */
  readonly moves: ReturnType<typeof freeSteps> | undefined
}

/** Numbers by which a run is steered: s between steps, steps left and until the next row, where that lies, whether it diverged. */
const controls = ['step', 'left', 'tillRow', 'every', 'row', 'diverged'] as const

function laidOut(machine: Part, layers: MechanismLayers, keptRows: readonly number[], fastest: number): Laid {
  const graph = new Graph()
  const layout = new Layout(graph)
  const numbers = new Map(machineNumbers(machine).map(({ path, value }) => [path, { node: layout.one(), value }]))
  const read = (path: string): Scalar => numbers.get(path)!.node
  const plant = isBodiless(machine) ? bodilessPlant(machine, read, layers) : mechanismPlant(machine, read, layers, keptRows)
  const count = plant.states.length
  const inputs = layout.many(plant.inputs.length)
  const control = Object.fromEntries(controls.map((name) => [name, layout.one()])) as Laid['control']
  // behind the states: energy put in by drives, and energy lost for good
  const equation = equationSlots(layout, count + 2)
  const derivative = plant.at(equation.stage.slice(0, count), inputs, equation.stageTime)
  const slopes = [...derivative.rates, derivative.supplied, derivative.dissipated]
  const [supplied, lost] = equation.x.slice(count) as [NumberNode, NumberNode]
  const shown = [
    ...plant.states.map(({ name, unit }, i) => actual(name, name, unit, equation.x[i]!)),
    ...plant.at(equation.x.slice(0, count), inputs, equation.t).shown({ supplied, lost, rates: equation.slope.slice(0, count) }),
  ]
  const row = layout.many(shown.length)
  const moves =
    plant.sampleTime === undefined ? freeSteps(layout, equation, fastest, control.step, slopes, control.diverged) : undefined
  return { graph, layout, numbers, plant, inputs, control, equation, slopes, shown, row, moves }
}

function proceduresOf(laid: Laid): Procedure[] {
  const { graph, layout, numbers, plant, control, equation, slopes, shown, row, moves } = laid
  const constants = new Set([...numbers.values()].map(({ node }) => slotOf(node)))
  const { first, expressions } = hoistInvariants(
    graph,
    [...slopes, ...shown.map(({ value }) => value), ...(moves?.slopes ?? []).map(({ value }) => value)],
    (slot) => constants.has(slot),
    () => layout.reserve(1),
  )
  const write = (targets: readonly NumberNode[], values: readonly Scalar[]) =>
    assign(targets.map((target, i) => ({ slot: slotOf(target), value: values[i]! })))
  const jacobianAt = slopes.length + shown.length
  const publish: Procedure = {
    name: 'publish',
    // sensors see accelerations: those of the row's own moment
    body: [
      write([...equation.stage, equation.stageTime], [...equation.x, equation.t]),
      call('derivative'),
      write(row, expressions.slice(slopes.length, jacobianAt)),
    ],
  }
  const jacobian = (of: NonNullable<Laid['moves']>): Procedure => ({
    name: 'jacobian',
    body: [assign(of.slopes.map(({ slot }, i) => ({ slot, value: expressions[jacobianAt + i]! })))],
  })
  return [
    { name: 'prepare', body: [assign(first)] },
    { name: 'derivative', body: [write(equation.slope, expressions.slice(0, slopes.length))] },
    publish,
    ...(moves === undefined ? [nextSample(equation, plant.states.length, control.step)] : [jacobian(moves), ...moves.procedures]),
    stepThrough(laid),
  ]
}

/** `run`: as many steps as are left, with rows of the record on the way, until it diverges. */
function stepThrough({ plant, control, equation, shown, row, moves }: Laid): Procedure {
  const size = sum(equation.x.slice(0, plant.states.length).map((x) => abs(x)))
  return {
    name: 'run',
    body: [
      repeatWhile(and(less(0, control.left), less(control.diverged, 1)), [
        when(less(control.tillRow, 1), [
          call('publish'),
          copy(slotOf(row[0]!), shown.length, control.row),
          set(slotOf(control.row), add(control.row, shown.length)),
          set(slotOf(control.tillRow), control.every),
        ]),
        when(atMost(size, divergenceLimit), [...(moves?.toNext ?? [call('sample')])], [set(slotOf(control.diverged), 1)]),
        set(slotOf(control.left), sub(control.left, 1)),
        set(slotOf(control.tillRow), sub(control.tillRow, 1)),
      ]),
    ],
  }
}

interface Loaded {
  readonly module: ReturnType<typeof printed>
  readonly program: ReturnType<typeof loadModule>
}

/** Memory with the numbers, the states at the start and what steers the run, ready to go; `rows` of a record find room. */
function prepared(
  { numbers, plant, equation, shown, control, moves }: Laid,
  { module, program }: Loaded,
  { start, step, values }: Pick<FreeRun, 'start' | 'step' | 'values'>,
  rows: number,
): Float64Array {
  program.reserve(module.slots + rows * shown.length)
  const memory = program.memory()
  for (const [path, { node, value }] of numbers) memory[slotOf(node)] = values?.[path] ?? value
  equation.x.forEach((node, i) => (memory[slotOf(node)] = start?.[i] ?? plant.states[i]?.atRest ?? 0))
  memory[slotOf(equation.t)] = 0
  memory[slotOf(control.step)] = step
  memory[slotOf(control.diverged)] = 0
  if (moves !== undefined) setFineness(memory, moves.slots, 'asked', step)
  program.call('prepare')
  return memory
}

function begun(laid: Laid, loaded: Loaded, start: readonly number[], step: number): FreeSteps {
  const { plant, inputs, control, equation } = laid
  const memory = prepared(laid, loaded, { start, step }, 1)
  const first = slotOf(equation.x[0]!)
  return {
    advance: (given, steps) => {
      inputs.forEach((node, i) => (memory[slotOf(node)] = given[i]!))
      memory[slotOf(control.left)] = steps
      memory[slotOf(control.tillRow)] = steps + 1 // no row is wanted
      loaded.program.call('run')
      return memory[slotOf(control.diverged)] === 0 ? memory.subarray(first, first + plant.states.length) : undefined
    },
  }
}

function recorded(laid: Laid, columns: readonly Column[], loaded: Loaded, request: FreeRun): FreeRecord {
  const { plant, inputs, control, equation, shown } = laid
  const { inputs: given, until, step, every } = request
  const steps = Math.round(until / step) + 1
  const memory = prepared(laid, loaded, request, Math.ceil(steps / every))
  inputs.forEach((node, i) => (memory[slotOf(node)] = given?.[i] ?? plant.inputs[i]!))
  const { slots } = loaded.module
  for (const [name, value] of Object.entries({ left: steps, tillRow: 0, every, row: slots }))
    memory[slotOf(control[name as keyof typeof control])] = value
  loaded.program.call('run')
  const made = (memory[slotOf(control.row)]! - slots) / shown.length
  return {
    time: Float64Array.from({ length: made }, (_, k) => k * every * step),
    columns: columns.map((column, c) => ({
      ...column,
      values: Float64Array.from({ length: made }, (_, k) => memory[slots + k * shown.length + c]!),
    })),
    ending:
      memory[slotOf(control.diverged)] === 0
        ? { kind: 'finished' }
        : endingOf(plant.states, memory, equation.x, made * every * step),
  }
}

function endingOf(named: readonly StateInfo[], memory: Float64Array, x: readonly NumberNode[], at: number): Ending {
  const states = named.map(({ name }, i) => ({ state: name, value: memory[slotOf(x[i]!)]! }))
  const worst =
    states.find(({ value }) => Number.isNaN(value)) ?? states.reduce((a, b) => (Math.abs(b.value) > Math.abs(a.value) ? b : a))
  return { kind: 'diverged', at, ...worst }
}

/** `sample`: the next states of a sampled machine take the place of the present ones. */
function nextSample({ x, t, stage, stageTime, slope }: Equation, count: number, step: Scalar): Procedure {
  const each = (targets: readonly NumberNode[], values: readonly Scalar[]) =>
    targets.map((target, i) => ({ slot: slotOf(target), value: values[i]! }))
  return {
    name: 'sample',
    body: [
      assign([...each(stage, x), { slot: slotOf(stageTime), value: t }]),
      call('derivative'),
      assign([...each(x.slice(0, count), slope), { slot: slotOf(t), value: add(t, step) }]),
    ],
  }
}

function mechanismPlant(machine: Part, read: Read, layers: MechanismLayers, keptRows: readonly number[]): Plant {
  const form = mechanismForm(machine, read)
  return {
    states: form.states,
    inputs: form.inputs.map(() => 0),
    sampleTime: undefined,
    at: (states, inputs, time) => {
      const motion = mechanismMotion(machine, read, layers, form, states, inputs, keptRows, time)
      return {
        rates: motion.rates,
        supplied: motion.power.supplied,
        dissipated: motion.power.dissipated,
        shown: ({ supplied, lost, rates }) => [
          ...motion
            .signalsAt(rates.slice(form.assembly.positions.length, form.assembly.positions.length + form.assembly.speeds.length))
            .map(({ name, label, unit, value }) => actual(name, label, unit, value)),
          actual('energy.kinetic', 'kinetic energy', 'J', motion.energy.kinetic),
          actual('energy.potential', 'potential energy', 'J', motion.energy.potential),
          actual('energy.stored', 'energy in springs', 'J', motion.energy.stored),
          actual('energy.supplied', 'energy put in', 'J', supplied),
          actual('energy.lost', 'energy lost', 'J', lost),
          actual(
            'chains.gap',
            'largest gap of the chains',
            'm',
            motion.chainRows.map(({ gap }) => gap).reduce<Scalar>((most, gap) => max(most, abs(gap)), 0),
          ),
        ],
      }
    },
  }
}

function bodilessPlant(machine: Part, read: Read, layers: MechanismLayers): Plant {
  const form = bodilessForm(machine)
  return {
    states: form.states,
    inputs: form.inputs.map(({ nominal }) => nominal),
    sampleTime: form.sampleTime,
    at: (states, inputs, time) => {
      const { rates, outputs } = bodilessMotion(machine, read, layers, states, inputs, time)
      const shown = form.outputs.map(({ name, unit }, i) => actual(name, name, unit, outputs[i]!))
      return { rates, supplied: 0, dissipated: 0, shown: () => shown }
    },
  }
}

function actual(name: string, label: string, unit: string, value: Scalar): ShownColumn {
  return { name, label, unit, role: 'actual', value }
}
