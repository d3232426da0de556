import { number } from '../../kinds'
import { checkSlots, defineCheck, errorSignal } from './check'
import { judgeStaying, unseen } from './room'

export const settles = defineCheck({
  name: 'settles',
  label: 'settles in time',
  says: 'Within {within} of its last cue, {loop} comes to stay within {band} of its reference.',
  about: 'Margin: the time that is left when the error comes into the band for good. The cue counts from where it begins.',
  slots: {
    within: number({ label: 'time', unit: 's', above: 0, most: 1e5 }),
    loop: checkSlots.loop,
    band: number({ label: 'band', unit: '', unitOf: 'loop', above: 0 }),
  },
  signals: ({ loop }) => [errorSignal(loop)],
  unitsOf: (_check, unit) => ({ band: unit }),
  judge: ({ within, loop, band }, run) => {
    const signal = errorSignal(loop)
    const error = run.values(signal)
    if (error === undefined) return unseen(signal, 's')
    return judgeStaying(run, run.lastCue(loop)?.at ?? 0, within, (row) => band - Math.abs(error[row]!))
  },
})
