import { number } from '../../kinds'
import { checkSlots, defineCheck } from './check'
import { judgeStaying, unseen } from './room'

export const comesToRest = defineCheck({
  name: 'comesToRest',
  label: 'stops in time',
  says: 'Within {within} of {from}, {signal} comes to stay below {least} in size.',
  about: 'For a speed that must stop, or anything else that must die out. Margin: the time that is left, s.',
  slots: {
    within: number({ label: 'time', unit: 's', above: 0, most: 1e5 }),
    from: checkSlots.from,
    signal: checkSlots.signal,
    least: number({ label: 'size', unit: '', unitOf: 'signal', above: 0 }),
  },
  signals: ({ signal }) => [signal],
  starts: ({ signal, rate, half }) => ({ signal: rate ?? signal, within: half }),
  unitsOf: (_check, unit) => ({ least: unit }),
  judge: ({ within, from = 0, signal, least }, run) => {
    const values = run.values(signal)
    if (values === undefined) return unseen(signal, 's')
    return judgeStaying(run, from, within, (row) => least - Math.abs(values[row]!))
  },
})
