import { name, vector } from '../../kinds'

/** What every joint says: what it hangs on and where. */
export const placeSlots = {
  on: name({ label: 'what it hangs on', of: 'body' }),
  at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'], note: 'of the joint, in the axes of what it hangs on' }),
  turned: vector({
    label: 'turned',
    unit: 'rad',
    components: ['x', 'y', 'z'],
    note: 'about fixed x, then y, then z of what it hangs on',
  }),
} as const

export function axisSlot(label: string) {
  return vector({
    label,
    unit: '',
    components: ['x', 'y', 'z'],
    fill: [0, 0, 1],
    note: 'a direction; its length does not matter',
  })
}
