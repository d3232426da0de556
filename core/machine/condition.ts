import { name, number } from '../kinds'
import type { Kind } from '../kinds'

/** What the engineer fixes while the rest of an operating point is found. */
export const condition = {
  name: 'condition',
  label: 'keeps a value',
  says: '{signal} at {value}',
  about:
    'A coordinate, speed, state, input, reading or output that keeps a value while the operating point is found; everything else goes where it balances.',
  slots: {
    signal: name({ label: 'what is fixed', of: 'fixable' }),
    value: number({ label: 'value', unit: '', unitOf: 'signal' }),
  },
} as const satisfies Kind & { readonly label: string }

/** What need not stand still at an operating point: the point is steady motion then. */
export const runsOn = {
  name: 'runsOn',
  label: 'runs on',
  says: '{signal} runs on',
  about:
    'A coordinate, place, heading or attitude whose rate need not be 0 at the operating point, as in steady flight or of a wheel that rolls: everything that is not named stands still, and no speed along or about axes of a body changes. The linear form counts an attitude as a small turn, and a place as a small way, in axes of the body from where they would be by now. In machines without bodies a state on which nothing else depends runs on by itself.',
  slots: { signal: name({ label: 'what runs on', of: 'runnable' }) },
} as const satisfies Kind & { readonly label: string }

/** What may be said of an operating point. */
export const conditions = [condition, runsOn] as const
