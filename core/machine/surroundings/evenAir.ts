import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'

/** Air of one density everywhere. */
export const evenAir = defineSurrounding({
  name: 'evenAir',
  label: 'air of one density',
  says: 'The air weighs {density} everywhere.',
  about: 'One density at all heights.',
  slots: { density: number({ label: 'density', unit: 'kg/m³', least: 0 }) },
  density: (outside) => outside.number('density'),
})
