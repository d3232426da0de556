import { add, mul, sub } from '../../expression'
import { name, number } from '../../kinds'
import { cueSlots, defineCue, fade } from './cue'

export const failureCue = defineCue({
  name: 'failureCue',
  label: 'failure of a part',
  lane: 'faults',
  says: 'At {at}, {part} loses {loss} of what it gives, over {over}.',
  about:
    'A force or drive of the machine gives less from then on, whatever it is asked: so much of its forces, torques or voltage is gone. Its own states, such as the speed of a rotor or a current, go on. Neither loops nor estimators know.',
  slots: {
    at: cueSlots.at,
    part: name({ label: 'what fails', of: 'failing' }),
    loss: number({ label: 'share lost', unit: '', least: 0, most: 1, otherwise: 1 }),
    over: fade,
  },
  ends: (read) => add(read('at'), read('over')),
  changes: ({ part }) => [{ path: `${part}.gives`, value: (was, { read }) => mul(was, sub(1, read('loss'))) }],
})
