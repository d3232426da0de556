import { choice, number } from '../../kinds'
import { checkSlots, defineCheck } from './check'
import { firstRow, judgeRoom, unseen } from './room'

export const staysBeyond = defineCheck({
  name: 'staysBeyond',
  label: 'never exceeds',
  says: 'From {from}, {signal} stays {side} {limit}; if not, {ends}.',
  about: 'Any signal of the run: as it truly is, measured, estimated, a command. Margin: how far it stays from the limit.',
  slots: {
    from: checkSlots.from,
    signal: checkSlots.signal,
    side: choice({
      label: 'side',
      options: { below: 'below', above: 'above', within: 'within plus or minus' },
      otherwise: 'below',
    }),
    limit: number({ label: 'limit', unit: '', unitOf: 'signal' }),
    ends: checkSlots.ends,
  },
  signals: ({ signal }) => [signal],
  starts: ({ limit }) => ({ side: 'within', limit }),
  unitsOf: (_check, unit) => ({ limit: unit }),
  judge: ({ from = 0, signal, side = 'below', limit }, run) => {
    const values = (side === 'above' ? run.least(signal, firstRow(run, from) ?? 0, limit) : undefined) ?? run.values(signal)
    if (values === undefined) return unseen(signal)
    const room = {
      below: (row: number) => limit - values[row]!,
      above: (row: number) => values[row]! - limit,
      within: (row: number) => limit - Math.abs(values[row]!),
    }[side]
    return judgeRoom(run, from, run.unitOf(signal), room)
  },
  band: ({ from = 0, signal, side = 'below', limit }) => ({
    ...{ signal, from },
    least: side === 'above' ? limit : side === 'within' ? -limit : -Infinity,
    most: side === 'above' ? Infinity : limit,
  }),
  problems: (where, { side, limit }) =>
    side === 'within' && limit < 0
      ? [{ where: `${where}.limit`, what: 'Nothing stays within less than nothing.', remedy: 'Give a limit above 0.' }]
      : [],
})
