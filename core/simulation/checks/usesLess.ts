import { choice, number } from '../../kinds'
import { checkSlots, defineCheck } from './check'
import { byMargin, firstRow, tooLate, unseen } from './room'

/** Of a signal from a row on: its figure, and the row that tells most of it. */
const figures = {
  peak: (values: Float64Array, first: number) => {
    let at = first
    for (let row = first; row < values.length; row++) if (!(Math.abs(values[row]!) <= Math.abs(values[at]!))) at = row
    return { figure: Math.abs(values[at]!), at }
  },
  rms: (values: Float64Array, first: number, time: Float64Array) => {
    const { figure } = figures.sum(
      values.map((value) => value * value),
      first,
      time,
    )
    const span = time.at(-1)! - time[first]!
    return { figure: span > 0 ? Math.sqrt(figure / span) : Math.abs(values[first]!), at: values.length - 1 }
  },
  /** Of its size, by the rule of trapezoids. */
  sum: (values: Float64Array, first: number, time: Float64Array) => {
    let figure = 0
    for (let row = first + 1; row < values.length; row++)
      figure += 0.5 * (Math.abs(values[row]!) + Math.abs(values[row - 1]!)) * (time[row]! - time[row - 1]!)
    return { figure, at: values.length - 1 }
  },
} as const

const unitOf = (what: keyof typeof figures, unit: string) => (what === 'sum' ? (unit === '' ? 's' : `${unit}·s`) : unit)

export const usesLess = defineCheck({
  name: 'usesLess',
  label: 'uses less than',
  says: 'From {from}, {what} of {signal} is less than {most}.',
  about:
    'Peak: the largest size. Root mean square over the time. Sum: the integral of the size over the time, by the rule of trapezoids: of a power it is the energy. Margin: the most less that.',
  slots: {
    from: checkSlots.from,
    what: choice({
      label: 'figure',
      options: { peak: 'the peak', rms: 'the root mean square', sum: 'the sum over time' },
      otherwise: 'peak',
    }),
    signal: checkSlots.signal,
    most: number({ label: 'most', unit: '', unitOf: 'signal', above: 0 }),
  },
  signals: ({ signal }) => [signal],
  starts: ({ limit }) => ({ most: limit }),
  unitsOf: ({ what = 'peak' }, unit) => ({ most: unitOf(what, unit) }),
  judge: ({ from = 0, what = 'peak', signal, most }, run) => {
    const values = run.values(signal)
    const unit = unitOf(what, run.unitOf(signal))
    if (values === undefined) return unseen(signal)
    const first = firstRow(run, from)
    if (first === undefined) return tooLate(run, from, unit)
    const { figure, at } = figures[what](values, first, run.time)
    const when = run.time[at]!
    return byMargin({ outcome: 'holds', margin: most - figure, unit, at: when }, when)
  },
})
