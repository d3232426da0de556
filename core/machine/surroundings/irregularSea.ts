import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'
import { waterSlots } from './stillWater'
import { seaOf, wavy } from './water'

export const irregularSea = defineSurrounding({
  name: 'irregularSea',
  label: 'irregular sea',
  says: 'A sea of significant height {height}, peak period {period}, peakedness {peakedness} and seed {seed} runs towards {towards} over water at {level}, of {density}.',
  about:
    'Long-crested linear waves of deep water, 28 of them by their seed, with the JONSWAP spectrum (Hasselmann et al., 1973); peakedness 1 is that of Pierson and Moskowitz (1964). Hs = 4 √m0 is exact.',
  slots: {
    height: number({ label: 'significant height', unit: 'm', above: 0 }),
    period: number({ label: 'peak period', unit: 's', above: 0 }),
    peakedness: number({ label: 'peakedness', unit: '', least: 1, most: 10, otherwise: 3.3 }),
    seed: number({ label: 'seed', unit: '', least: 0, most: 4294967295, whole: true, otherwise: 1 }),
    ...waterSlots,
  },
  water: ({ number: read, gravity, time }, x, y) => {
    const sea = { level: read('level'), density: read('density'), towards: read('towards'), gravity, time }
    return wavy(sea, seaOf(read('height'), read('period'), read('peakedness'), read('seed')), x, y)
  },
})
