import { name, namesIn, table } from '../../kinds'
import { definePush } from './push'

/** Several drives together, each by its share. */
export const mixedPush = definePush({
  name: 'mixedPush',
  label: 'a mixture of drives',
  says: '{drives} together, by {shares}.',
  about: 'A push of 1 asks each drive for its share, in the unit of its effort. Two wheels push by 1 1 and turn by 1 -1.',
  unit: ({ drives }, unitOf) => unitOf(namesIn(drives)[0] ?? ''),
  slots: {
    drives: name({ label: 'drives', of: 'drives' }),
    shares: table({ label: 'shares', fill: [[1]] }),
  },
})
