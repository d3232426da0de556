import { defineHand, handSlots } from './hand'

export const buttonHand = defineHand({
  name: 'buttonHand',
  label: 'button',
  says: 'It is pressed by key {key} or button {button} of a game pad; cues wait for it.',
  about:
    'Pressed while it is held down. A cue that waits for it begins whenever it is pressed, and may end when it is let go: so it pushes, gusts, fails something, takes up a load.',
  slots: { key: handSlots.key('for it'), button: handSlots.button },
  axes: () => ({}),
  isPressed: true,
  keys: [{ slot: 'key', axis: 'up', to: 1 }],
  sticks: [],
})
