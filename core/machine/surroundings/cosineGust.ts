import { and, cos, div, less, mul, select, sub } from '../../expression'
import { scaled } from '../../algebra'
import { number, vector } from '../../kinds'
import { windLayer } from './windLayer'
import { defineSurrounding } from './surrounding'

/** A discrete gust: half its velocity times 1 - cos over its length, then gone. */
export const cosineGust = defineSurrounding({
  name: 'cosineGust',
  label: 'gust (1 - cosine)',
  says: 'At {start} a gust of {velocity} towards x passes in {length}.',
  about:
    'Velocity of the air = U/2 (1 - cos(2π (t - start) / length)) while it passes, everywhere alike: the discrete gust of certification practice, EASA CS-25.341(a) (from memory), over time.',
  slots: {
    velocity: vector({ label: 'largest velocity', unit: 'm/s', components: ['x', 'y', 'z'] }),
    start: number({ label: 'start', unit: 's', least: 0 }),
    length: number({ label: 'time it takes', unit: 's', above: 0 }),
  },
  layers: [windLayer],
  wind: (outside) => {
    const since = sub(outside.time, outside.number('start'))
    const length = outside.number('length')
    const share = mul(0.5, sub(1, cos(mul(2 * Math.PI, div(since, length)))))
    return scaled(outside.vector('velocity'), select(and(less(0, since), less(since, length)), share, 0))
  },
})
