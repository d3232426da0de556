import { atOrigin } from '../../algebra'
import { placeSlots } from './slots'
import { defineJoint } from './joint'

/** No freedom at all. */
export const fixed = defineJoint({
  name: 'fixed',
  label: 'is fixed to',
  says: 'is fixed to {on}',
  about: 'The body moves with what it hangs on.',
  slots: { ...placeSlots },
  positions: [],
  speeds: [],
  goInPairs: true,
  rest: [],
  axes: [],
  motion: () => ({ pose: () => atOrigin, subspace: () => [], rates: () => [] }),
})
