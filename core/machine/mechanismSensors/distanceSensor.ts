import { clamp, cos, div, less, mul, neg, select, sub } from '../../expression'
import { dot } from '../../algebra'
import { name, number, vector } from '../../kinds'
import { defineSensor, errorSlots } from './sensor'

/** Cosine below which a beam runs along the ground: its distance would have no bound. */
const grazing = 1e-6

/** Distance to the ground along a direction of a body. */
export const distanceSensor = defineSensor({
  name: 'distanceSensor',
  label: 'range finder',
  says: 'A range finder on {body} reads from {nearest} to {farthest} within {cone} of the upright, {rate#} times a second.',
  about:
    'Distance along its axis to the ground under it, taken as even there. Beyond its ends it reads the nearest end; where it meets the ground more slanted than its cone no echo returns and it reads its farthest end.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    axis: vector({ label: 'direction it looks', unit: '', components: ['x', 'y', 'z'], fill: [0, 0, -1] }),
    nearest: number({ label: 'smallest range', unit: 'm', least: 0 }),
    farthest: number({ label: 'largest range', unit: 'm', above: 0 }),
    cone: number({ label: 'half angle of its cone', unit: 'rad', above: 0, most: Math.PI / 2 }),
    ...errorSlots,
  },
  readings: () => [{ name: '', label: 'distance', unit: 'm' }],
  reads: (sight, part) => {
    const { position } = sight.point(part.body, sight.vector('at'))
    const { height, normal } = sight.ground(position[0], position[1])
    const down = neg(dot(sight.direction(part.body, 'axis'), normal))
    const over = mul(sub(position[2], height), normal[2])
    const meets = less(cos(sight.number('cone')), down)
    const farthest = sight.number('farthest')
    const distance = div(over, select(less(grazing, down), down, grazing))
    return [select(meets, clamp(distance, sight.number('nearest'), farthest), farthest)]
  },
})
