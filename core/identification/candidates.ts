import { findAt, partsIn } from '../document'
import type { Document, Part } from '../document'
import { overParameters } from '../formula'
import { labelOf } from '../kinds'
import type { NumberPlace } from '../kinds'
import { machineNumbers } from '../machine'
import { inScene, sceneOf } from '../scene'
import { changedBy, changingNumbers, overridden } from '../simulation'
import type { Direction } from '../simulation'

/** A number of the document that a simulation may have wrong. */
export interface Candidate {
  /** `parameters.rotorLag`, `bodies.hull.mass` of the machine, or `scenes.harbour.surroundings.wind.speed`. */
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly value: number
  readonly owner: 'machine' | 'parameter' | 'scene'
  /** How the numbers in a program's memory move with it, where it has a value. */
  direction(value: number): Direction
  /** What they are where it has another value. */
  at(value: number): ReadonlyMap<string, number>
}

/** What is drawn by chance, or limits and rounds what is told: a record does not say it by how a machine moves. */
const untold = /^sensors\..*(noise|drift|dropout|resolution|least|most|rate|delay)$/i

/**
 * Numbers that a fit may move: parameters of the document that the machine is written over, its own numbers, and those of the
 * scene. Formulas move with their parameters; a number that is 0 is structure, of which a program knows nothing.
 */
export function candidatesOf(written: Document, resolved: Document, trial: string): readonly Candidate[] {
  const { machine: name, overrides } = resolved.trials[trial]!
  const machine = resolved.machines[name]!
  const own = changingNumbers(machine).filter(({ path }) => !untold.test(path))
  const inMemory = (path: string) => `true.machines.${name}.${path}`
  const over = overParameters(
    written,
    machineNumbers(machine).map(({ path }) => `machines.${name}.${path}`),
  )
  const isFormula = new Set(over.paths)
  const placeOf = (path: string) => inMemory(path.slice(`machines.${name}.`.length))
  const parts = partsIn(resolved.parameters)
  const slopes = over.slopes(new Map())
  const changes = partsIn(overrides)
  const parameters = [...over.parameters].flatMap(([parameter, said], j): Candidate[] => {
    const moved = over.paths.flatMap((_, i) => (slopes[i]![j] === 0 ? [] : [i]))
    const value = changedBy(said, `parameters.${parameter}`, changes)
    if (moved.length === 0) return []
    const part = parts[parameter]!
    return [
      {
        ...{ name: `parameters.${parameter}`, label: labelOf(part, parameter), unit: String(part.unit ?? ''), value },
        owner: 'parameter',
        direction: (other) => {
          const there = over.slopes(new Map([[parameter, other]]))
          return new Map(moved.map((i) => [placeOf(over.paths[i]!), there[i]![j]!]))
        },
        at: (other) => {
          const values = over.values(new Map([[parameter, other]]))
          return new Map(moved.map((i) => [placeOf(over.paths[i]!), values[i]!]))
        },
      },
    ]
  })
  const plain = own.flatMap((place): Candidate[] =>
    isFormula.has(`machines.${name}.${place.path}`)
      ? []
      : [single(place, place.path, overridden(place.value, place.path, changes), 'machine', inMemory(place.path))],
  )
  return [...parameters, ...plain, ...ofScene(resolved, trial, machine, inMemory)]
}

function ofScene(resolved: Document, trial: string, machine: Part, inMemory: (path: string) => string): readonly Candidate[] {
  const scene = sceneOf(resolved, trial)
  const name = String(resolved.trials[trial]!.scene ?? '')
  if (scene === undefined) return []
  const here = new Set(machineNumbers(machine).map(({ path }) => path))
  return machineNumbers(inScene(machine, scene)).flatMap((place) => {
    const path = `scenes.${name}.${place.path}`
    if (here.has(place.path) || findAt(resolved, path) !== place.value) return []
    return [single(place, path, place.value, 'scene', inMemory(place.path))]
  })
}

function single({ words, unit }: NumberPlace, name: string, value: number, owner: Candidate['owner'], place: string): Candidate {
  return {
    ...{ name, label: words, unit, value, owner },
    direction: () => new Map([[place, 1]]),
    at: (other) => new Map([[place, other]]),
  }
}
