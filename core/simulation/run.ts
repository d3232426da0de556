import { evaluation, loadModule } from '../expression'
import type { LoadedModule, Scalar } from '../expression'
import { contentHash } from '../document'
import type { Program } from './compile'
import { setFineness } from './integration'
import type { Fineness } from './integration'
import { columnsOver } from './record'
import type { CueCame, Ending, Record } from './record'

/** Ticks in one call of the module: long runs are split, so that they can be watched and stopped. */
const ticksPerCall = 2000

export interface RunChoices {
  /** Values of parameters by path, instead of the document's. Nothing is compiled again. */
  readonly values?: Readonly<{ [path: string]: number }>
  readonly trial: string
  readonly layers: readonly string[]
  readonly seed: number
  readonly fineness?: Fineness
  /** Asked between calls; false stops the run and keeps what there is. */
  readonly goOn?: (share: number) => boolean
}

/** A started program: can run many value sets without compiling again. */
export interface Simulation {
  run(choices: RunChoices): Record
}

export function start(program: Program): Simulation {
  const loaded = loadModule(program.module)
  const width = program.columns.length
  const rows = Math.floor((program.ticks - 1) / program.recordEvery) + 1
  loaded.reserve(program.module.slots + rows * width)
  return { run: (choices) => runOnce(program, loaded, choices, width) }
}

function runOnce(program: Program, loaded: LoadedModule, choices: RunChoices, width: number): Record {
  const { slots } = program
  const memory = loaded.memory()
  const first = program.module.slots
  for (const { path, slot, value } of program.parameters) memory[slot] = choices.values?.[path] ?? value
  memory[slots.tick] = 0
  memory[slots.diverged] = 0
  memory[slots.rowPointer] = first
  setFineness(memory, slots.steps, choices.fineness ?? 'asked', program.tick)
  loaded.call('prepare')
  let stopped = false
  while (memory[slots.tick]! < program.ticks && memory[slots.diverged] === 0 && !stopped) {
    memory[slots.stopTick] = Math.min(memory[slots.tick]! + ticksPerCall, program.ticks)
    loaded.call('run')
    stopped = choices.goOn?.(memory[slots.tick]! / program.ticks) === false && memory[slots.tick]! < program.ticks
  }
  const rows = memory.slice(first, memory[slots.rowPointer])
  // a run that tells of steps alone is looked at for its motion
  if (choices.fineness !== 'other') workOut(program, rows, width)
  const time = new Float64Array(rows.length / width)
  for (let k = 0; k < time.length; k++) time[k] = k * program.recordEvery * program.tick
  return {
    hash: hashOf(program, choices.values),
    trial: choices.trial,
    seed: choices.seed,
    layers: choices.layers,
    time,
    columns: columnsOver(program.columns, rows),
    rows,
    ending: ending(program, memory, stopped),
    ...(program.cues.length === 0 ? {} : { cues: cuesCome(program, memory, time.at(-1) ?? 0) }),
  }
}

/** Fills the column that is worked out from others, as often as it is fresh. */
function workOut({ afterwards }: Program, rows: Float64Array, width: number): void {
  if (afterwards === undefined) return
  const { column, every, places, at } = afterwards
  for (let first = 0, row = 0; first < rows.length; first += width, row++)
    rows[first + column] = row % every === 0 ? at(places.map((place) => rows[first + place]!)) : rows[first - width + column]!
}

/** When the cues came, by what a run has left in memory. */
function cuesCome({ cues }: Program, memory: Float64Array, end: number): readonly CueCame[] {
  const values = evaluation(memory)
  const come = (at: Scalar, name: 'began' | 'over') => {
    const time = values.number(at) as number
    return time <= end ? { [name]: time } : {}
  }
  return cues.map(({ name, begins, over }) => ({ cue: name, ...come(begins, 'began'), ...come(over, 'over') }))
}

/** A run with other values is another run. */
function hashOf(program: Program, values: RunChoices['values']): string {
  return values === undefined || Object.keys(values).length === 0 ? program.hash : contentHash([program.hash, values])
}

function ending(program: Program, memory: Float64Array, stopped: boolean): Ending {
  const { slots } = program
  if (memory[slots.diverged] === 0) return stopped ? { kind: 'stopped' } : { kind: 'finished' }
  const states = program.stateNames.map((state, i) => ({ state, value: memory[slots.states + i]! }))
  const worst =
    states.find(({ value }) => Number.isNaN(value)) ?? states.reduce((a, b) => (Math.abs(b.value) > Math.abs(a.value) ? b : a))
  return { kind: 'diverged', at: memory[slots.tick]! * program.tick, ...worst }
}
