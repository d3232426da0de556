import { number } from '../../kinds'
import { checkSlots, defineCheck, errorSignal } from './check'
import { judgeRoom, unseen } from './room'

export const staysNear = defineCheck({
  name: 'staysNear',
  label: 'stays near its reference',
  says: 'After {from}, {loop} stays within {band} of its reference; if not, {ends}.',
  about: 'Margin: the band less the largest size of the error from then on, of what is held as it truly is.',
  slots: {
    from: checkSlots.from,
    loop: checkSlots.loop,
    band: number({ label: 'band', unit: '', unitOf: 'loop', above: 0 }),
    ends: checkSlots.ends,
  },
  signals: ({ loop }) => [errorSignal(loop)],
  unitsOf: (_check, unit) => ({ band: unit }),
  judge: ({ from = 0, loop, band }, run) => {
    const signal = errorSignal(loop)
    const error = run.values(signal)
    return error === undefined ? unseen(signal) : judgeRoom(run, from, run.unitOf(signal), (row) => band - Math.abs(error[row]!))
  },
  band: ({ from = 0, loop, band }) => ({ signal: errorSignal(loop), from, least: -band, most: band }),
})
