import { defineHand, handSlots } from './hand'

export const sliderHand = defineHand({
  name: 'sliderHand',
  label: 'slider',
  says: 'It {how} {by} of {loop}; let go, it {goes}, its whole way in {over}. Keys {less} and {more}, axis {stick} of a game pad.',
  about:
    'Moved from -1 to 1, it adds as much of its most to the reference of a loop, or to a push; or it drives the reference on at that rate, and lets it stand where it was let go. Keys take it to its ends. Shapers of the loop do not see it.',
  slots: {
    loop: handSlots.loop,
    how: handSlots.how,
    by: handSlots.by,
    goes: handSlots.goes,
    over: handSlots.over,
    less: handSlots.key('down'),
    more: handSlots.key('up'),
    stick: handSlots.stick('for it'),
  },
  axes: ({ loop, how = 'asks' }) => ({ up: { loop, by: 'by', how } }),
  keys: [
    { slot: 'less', axis: 'up', to: -1 },
    { slot: 'more', axis: 'up', to: 1 },
  ],
  sticks: [{ slot: 'stick', axis: 'up' }],
})
