import { div, mul } from '../../expression'
import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'
import { waterSlots } from './stillWater'
import { wavy } from './water'

export const regularWaves = defineSurrounding({
  name: 'regularWaves',
  label: 'regular waves',
  says: 'Waves {height} high of {period} run towards {towards} over water at {level}, of {density}.',
  about:
    'Linear waves of deep water, all alike: surface = level + H/2 cos(k s - ω t), ω² = g k; particles turn in circles that fade with exp(k z) (Airy). Crests are at the origin at 0 s.',
  slots: {
    height: number({ label: 'height from trough to crest', unit: 'm', least: 0 }),
    period: number({ label: 'period', unit: 's', above: 0 }),
    ...waterSlots,
  },
  water: ({ number: read, gravity, time }, x, y) => {
    const wave = { amplitude: mul(0.5, read('height')), frequency: div(2 * Math.PI, read('period')), phase: 0 }
    const sea = { level: read('level'), density: read('density'), towards: read('towards'), gravity, time }
    return wavy(sea, [wave], x, y)
  },
})
