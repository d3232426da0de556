import { div, log, max } from '../../expression'
import { scaled } from '../../algebra'
import { number, vector } from '../../kinds'
import { windLayer } from './windLayer'
import { defineSurrounding } from './surrounding'

export const windProfile = defineSurrounding({
  name: 'windProfile',
  label: 'wind that grows with height',
  says: 'A wind of {velocity} towards x at a height of {height} grows with the height, over ground of roughness {roughness}.',
  about:
    'Velocity at height z over the origin = that at the height told × ln(z/z0) / ln(height/z0), and none below the roughness length z0: the logarithmic profile of the surface layer, as the shear of MIL-F-8785C (1980), 3.7.3.3, where z0 is 0.15 ft near a runway and 2 ft elsewhere, at 20 ft.',
  slots: {
    velocity: vector({ label: 'velocity', unit: 'm/s', components: ['x', 'y', 'z'] }),
    height: number({ label: 'height', unit: 'm', above: 0 }),
    roughness: number({ label: 'roughness length', unit: 'm', above: 0, otherwise: 0.03 }),
  },
  layers: [windLayer],
  wind: (outside, [, , height]) => {
    const z0 = outside.number('roughness')
    const share = div(log(max(1, div(height, z0))), log(div(outside.number('height'), z0)))
    return scaled(outside.vector('velocity'), share)
  },
  contradictions: ({ height, roughness = 0.03 }) =>
    height > roughness
      ? []
      : [{ slot: 'height', what: 'The height is not above the roughness length.', remedy: 'Give the wind at a greater height.' }],
})
