import { defineFeedforward, forwardSlots } from './feedforward'

export const byInverseDynamics = defineFeedforward({
  name: 'inverseDynamics',
  label: 'inverse dynamics',
  says: 'carries {scale} of what its motion takes',
  about:
    'The push that moves the machine along the references of all its loops, by its own equations with friction and without lags and limits: the inverse dynamics of the whole machine, drives with back-EMF included. Joints of closed chains are followed from sample to sample; a free body turns by its angles. Siciliano & Khatib, Springer Handbook of Robotics, ch. 8 (from memory).',
  slots: forwardSlots,
  needs: 'equations',
  carriesRest: true,
  command: (inputs) => ({ command: inputs.inverse(true), memory: [] }),
})
