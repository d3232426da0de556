import { defineHand, handSlots } from './hand'

export const padHand = defineHand({
  name: 'padHand',
  label: 'two-axis pad',
  says: 'Across it {how} {by} of {loop}, up {byUp} of {loopUp}; let go, it {goes}, its whole way in {over}. Keys {left}, {right}, {down}, {up}, axes {stick} and {stickUp} of a game pad.',
  about: 'Two sliders in one: what a pointer, four keys or a stick moves across and up goes to a loop or push each.',
  slots: {
    loop: handSlots.loop,
    how: handSlots.how,
    by: handSlots.by,
    loopUp: handSlots.loop,
    byUp: handSlots.by,
    goes: handSlots.goes,
    over: handSlots.over,
    left: handSlots.key('to the left'),
    right: handSlots.key('to the right'),
    down: handSlots.key('down'),
    up: handSlots.key('up'),
    stick: handSlots.stick('across'),
    stickUp: handSlots.stick('up'),
  },
  axes: ({ loop, loopUp, how = 'asks' }) => ({ across: { loop, by: 'by', how }, up: { loop: loopUp, by: 'byUp', how } }),
  keys: [
    { slot: 'left', axis: 'across', to: -1 },
    { slot: 'right', axis: 'across', to: 1 },
    { slot: 'down', axis: 'up', to: -1 },
    { slot: 'up', axis: 'up', to: 1 },
  ],
  sticks: [
    { slot: 'stick', axis: 'across' },
    { slot: 'stickUp', axis: 'up' },
  ],
})
