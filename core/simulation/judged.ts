import type { Document } from '../document'
import { loopsTogether } from '../tuning'
import type { AnyLayer } from '../machine'
import type { Program } from './compile'
import { fastestMode } from './fastest'
import { limitsHit } from './limitsHit'
import type { Accuracy, Ending, FilledColumn, Record } from './record'
import { isClearance } from './signals'
import { endedByChecks } from './verdicts'
import type { RunChoices, Simulation } from './run'

/** Radians a step beyond which a mode that fades grows instead: the edge of the classic Runge-Kutta method on the real axis. */
const stableRadians = 2.78

/** The true motion and what moves it: what is measured and estimated adds nothing to an error of steps. */
const judgedRoles: readonly string[] = ['actual', 'command']

/** A signal that moves less than this share of the widest in its unit counts as that wide: it may be rounding alone. */
const narrowest = 1e-3
/** A signal that moves less than this share of how large it is stands still: what it moves by is rounding. */
const stands = 1e-9

/**
 * Runs a program as it asks, and once more with other steps: the record says how far the two differ, and where it diverged,
 * why; and what limited it. The share that goes on is that of both runs.
 */
export function judgedRun(document: Document, program: Program, simulation: Simulation, choices: RunChoices): Record {
  const record = endedByChecks(document, repeated(document, program, simulation, choices))
  return { ...record, limits: limitsHit(document, record) }
}

function repeated(document: Document, program: Program, simulation: Simulation, choices: RunChoices): Record {
  const half = (from: number) => (share: number) => choices.goOn?.(from + share / 2) ?? true
  const record = simulation.run({ ...choices, goOn: half(0) })
  if (program.method === 'sampled' || record.ending.kind === 'stopped') return record
  const other = simulation.run({ ...choices, fineness: 'other', goOn: half(0.5) })
  if (other.ending.kind === 'stopped') return record
  if (record.ending.kind === 'diverged')
    return { ...record, ending: { ...record.ending, why: record.ending.why ?? whyDiverged(document, program, record, other) } }
  const found = accuracyOf(record, other)
  // ticks may keep both from longer steps: what they agree on is known no better than either was controlled to
  const least = program.slots.steps.controlled?.asked.relative ?? 0
  return { ...record, accuracy: { ...found, share: Math.max(found.share, least) } }
}

/** How far a run differs from the same with other steps, as a share of what each signal moves through; the worst of all. */
export function accuracyOf(record: Pick<Record, 'columns'>, other: Pick<Record, 'columns' | 'ending'>): Accuracy {
  const judged = record.columns.filter(
    // what goes round leaps, and is anything where its machine stands: what it is worked out from is judged
    ({ name, role, angle }) => judgedRoles.includes(role) && angle !== 'goesRound' && !isClearance(name),
  )
  const widest = new Map<string, number>()
  for (const column of judged) widest.set(column.unit, Math.max(widest.get(column.unit) ?? 0, spanOf(column.values)))
  const found = judged.map(({ name, label, unit, values }) => {
    const width = Math.max(spanOf(values), narrowest * widest.get(unit)!, stands * sizeOf(values), Number.MIN_VALUE)
    return {
      column: name,
      label,
      share:
        Math.min(
          largestDifference(
            values,
            other.columns.find((one) => one.name === name),
          ),
          width,
        ) / width,
    }
  })
  const worst = found.reduce((a, b) => (b.share > a.share ? b : a), { column: '', label: '', share: 0 })
  return other.ending.kind === 'diverged' ? { ...worst, share: 1 } : worst
}

function spanOf(values: Float64Array): number {
  let [least, most] = [Infinity, -Infinity]
  for (const value of values) {
    least = Math.min(least, value)
    most = Math.max(most, value)
  }
  return most - least
}

function sizeOf(values: Float64Array): number {
  return values.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
}

function largestDifference(values: Float64Array, other: FilledColumn | undefined): number {
  const rows = Math.min(values.length, other?.values.length ?? 0)
  let most = 0
  for (let k = 0; k < rows; k++) most = Math.max(most, Math.abs(values[k]! - other!.values[k]!))
  return most
}

/** The cause of a run that left all bounds, in words, with what to do: steps, loops, or neither. */
function whyDiverged(document: Document, program: Program, record: Record, other: Record): string {
  const machine = document.trials[record.trial]!.machine
  const step = program.method === 'fixed' ? program.tick / program.slots.steps.fixed!.asked : undefined
  const mode = fastestMode(document, record.trial, new Set(record.layers as AnyLayer[]))
  if (step !== undefined && mode !== undefined && mode.rate * step > stableRadians)
    return (
      `Its steps of ${inSeconds(step)} are too long for the mode of ${mode.state} at ${mode.rate.toPrecision(3)} rad/s, which needs ` +
      `at most ${inSeconds(stableRadians / mode.rate)}: the machine itself may be sound. Let its steps be chosen.`
    )
  if (step !== undefined && differs(record.ending, other.ending))
    return `With steps of half the length it goes otherwise: ${inSeconds(step)} is too long for it. Let its steps be chosen.`
  const together = loopsTogether(document, machine)
  if (together.kind === 'done' && together.value.stable === false)
    return (
      'Its steps are short enough; its loops are unstable together in theory too. See their margins under Loops, all loops together: ' +
      'gains, signs, and those inside them.'
    )
  return (
    'Its steps are short enough, and its loops are stable about the operating point in theory: what the design leaves out carries it ' +
    'away, such as a limit that is reached, or a motion far from that point. Switch layers off one by one, or ask for less.'
  )
}

/** Whether another run ended otherwise than one that diverged: not at all, or at least a tenth earlier or later. */
function differs(ending: Ending, other: Ending): boolean {
  if (ending.kind !== 'diverged') return false
  return other.kind !== 'diverged' || Math.abs(other.at - ending.at) > 0.1 * ending.at
}

function inSeconds(seconds: number): string {
  return seconds < 1e-3 ? `${(1e6 * seconds).toPrecision(3)} µs` : `${(1e3 * seconds).toPrecision(3)} ms`
}
