import { number } from '../../kinds'
import { checkSlots, defineCheck } from './check'
import { byMargin, tooShort, unseen } from './room'

export const reaches = defineCheck({
  name: 'reaches',
  label: 'reaches a value',
  says: 'By {by}, {signal} comes within {near} of {value}.',
  about: 'Margin: how near is near enough less how near it came, until then.',
  slots: {
    by: number({ label: 'by', unit: 's', above: 0, most: 1e5 }),
    signal: checkSlots.signal,
    near: number({ label: 'near enough', unit: '', unitOf: 'signal', above: 0 }),
    value: number({ label: 'value', unit: '', unitOf: 'signal' }),
  },
  signals: ({ signal }) => [signal],
  unitsOf: (_check, unit) => ({ near: unit, value: unit }),
  judge: ({ by, signal, near, value }, run) => {
    const values = run.values(signal)
    if (values === undefined) return unseen(signal)
    let [nearest, at] = [Infinity, 0]
    for (let row = 0; row < run.time.length && run.time[row]! <= by + 1e-9; row++) {
      const away = Math.abs(values[row]! - value)
      if (away < nearest) [nearest, at] = [away, row]
    }
    const found = { margin: near - nearest, unit: run.unitOf(signal), at: run.time[at]! }
    const isOver = (run.time.at(-1) ?? 0) >= by - 1e-9
    return nearest <= near || isOver
      ? byMargin({ outcome: 'holds', ...found }, by)
      : { ...found, ...tooShort(run, found.unit, `${by} s`) }
  },
})
