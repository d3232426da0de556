import { add, and, atMost, cos, div, less, mul, select, sin, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { choice, name, number } from '../../kinds'
import type { AddedPart, CueNow } from './cue'
import { cueSlots } from './cue'

const along = (axis: string, unit: string) => number({ label: `along ${axis}`, unit })

/** Three components in a unit, which a sentence holds one by one. */
export const componentsIn = (unit: string) => ({ x: along('x', unit), y: along('y', unit), z: along('z', unit) })

export const axesSlot = choice({
  label: 'axes',
  options: { world: 'axes of the world', own: 'its own axes' },
  otherwise: 'world',
})

/** Where on a body: from its frame, in its own axes. */
export const placeSlots = {
  body: name({ label: 'body', of: 'body' }),
  px: number({ label: 'place along x', unit: 'm', otherwise: 0 }),
  py: number({ label: 'place along y', unit: 'm', otherwise: 0 }),
  pz: number({ label: 'place along z', unit: 'm', otherwise: 0 }),
} as const

export const pushShapes = {
  steady: 'steadily',
  halfSine: 'as half a sine',
  oneCosine: 'as 1 - cosine',
} as const
export type PushShape = keyof typeof pushShapes

/** How much of its size a push has at an instant, 0 to 1: nothing before it begins and after its duration. */
export function shapeAt(shape: PushShape, { since, read }: CueNow): Scalar {
  const share = div(since, read('over'))
  const size =
    shape === 'steady' ? 1 : shape === 'halfSine' ? sin(mul(Math.PI, share)) : mul(0.5, sub(1, cos(mul(2 * Math.PI, share))))
  return select(and(atMost(0, since), less(since, read('over'))), size, 0)
}

/** rad/s: how fast a shape of this duration, s, swings. */
export function swingsOf(shape: PushShape, over: number): number {
  return ({ steady: 0, halfSine: Math.PI, oneCosine: 2 * Math.PI } as const)[shape] / over
}

interface Placed {
  readonly body: string
  readonly axes?: 'world' | 'own'
}

/** The force of a push, or its torque, on a body of the simulated machine. */
export function pushed(
  { body, axes = 'world' }: Placed,
  what: 'force' | 'torque',
  size: (now: CueNow) => Scalar,
  swings: number,
): AddedPart {
  const places = ['px', 'py', 'pz'].map((slot, i) => [`at.${i}`, ({ read }: CueNow) => read(slot)])
  const components = ['x', 'y', 'z'].map((slot, i) => [
    `${what}.${i}`,
    (now: CueNow) => mul(mul(now.read(slot), size(now)), now.share),
  ])
  const some = [1, 1, 1] // what varies is no structure
  const none = [0, 0, 0]
  return {
    group: 'forces',
    part: {
      kind: 'steadyForce',
      ...{ body, axes, force: what === 'force' ? some : none, torque: what === 'torque' ? some : none },
      at: what === 'force' ? some : none,
    },
    swings,
    numbers: Object.fromEntries(what === 'force' ? [...places, ...components] : components),
  }
}

/** s: when a push is over by itself. */
export const pushEnds = (read: (path: string) => Scalar) => add(read('at'), read('over'))

export const pushSlots = { at: cueSlots.at, over: cueSlots.over } as const
