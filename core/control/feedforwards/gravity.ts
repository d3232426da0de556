import { defineFeedforward, forwardSlots } from './feedforward'

export const gravity = defineFeedforward({
  name: 'gravity',
  label: 'what holds it where it shall be',
  says: 'carries {scale} of what holds it still where it shall be',
  about:
    'The push by the equations of the machine as if it stood still at the references of its loops: gravity, springs and steady friction of a changing pose. At the reference, so that margins stay as they are. It must be the sum of a part without the push and one in proportion to it.',
  slots: forwardSlots,
  needs: 'equations',
  carriesRest: true,
  command: (inputs) => ({ command: inputs.inverse(false), memory: [] }),
})
