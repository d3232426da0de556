import { defineFeedforward, forwardSlots } from './feedforward'

export const holding = defineFeedforward({
  name: 'holding',
  label: 'what holds it at rest',
  says: 'carries {scale} of what holds it at rest',
  about:
    'command = scale x what holds the machine at its operating point, for the lift of what flies mass x gravity: from the model, not from what a trial overrides.',
  slots: forwardSlots,
  needs: 'reference',
  carriesRest: true,
  command: (inputs) => ({ command: inputs.holding, memory: [] }),
})
