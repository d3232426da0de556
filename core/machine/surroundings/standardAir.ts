import { add } from '../../expression'
import { number } from '../../kinds'
import { standardAtmosphere } from '../atmosphere'
import { defineSurrounding } from './surrounding'

/** The 1976 standard atmosphere. */
export const standardAir = defineSurrounding({
  name: 'standardAir',
  label: 'standard atmosphere',
  says: 'The air is the standard atmosphere, the origin {altitude} over the sea.',
  about: 'Density by geometric altitude from 0 to 86 km. U.S. Standard Atmosphere, 1976, NOAA/NASA/USAF.',
  slots: { altitude: number({ label: 'altitude of the origin', unit: 'm', least: -500, most: 86_000 }) },
  density: (outside, height) => standardAtmosphere(add(outside.number('altitude'), height)).density,
})
