import { add, mul } from '../../expression'
import { choice, name, number } from '../../kinds'
import { cueSlots, defineCue, fade } from './cue'

export const changeCue = defineCue({
  name: 'changeCue',
  label: 'change of a number',
  lane: 'machine',
  says: 'At {at}, {number} of the machine is {how} {amount}, coming over {over}.',
  about:
    'A number of the simulated machine changes while it runs: a load is taken up, put down or shifts, a rope parts, friction grows. Loops and estimators keep the number of the document. It comes along a straight line and goes likewise when the cue ends. Bodies keep their velocities when their mass changes.',
  slots: {
    at: cueSlots.at,
    number: name({ label: 'number of the machine', of: 'number' }),
    how: choice({
      label: 'how',
      options: { times: 'its value times', set: 'set to', raised: 'raised by', drifts: 'raised every second by' },
      otherwise: 'times',
    }),
    amount: number({ label: 'amount', unit: '' }),
    over: fade,
  },
  ends: (read) => add(read('at'), read('over')),
  changes: ({ number: path, how = 'times' }) => [
    {
      path,
      goesOn: how === 'drifts',
      value: (was, { read, since }) => {
        if (how === 'set') return read('amount')
        if (how === 'times') return mul(was, read('amount'))
        return add(was, how === 'raised' ? read('amount') : mul(read('amount'), since))
      },
    },
  ],
})
