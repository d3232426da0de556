import { add, and, atMost, div, exp, less, log, mul, select, sin, sub } from '../../expression'
import { number } from '../../kinds'
import { cueSlots, defineCue } from './cue'

/** Octaves pass at a steady pace: phase = w0 T/ln k (k^(τ/T) - 1) with k = w1/w0. */
export const sweepCue = defineCue({
  name: 'sweepCue',
  label: 'sweep',
  lane: 'commands',
  says: 'From {at}, {loop} swings by {by}, from {from} to {to} within {over}.',
  about:
    'A sine whose frequency goes from one end to the other at as many octaves a second throughout: by sin(w0 T/ln k (k^(τ/T) - 1)), k = w1/w0. Common practice, no source.',
  slots: {
    ...cueSlots,
    by: number({ label: 'amplitude', unit: '' }),
    from: number({ label: 'first frequency', unit: 'rad/s', above: 0, most: 1e4 }),
    to: number({ label: 'last frequency', unit: 'rad/s', above: 0, most: 1e4, otherwise: 10 }),
  },
  value: (t, read) => {
    const [since, over, from] = [sub(t, read('at')), read('over'), read('from')]
    const lasts = and(atMost(0, since), less(t, add(read('at'), over)))
    const octaves = log(div(read('to'), from))
    const phase = mul(mul(from, div(over, octaves)), sub(exp(mul(octaves, div(since, over))), 1))
    return select(lasts, mul(read('by'), sin(phase)), 0)
  },
  ends: (read) => add(read('at'), read('over')),
  problems: (where, { from, to }) =>
    from === to
      ? [
          {
            where: `${where}.to`,
            what: 'The sweep ends at the frequency it starts with.',
            remedy: 'Give another, or make it a sine.',
          },
        ]
      : [],
})
