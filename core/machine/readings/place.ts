import { applied, cross, minus, transposedRows } from '../../algebra'
import type { Part } from '../../document'
import { ground } from '../assemble'
import { fromBody, ofBody } from './slots'
import type { ReadValue } from './reading'
import { defineReading } from './reading'

const inWorld: readonly ReadValue[] = [
  { name: 'east', label: 'east', unit: 'm', rate: 'eastRate' },
  { name: 'north', label: 'north', unit: 'm', rate: 'northRate' },
  { name: 'height', label: 'height', unit: 'm', rate: 'climbRate' },
  { name: 'eastRate', label: 'eastward speed', unit: 'm/s' },
  { name: 'northRate', label: 'northward speed', unit: 'm/s' },
  { name: 'climbRate', label: 'climb rate', unit: 'm/s' },
]

/** Along the axes of the body that it is seen from. */
const besideBody: readonly ReadValue[] = [
  { name: 'ahead', label: 'ahead', unit: 'm', rate: 'aheadRate' },
  { name: 'left', label: 'to the left', unit: 'm', rate: 'leftRate' },
  { name: 'above', label: 'above', unit: 'm', rate: 'aboveRate' },
  { name: 'aheadRate', label: 'speed ahead', unit: 'm/s' },
  { name: 'leftRate', label: 'speed to the left', unit: 'm/s' },
  { name: 'aboveRate', label: 'speed upward', unit: 'm/s' },
]

/** Where a point of a body is, and how fast that changes. */
export const placeReading = defineReading({
  name: 'placeReading',
  label: 'place',
  says: 'The place of {body} at {at}, seen from {from} at {fromAt}.',
  about:
    'Place of a point along x, y and z of what it is seen from, and the time derivatives of these: of ground they are east, north and height; of a body they are ahead, to the left and above, in axes that turn with it.',
  owner: 'body',
  slots: { ...ofBody, ...fromBody },
  values: ({ from }) => (from === ground ? inWorld : besideBody),
  reads: (view, part: Part) => {
    const { body, from } = part as unknown as { readonly body: string; readonly from: string }
    const [own, other] = [view.point(body, view.vector('at')), view.point(from, view.vector('fromAt'))]
    const away = minus(own.position, other.position)
    const passing = minus(minus(own.velocity, other.velocity), cross(view.turning(from), away))
    const into = transposedRows(view.axes(from))
    return [...applied(into, away), ...applied(into, passing)]
  },
})
