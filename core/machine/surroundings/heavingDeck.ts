import { add, cos, div, less, mul, select, sin } from '../../expression'
import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'

export const heavingDeck = defineSurrounding({
  name: 'heavingDeck',
  label: 'heaving deck',
  says: 'From x = {from} on, a deck at {level} heaves up and down by {height} in all every {period}; before it the ground lies at {before}.',
  about: 'Level ground at level + height/2 sin(2π t / period): what stands on it is pushed by its velocity too.',
  slots: {
    from: number({ label: 'where the deck begins', unit: 'm' }),
    level: number({ label: 'mean level', unit: 'm' }),
    height: number({ label: 'height from lowest to highest', unit: 'm', least: 0 }),
    period: number({ label: 'period', unit: 's', above: 0 }),
    before: number({ label: 'level before it', unit: 'm' }),
  },
  ground: ({ number: read, time }, x) => {
    const [half, rate] = [mul(0.5, read('height')), div(2 * Math.PI, read('period'))]
    const angle = mul(rate, time)
    const isBefore = less(x, read('from'))
    return {
      height: select(isBefore, read('before'), add(read('level'), mul(half, sin(angle)))),
      normal: [0, 0, 1],
      rising: select(isBefore, 0, mul(mul(half, rate), cos(angle))),
    }
  },
})
