import { evaluation, loadModule } from '../expression'
import type { LoadedModule, Scalar } from '../expression'
import { contentHash } from '../document'
import type { Afterwards } from './afterwards'
import type { Program } from './compile'
import type { Touch } from './handled'
import { endlessly } from './controlled'
import { setFineness } from './integration'
import type { Fineness } from './integration'
import { columnsOver } from './record'
import type { CueCame, Ending, FilledColumn, Record } from './record'

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
  /** Begins a run that is taken on from outside, with hands as they are touched; one at a time. */
  begin(choices: RunChoices): Going
}

/** A run under way. */
export interface Going {
  /** Ticks that it has gone, and may go. */
  readonly tick: number
  readonly ticks: number
  /** Whether it is at its end, or diverged. */
  readonly isOver: boolean
  touch(touched: Omit<Touch, 'tick'>): void
  /** Goes on to a tick. */
  advance(tick: number): void
  /** Its rows since the last that were taken, one after the other. */
  taken(): Float64Array
  /** When its cues came up to now. */
  cues(): readonly CueCame[]
  /** What it leaves if it ends here. */
  record(): Record
}

export function start(program: Program): Simulation {
  const loaded = loadModule(program.module)
  loaded.reserve(program.module.slots + slotsOfRecord(program))
  return {
    run: (choices) => runOnce(program, loaded, choices),
    begin: (choices) => begun(program, loaded, choices),
  }
}

/** What the rows of a whole run take. */
export function slotsOfRecord({ ticks, recordEvery, columns }: Program): number {
  return (Math.floor((ticks - 1) / recordEvery) + 1) * columns.length
}

export function runOnce(program: Program, loaded: LoadedModule, choices: RunChoices): Record {
  const going = begun(program, loaded, choices)
  let stopped = false
  const goTo = (end: number) => {
    while (going.tick < end && !going.isOver && !stopped) {
      going.advance(Math.min(going.tick + ticksPerCall, end))
      stopped = choices.goOn?.(going.tick / program.ticks) === false && going.tick < program.ticks
    }
  }
  for (const touch of program.touches) {
    goTo(Math.min(touch.tick, program.ticks))
    going.touch(touch)
  }
  goTo(program.ticks)
  return going.record()
}

function begun(program: Program, loaded: LoadedModule, choices: RunChoices): Going {
  const { slots, ticks } = program
  const width = program.columns.length
  const memory = loaded.memory()
  const first = program.module.slots
  for (const { path, slot, value } of program.parameters) memory[slot] = choices.values?.[path] ?? value
  memory[slots.tick] = 0
  memory[slots.diverged] = 0
  memory[slots.rowPointer] = first
  setFineness(memory, slots.steps, choices.fineness ?? 'asked', program.tick)
  loaded.call('prepare')
  let read = first
  const isOver = () => memory[slots.tick]! >= ticks || memory[slots.diverged] !== 0
  return {
    ticks,
    get tick() {
      return memory[slots.tick]!
    },
    get isOver() {
      return isOver()
    },
    touch: ({ hand, axis, to, over }) => {
      const channel = program.hands.find((one) => one.hand === hand && one.axis === axis)
      for (const { slot, size } of channel?.places ?? []) memory[slot] = size * to
      if (channel?.over !== undefined) memory[channel.over] = over
    },
    advance: (tick) => {
      memory[slots.stopTick] = Math.min(tick, ticks)
      loaded.call('run')
    },
    taken: () => {
      const made = memory.subarray(first, memory[slots.rowPointer])
      workOut(program.afterwards, made, width, (read - first) / width)
      const rows = memory.slice(read, memory[slots.rowPointer])
      read = memory[slots.rowPointer]!
      return rows
    },
    cues: () => cuesCome(program, memory, memory[slots.tick]! * program.tick),
    record: () => {
      read = memory[slots.rowPointer]!
      return recordOf(program, memory, memory.slice(first, read), width, choices, !isOver())
    },
  }
}

function recordOf(
  program: Program,
  memory: Float64Array,
  rows: Float64Array,
  width: number,
  choices: RunChoices,
  stopped: boolean,
): Record {
  const time = new Float64Array(rows.length / width)
  for (let k = 0; k < time.length; k++) time[k] = k * program.recordEvery * program.tick
  const { columns, filled } = laidOut(program, rows, width)
  return {
    hash: hashOf(program, choices.values),
    trial: choices.trial,
    seed: choices.seed,
    layers: choices.layers,
    time,
    columns,
    get rows() {
      return filled()
    },
    ending: ending(program, memory, stopped),
    ...(program.cues.length === 0 ? {} : { cues: cuesCome(program, memory, time.at(-1) ?? 0) }),
  }
}

/** What a run left row after row, and its columns: what is worked out from others is so once somebody reads it. */
function laidOut({ columns, afterwards }: Program, rows: Float64Array, width: number) {
  const plain = columnsOver(columns, rows)
  if (afterwards === undefined) return { columns: plain, filled: () => rows }
  let isDone = false
  const filled = () => {
    if (!isDone) workOut(afterwards, rows, width)
    isDone = true
    return rows
  }
  const later: FilledColumn = {
    ...columns[afterwards.column]!,
    get values() {
      filled()
      return plain[afterwards.column]!.values
    },
    least: (from, below) => (isDone ? later.values : afterwards.values(rows, width, 0, { from, below })),
  }
  return { columns: plain.map((column, c) => (c === afterwards.column ? later : column)), filled }
}

/** Fills the column that is worked out from others, as often as it is fresh, from a row on. */
function workOut(afterwards: Afterwards | undefined, rows: Float64Array, width: number, from = 0): void {
  if (afterwards === undefined) return
  const values = afterwards.values(rows, width, from)
  for (let row = from, at = from * width; at < rows.length; row++, at += width) rows[at + afterwards.column] = values[row - from]!
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

/** Why a run ends whose steps have no end. */
const whyStuck =
  'Its steps have no end, however short: something jumps to and fro there, such as a contact that rests in a corner of the ground. Round that corner, or let it give way more softly.'

function ending(program: Program, memory: Float64Array, stopped: boolean): Ending {
  const { slots } = program
  if (memory[slots.diverged] === 0) return stopped ? { kind: 'stopped' } : { kind: 'finished' }
  const states = program.stateNames.map((state, i) => ({ state, value: memory[slots.states + i]! }))
  const worst =
    states.find(({ value }) => Number.isNaN(value)) ?? states.reduce((a, b) => (Math.abs(b.value) > Math.abs(a.value) ? b : a))
  const isStuck = memory[slots.diverged] === endlessly
  return { kind: 'diverged', at: memory[slots.tick]! * program.tick, ...worst, ...(isStuck ? { why: whyStuck } : {}) }
}
