import { cos, max, sin } from '../../expression'
import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'

/** Of what the sky gives at noon so much is left at night, so that a machine is still seen. */
const nightShare = 0.4

export const daylight = defineSurrounding({
  name: 'daylight',
  label: 'daylight',
  says: 'The sun stands {height} high towards {heading}, and clouds cover {clouds} of the sky.',
  about:
    'What the scene is lit by: the sun from where it stands, weaker the lower it is and the more it is covered, and the sky from all sides. It is drawn, and moves nothing.',
  slots: {
    height: number({ label: 'height of the sun', unit: 'rad', least: -Math.PI / 2, most: Math.PI / 2 }),
    heading: number({ label: 'towards, about z from x', unit: 'rad' }),
    clouds: number({ label: 'share of the sky that clouds cover', unit: '', least: 0, most: 1, otherwise: 0 }),
  },
  // the light on level ground goes with the sine of the sun's height (Lambert; common practice, no source)
  light: ({ height, heading, clouds = 0 }) => {
    const up = sin(height) as number
    const along = cos(height) as number
    const day = max(0, up) as number
    return {
      towards: [along * (cos(heading) as number), along * (sin(heading) as number), up],
      sun: Math.sqrt(day) * (1 - clouds),
      sky: nightShare + (1 - nightShare) * day * (1 - 0.3 * clouds),
    }
  },
})
