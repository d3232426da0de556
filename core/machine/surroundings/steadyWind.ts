import { vector } from '../../kinds'
import { windLayer } from './windLayer'
import { defineSurrounding } from './surrounding'

/** The same wind everywhere, always. */
export const steadyWind = defineSurrounding({
  name: 'steadyWind',
  label: 'steady wind',
  says: 'A wind blows with {velocity} towards x.',
  about: 'One velocity of the air in world axes, everywhere and always; winds add up.',
  slots: { velocity: vector({ label: 'velocity', unit: 'm/s', components: ['x', 'y', 'z'] }) },
  layers: [windLayer],
  wind: (outside) => outside.vector('velocity'),
})
