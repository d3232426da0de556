import { choice, name } from '../../kinds'
import { cueSlots, defineCue } from './cue'

export const switchCue = defineCue({
  name: 'switchCue',
  label: 'switch of feedback',
  lane: 'commands',
  says: 'At {at}, the feedback of {loop} is switched {turned}.',
  about:
    'The feedback of the loop is switched on or off; what it carries beforehand goes on. A law with an integral takes over without a bump: while it is off its integral is what makes its command nothing. Åström & Hägglund, Advanced PID Control, 2006, section 3.6 (from memory).',
  slots: {
    loop: name({ label: 'loop', of: 'loop' }),
    at: cueSlots.at,
    turned: choice({ label: 'feedback', options: { on: 'on', off: 'off' }, otherwise: 'on' }),
  },
  value: () => 0,
  ends: (read) => read('at'),
  switchesTo: ({ turned }) => turned !== 'off',
})
