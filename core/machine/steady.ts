import { applied, rotation } from '../algebra'
import type { Quaternion, Vector } from '../algebra'
import type { Scalar } from '../expression'
import type { Part } from '../document'
import { findKind } from '../kinds'
import { jointKindsOf } from './assemble'
import type { Assembly } from './assemble'
import { joints } from './joints'
import type { JointKind } from './joints/joint'
import { effectParts } from './mechanismMotion'
import { readSignals } from './readings'
import { askedNames } from './signalNames'
import { byBody, positionRates } from './tree'
import { bodiesOf } from './linkedBody'

/** Turns of a body that has an attitude: about the z axis of what it hangs on alone, or any. */
const [heading, attitude] = ['heading', 'attitude']

/** Positions that mean something by themselves: no part of a quaternion. */
function placesOf({ positions }: JointKind): JointKind['positions'] {
  return positions.filter(({ unit }) => unit !== '')
}

function ownStates(machine: Part): string[] {
  return effectParts(machine).flatMap(({ path, kind }) => (kind?.states ?? []).map(({ name }) => `${path}.${name}`))
}

/** Names of all that may run on at an operating point: positions, headings and attitudes of bodies, states of drives. */
export function runnableNames(machine: Part): string[] {
  return [
    ...jointKindsOf(machine).flatMap(({ name, kind }) =>
      [...placesOf(kind).map((one) => one.name), ...(kind.hasAttitude === true ? [heading, attitude] : [])].map(
        (one) => `${name}.${one}`,
      ),
    ),
    ...ownStates(machine),
  ]
}

/** Positions and speeds of a mechanism, parts of quaternions left out. */
export function motionQuantities(machine: Part): { readonly name: string; readonly unit: string }[] {
  return jointKindsOf(machine).flatMap(({ name, kind }) =>
    [...placesOf(kind), ...kind.speeds].map((one) => ({ name: `${name}.${one.name}`, unit: one.unit })),
  )
}

/** Names of all that an operating point may fix: positions, speeds, states of drives, what is asked, readings. */
export function fixableOf(machine: Part): string[] {
  return [
    ...readSignals(machine).map(({ name }) => name),
    ...motionQuantities(machine).map(({ name }) => name),
    ...askedNames(machine),
    ...ownStates(machine),
  ]
}

/**
 * What stands still in steady motion, each with the name of what would move: rates of positions, of an attitude its speeds
 * about axes of the body, and of one whose heading runs on those across the z axis of what it hangs on.
 */
export function stillIn(
  machine: Part,
  running: readonly string[],
  { tree, positions }: Assembly,
  { q, speeds }: { readonly q: readonly Scalar[]; readonly speeds: readonly Scalar[] },
): { readonly name: string; readonly rate: Scalar }[] {
  const runs = new Set(running)
  const bodies = bodiesOf(machine)
  const rates = positionRates(tree, { q, speeds })
  const [own, ownSpeeds] = [byBody(tree, 'positions', q), byBody(tree, 'speeds', speeds)]
  let at = 0
  return tree.bodies.flatMap(({ name }, i) => {
    const { hasAttitude } = findKind(joints, bodies[name]!.joint)!
    const first = at
    at += own[i]!.length
    const ofTurn = hasAttitude === true ? 4 : 0
    const ways = own[i]!.slice(ofTurn).flatMap((_, k) => {
      const { name: position } = positions[first + ofTurn + k]!
      return runs.has(position) ? [] : [{ name: position, rate: rates[first + ofTurn + k]! }]
    })
    if (ofTurn === 0 || runs.has(`${name}.${attitude}`)) return ways
    const turning = ownSpeeds[i]!.slice(0, 3) as unknown as Vector
    const across = applied(rotation(own[i]!.slice(0, 4) as unknown as Quaternion), turning)
    const turns = runs.has(`${name}.${heading}`) ? across.slice(0, 2) : turning
    return [...ways, ...turns.map((rate) => ({ name: `${name}.${attitude}`, rate }))]
  })
}
