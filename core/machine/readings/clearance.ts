import { less, select, sub } from '../../expression'
import { dot, minus } from '../../algebra'
import { number } from '../../kinds'
import { ofBody } from './slots'
import { defineReading } from './reading'

/** How far a ball around a point of a body is from the nearest of all that is solid around it. */
export const clearanceReading = defineReading({
  name: 'clearanceReading',
  label: 'clearance',
  says: 'The clearance of {body} at {at}, a ball of radius {radius}, to the ground and what stands around.',
  about:
    'Distance from the surface of a ball to the nearest surface of the ground and of the obstacles in the scene of a trial, negative inside, and its time derivative. Where two are as near it has a kink.',
  owner: 'body',
  slots: { ...ofBody, radius: number({ label: 'radius', unit: 'm', least: 0 }) },
  values: () => [
    { name: 'room', label: 'clearance', unit: 'm', rate: 'rate' },
    { name: 'rate', label: 'rate of the clearance', unit: 'm/s' },
  ],
  reads: (view, part) => {
    const { position, velocity } = view.point(part.body, view.vector('at'))
    const seen = view.touchable(position, 0).map(({ over, normal, rising }) => ({
      room: sub(over, view.number('radius')),
      rate: dot(minus(velocity, [0, 0, rising]), normal),
    }))
    const nearest = seen.reduce((best, one) => {
      const isNearer = less(one.room, best.room)
      return { room: select(isNearer, one.room, best.room), rate: select(isNearer, one.rate, best.rate) }
    })
    return [nearest.room, nearest.rate]
  },
})
