import { findColumn, referenceOf } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { roleOfLetter } from '../../../chart'
import type { Series, SeriesRole } from '../../../chart'
import { motionUnit, toShown } from '../../../units'
import { cueTimes } from '../useTrialView'
import type { HeldView, TrialView, WatchedSignal } from '../useTrialView'

/** px: all strips share one clock, so their plots stand one above the other. */
export const stripMargin = { left: 52, right: 14 } as const

/** A line in the unit that people see. */
export function lineOf(
  name: string,
  role: SeriesRole,
  xs: ArrayLike<number>,
  values: Float64Array | readonly number[],
  unit: string,
): Series {
  return { name, role, xs, ys: Float64Array.from(values, (value) => toShown(value, unit)) }
}

/** The lines of the watches on one loop. */
export interface LoopLines {
  readonly held: readonly Series[]
  readonly rate: readonly Series[]
  readonly command: readonly Series[]
  /** By how much readings of what it holds surprised their estimators. */
  readonly innovation: readonly Series[]
}

interface Units {
  readonly held: string
  readonly rate: string
  readonly push: string
}

export function loopUnits({ quantity, push }: HeldView): Units {
  const held = motionUnit(quantity.unit)
  return { held, rate: held.startsWith('°/s') ? '°/s²' : motionUnit(`${held}/s`), push: motionUnit(push.unit) }
}

/** `end`: s, where the trial ends. */
export function loopLines(view: TrialView, held: HeldView, end: number): LoopLines {
  const { record, machineName: machine } = view
  const { prediction, loop, quantity } = held
  const units = loopUnits(held)
  const [name, rate, command] = [`${machine}.${quantity.name}`, `${machine}.${quantity.rate}`, `loops.${loop}.command`]
  const own = (column: string, words: string, role: SeriesRole, unit: string) => columnLine(record, column, words, role, unit)
  const pinned = (column: string, unit: string) =>
    view.pinned.flatMap(({ letter, record: run }) => columnLine(run, column, letter, roleOfLetter(letter), unit))
  const predicted = (values: Float64Array | undefined, unit: string): Series[] =>
    prediction === undefined || values === undefined ? [] : [lineOf('prediction', 'prediction', prediction.t, values, unit)]
  return {
    held: [
      ...own(`${name}.measured`, 'measured', 'measured', units.held),
      ...pinned(name, units.held),
      ...own(`${name}.estimate`, 'estimate', 'estimate', units.held),
      ...(held.isCommanded || view.isLive
        ? own(`loops.${loop}.reference`, 'reference', 'reference', units.held)
        : [referenceLine(view, loop, end, units.held)]),
      ...own(name, 'actual', 'actual', units.held),
      ...predicted(prediction?.held, units.held),
    ],
    rate: [
      ...pinned(rate, units.rate),
      ...own(`${rate}.estimate`, 'estimate', 'estimate', units.rate),
      ...own(rate, 'actual', 'actual', units.rate),
      ...predicted(prediction?.rate, units.rate),
    ],
    command: [
      ...pinned(command, units.push),
      ...own(command, 'command', 'command', units.push),
      ...predicted(prediction?.push, units.push),
    ],
    innovation: innovationsOf(record, quantity.name).flatMap(({ column, estimator }) =>
      own(column, estimator, 'measured', units.held),
    ),
  }
}

const referencePoints = 300
/** s: a step is drawn upright. */
const justBefore = 1e-6

/** What the cues of a trial ask of a loop. */
function referenceLine({ clocked, trial }: TrialView, loop: string, end: number, unit: string): Series {
  const reference = referenceOf(clocked, trial, loop)
  const even = Array.from({ length: referencePoints + 1 }, (_, i) => (end * i) / referencePoints) // a ramp is no step
  const steps = cueTimes(clocked, trial).flatMap((t) => [t - justBefore, t])
  const times = [...even, ...steps].sort((a, b) => a - b)
  return lineOf('reference', 'reference', times, times.map(reference), unit)
}

function columnLine(
  record: RunRecord | undefined,
  column: string,
  name: string,
  role: SeriesRole,
  unit: string,
): readonly Series[] {
  const values = record === undefined ? undefined : findColumn(record, column)
  if (record === undefined || values === undefined) return []
  const every = record.columns.find((one) => one.name === column)?.every
  return [{ ...lineOf(name, role, record.time, values, unit), ...(every === undefined ? {} : { every }) }]
}

/** Columns of innovations of a quantity, with the name of their estimator. */
function innovationsOf(record: RunRecord | undefined, quantity: string): { column: string; estimator: string }[] {
  return (record?.columns ?? []).flatMap(({ name }) => {
    const [, estimator] = /^estimators\.([^.]+)\.innovation\./.exec(name) ?? []
    return estimator !== undefined && name.endsWith(`.innovation.${quantity}`) ? [{ column: name, estimator }] : []
  })
}

/** How a signal is drawn: as its column says; a term of a command as what is actual. */
export function roleOf(record: RunRecord, name: string): SeriesRole {
  const role = record.columns.find((column) => column.name === name)?.role
  return role === undefined || role === 'term' ? 'actual' : role
}

/** Beside height, `height reference` is its reference. */
export function besideWords({ label }: Pick<WatchedSignal, 'label'>, first: Pick<WatchedSignal, 'label'>): string {
  return label.startsWith(`${first.label} `) ? `its ${label.slice(first.label.length + 1)}` : label
}
