import { loadModule, tangentOf } from '../expression'
import type { Program } from './compile'
import { slotOf as placeOf } from './layout'
import { printed } from './printed'
import { columnsOver } from './record'
import type { FilledColumn, Record } from './record'
import { runOnce, slotsOfRecord } from './run'
import type { RunChoices } from './run'

/** How much each parameter of a program moves, by its path. */
export type Direction = ReadonlyMap<string, number>

export interface SensitiveRun {
  readonly record: Record
  /** Columns of the record, each by how much it changes along each direction, per unit of the direction. */
  readonly slopes: readonly (readonly FilledColumn[])[]
}

/** A program that tells of its record how that changes with numbers it starts from. */
export interface Sensitive {
  run(choices: RunChoices, directions: readonly Direction[]): SensitiveRun
}

/**
 * The exact slopes of a whole run, its loops, limits and noise with it, along directions of parameters: the program itself is
 * differentiated, operation by operation (Griewank & Walther, Evaluating Derivatives, 2nd ed., chapter 3: tangents). Where a
 * number moves the instant of a switch, it has the slope of the run as it switched. One run for each direction.
 */
export function startSensitive(program: Program, paths: ReadonlySet<string>): Sensitive {
  const slotOf = new Map(program.parameters.flatMap(({ path, slot }) => (paths.has(path) ? [[path, slot] as const] : [])))
  const { controlled } = program.slots.steps
  // how long its steps are changes a run by the error of a step, and depends on numbers in jumps
  const still = new Set(controlled === undefined ? [] : [placeOf(controlled.next)])
  const { code, slopes, distance } = tangentOf(program.code, [...slotOf.values()], still)
  const made = { ...program, code, module: printed(code) }
  const loaded = loadModule(made.module)
  const most = slotsOfRecord(made)
  loaded.reserve(made.module.slots + 2 * most)
  const first = made.module.slots + most
  return {
    run: (choices, directions) => {
      const along = (direction: Direction): [Record, FilledColumn[]] => {
        const memory = loaded.memory()
        memory.fill(0, slopes, distance)
        memory[distance] = most
        for (const [path, size] of direction) memory[slopes + slotOf.get(path)!] = size
        const record = runOnce(made, loaded, choices)
        const rows = memory.slice(first, first + record.time.length * made.columns.length)
        return [record, columnsOver(made.columns, rows)]
      }
      const runs = directions.map(along)
      return { record: runs[0]?.[0] ?? runOnce(made, loaded, choices), slopes: runs.map(([, columns]) => columns) }
    },
  }
}
