import { div, sqrt } from '../../expression'
import { dot, minus } from '../../algebra'
import { fromBody, ofBody } from './slots'
import { defineReading } from './reading'

/** How far two points are from one another. */
export const distanceReading = defineReading({
  name: 'distanceReading',
  label: 'distance',
  says: 'The distance of {body} at {at} from {from} at {fromAt}.',
  about: 'Length of the straight way between two points, and its time derivative. It has no slope where they meet.',
  owner: 'body',
  slots: { ...ofBody, ...fromBody },
  values: () => [
    { name: 'far', label: 'distance', unit: 'm', rate: 'rate' },
    { name: 'rate', label: 'rate of the distance', unit: 'm/s' },
  ],
  reads: (view, part) => {
    const [own, other] = [view.point(part.body, view.vector('at')), view.point(part.from, view.vector('fromAt'))]
    const [away, passing] = [minus(own.position, other.position), minus(own.velocity, other.velocity)]
    const far = sqrt(dot(away, away))
    return [far, div(dot(away, passing), far)]
  },
})
