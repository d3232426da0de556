import { mul, sum } from '../../expression'
import { number } from '../../kinds'
import { defineFeedforward, forwardSlots } from './feedforward'

export const referenceGains = defineFeedforward({
  name: 'referenceGains',
  label: 'gains on the reference',
  says: 'carries {scale} of {onReference} times its reference, {onRate} times its rate and {onAcceleration} times its acceleration',
  about: 'command = scale (k0 r + k1 dr/dt + k2 d²r/dt²), r from where the machine rests; the derivatives are exact.',
  slots: {
    ...forwardSlots,
    onReference: number({ label: 'gain on the reference', unit: '', otherwise: 0 }),
    onRate: number({ label: 'gain on its rate', unit: '', otherwise: 0 }),
    onAcceleration: number({ label: 'gain on its acceleration', unit: '', otherwise: 0 }),
  },
  needs: 'derivatives',
  command: ({ asked }, _memory, read) => {
    const gains = ['onReference', 'onRate', 'onAcceleration'].map(read)
    return { command: sum(gains.map((gain, i) => mul(gain, asked[i]!))), memory: [] }
  },
})
