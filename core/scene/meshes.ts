import { done, partsIn, refused, rememberedOf } from '../document'
import type { Document, Outcome, Problem } from '../document'
import { partOf } from '../kinds'
import { fileSteps, isBodiless, meshProblems, meshShape, meshTree, scaledMesh } from '../machine'
import type { FindMesh, Mesh, MeshTree } from '../machine'
import { sceneOf } from './scene'

/** By mesh and scale: what is wrong with it, or its tree. */
const looked = new WeakMap<Mesh, Map<string, readonly Problem[] | MeshTree>>()

/**
 * The meshes that stand around the machine of a trial as trees, by the name of the obstacle. Refused where one is not at hand,
 * open, or inside out: nothing could say what is inside it.
 */
export function meshesAround(
  document: Document,
  trial: string,
  findMesh: FindMesh = () => undefined,
): Outcome<ReadonlyMap<string, MeshTree>> {
  const { machine, scene } = document.trials[trial]!
  const trees = new Map<string, MeshTree>()
  const problems: Problem[] = []
  if (isBodiless(document.machines[machine]!)) return done(trees)
  for (const [name, part] of Object.entries(partsIn(sceneOf(document, trial)?.obstacles))) {
    if (part.kind !== meshShape.name) continue
    const where = `scenes.${scene}.obstacles.${name}`
    const { mesh: hash, file, scale } = partOf(meshShape, part)
    const mesh = findMesh(hash ?? '')
    if (mesh === undefined) {
      const what = `The mesh ${fileSteps(file).at(-1) ?? 'without a name'} is not here.`
      problems.push({ where, what, remedy: 'Give its file where the scene is said, or take it out of the scene.' })
      continue
    }
    const found = rememberedOf(looked, mesh, scale.join(' '), () => {
      const scaled = scaledMesh(mesh, scale)
      const wrong = meshProblems('', scaled)
      return wrong.length > 0 ? wrong : meshTree(scaled)
    })
    if ('skips' in found) trees.set(name, found)
    else problems.push(...found.map((problem) => ({ ...problem, where })))
  }
  return problems.length > 0 ? refused(problems) : done(trees)
}
