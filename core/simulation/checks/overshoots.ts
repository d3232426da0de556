import { number } from '../../kinds'
import { checkSlots, defineCheck, errorSignal } from './check'
import { byMargin, firstRow, tooLate, unseen } from './room'

export const overshoots = defineCheck({
  name: 'overshoots',
  label: 'overshoots little',
  says: '{loop} overshoots its last cue by at most {most} of the way.',
  about:
    'Overshoot: how far it goes beyond where the last cue leads, as a share of the way that the cue asks for. Margin: the most less that.',
  slots: { loop: checkSlots.loop, most: number({ label: 'most', unit: '', least: 0, most: 10 }) },
  isShare: true,
  starts: () => ({ most: 0.1 }),
  signals: ({ loop }) => [errorSignal(loop), `loops.${loop}.reference`],
  judge: ({ loop, most }, run) => {
    const [error, reference] = [run.values(errorSignal(loop)), run.values(`loops.${loop}.reference`)]
    if (error === undefined || reference === undefined) return unseen(errorSignal(loop))
    const cue = run.lastCue(loop)
    const way = cue === undefined ? 0 : cue.after - cue.before
    if (cue === undefined || way === 0) return { outcome: 'open', unit: '', why: 'No cue asks it to go anywhere. Give it one.' }
    const first = firstRow(run, cue.at)
    if (first === undefined) return tooLate(run, cue.at, '')
    let [farthest, row] = [-Infinity, first]
    for (let k = first; k < run.time.length; k++) {
      const beyond = (reference[k]! - error[k]! - cue.after) / way
      if (!(beyond <= farthest)) [farthest, row] = [beyond, k]
    }
    const at = run.time[row]!
    return byMargin({ outcome: 'holds', margin: most - Math.max(farthest, 0), unit: '', at }, at)
  },
})
