import { parts, vector } from '../kinds'
import type { Kind } from '../kinds'
import { findKind } from '../kinds'
import { partsIn } from '../document'
import type { Document, Part } from '../document'
import { box, capsule, cylinder, meshShape, sphere, surroundings } from '../machine'
import type { Light } from '../machine'

/** A place with a name: a target, a berth. */
export const mark = {
  name: 'mark',
  label: 'mark',
  says: 'a mark',
  about: 'A named place: drawn, and something to go by.',
  slots: { at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }) },
} as const satisfies Kind & { readonly label: string }

/** What stands around: solids whose distance is known exactly. */
export const obstacles = [box, cylinder, sphere, capsule, meshShape]

export const scene = {
  name: 'scene',
  says: 'A scene.',
  about:
    'What is around a machine in the trials that share it: ground, air and wind, which act on the simulated machine, obstacles, which its feet touch and to which its clearance is known, and marks. A ground, density or water of the scene takes the place of that of the machine; winds add up. Operating points and designs keep the surroundings of the machine.',
  slots: {
    surroundings: parts({ label: 'ground and air', kinds: surroundings, optional: true }),
    obstacles: parts({ label: 'obstacles', kinds: obstacles, optional: true }),
    marks: parts({ label: 'marks', kinds: [mark], optional: true }),
  },
} as const satisfies Kind

/** What is around the machine of a trial, where it names a scene. */
export function sceneOf({ scenes, trials }: Document, trial: string): Part | undefined {
  return scenes?.[trials[trial]!.scene ?? '']
}

/** What a scene says in the place of the machine. */
const saidOnce = ['ground', 'density', 'water', 'light'] as const
type SaidOnce = (typeof saidOnce)[number]

/** The light that a machine stands in; nothing where none is said. */
export function lightAround(machine: Part): Light | undefined {
  const lit = Object.values(partsIn(machine.surroundings)).find((part) => findKind(surroundings, part)?.light !== undefined)
  return lit && findKind(surroundings, lit)!.light!(lit)
}

/** The scene as far as it moves something. */
export function thatActs(scene: Part): Part {
  const acting = Object.entries(partsIn(scene.surroundings)).filter(
    ([, part]) => findKind(surroundings, part)?.light === undefined,
  )
  return { ...scene, surroundings: Object.fromEntries(acting) }
}

/** The machine with what the scene has around it. */
export function inScene(machine: Part, given: Part | undefined): Part {
  const standing = partsIn(given?.obstacles)
  const around = Object.keys(standing).length === 0 ? machine : { ...machine, obstacles: standing }
  const added = Object.entries(partsIn(given?.surroundings))
  if (added.length === 0) return around
  const says = (what: SaidOnce) => added.some(([, one]) => findKind(surroundings, one)?.[what] !== undefined)
  const own = Object.entries(partsIn(machine.surroundings)).filter(([, one]) => {
    const kind = findKind(surroundings, one)
    return saidOnce.every((what) => kind?.[what] === undefined || !says(what))
  })
  const taken = new Set(own.map(([name]) => name))
  const named = added.map(([name, one]) => [taken.has(name) ? `${name}OfScene` : name, one] as const)
  return { ...around, surroundings: Object.fromEntries([...own, ...named]) }
}
