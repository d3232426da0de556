import { betweenSlots } from '../effects/slots'
import { meeting, pointView } from './points'
import { defineChain } from './chain'

/** Two points of bodies stay together, whichever way they turn: a ball joint that closes a chain. */
export const meets = defineChain({
  name: 'meets',
  label: 'meets',
  says: '{from} and {to} meet in a ball.',
  about: 'Three equations: the points are one.',
  slots: { ...betweenSlots },
  rows: (scene, part) =>
    meeting(pointView(scene.body(part.from), scene.vector('fromAt')), pointView(scene.body(part.to), scene.vector('toAt'))),
})
