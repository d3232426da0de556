import { defineHand, handSlots } from './hand'

export const switchHand = defineHand({
  name: 'switchHand',
  label: 'switch',
  says: 'It is switched by key {key} or button {button} of a game pad; cues wait for it.',
  about: 'On or off, and stays so: a cue that waits for it begins when it is switched on, and may end when it is switched off.',
  slots: { key: handSlots.key('for it'), button: handSlots.button },
  axes: () => ({}),
  isPressed: true,
  keys: [{ slot: 'key', axis: 'up', to: 1 }],
  sticks: [],
})
