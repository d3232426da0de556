import { add, cos, div, mul, sin } from '../../expression'
import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'

export const heavingDeck = defineSurrounding({
  name: 'heavingDeck',
  label: 'heaving deck',
  says: 'A deck at {level} heaves up and down by {height} in all every {period}.',
  about: 'Level ground at level + height/2 sin(2π t / period): what stands on it is pushed by its velocity too.',
  slots: {
    level: number({ label: 'mean level', unit: 'm' }),
    height: number({ label: 'height from lowest to highest', unit: 'm', least: 0 }),
    period: number({ label: 'period', unit: 's', above: 0 }),
  },
  ground: ({ number: read, time }) => {
    const [half, rate] = [mul(0.5, read('height')), div(2 * Math.PI, read('period'))]
    const angle = mul(rate, time)
    return { height: add(read('level'), mul(half, sin(angle))), normal: [0, 0, 1], rising: mul(mul(half, rate), cos(angle)) }
  },
})
