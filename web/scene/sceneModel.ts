import * as THREE from 'three'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import type { Mesh } from '@calm-hand/core/machine'
import { shapeSolid } from './mechanism'
import type { Palette } from './palette'
import { label, overLine } from './solids'

/** m: half of the cross that a mark is drawn as. */
const markSize = 0.15

/** What stands around: obstacles as pale solids, marks as crosses with their names. */
export function sceneModel(scene: Part, palette: Palette, meshes: ReadonlyMap<string, Mesh> = new Map()): THREE.Group {
  const group = new THREE.Group()
  for (const obstacle of Object.values(partsIn(scene.obstacles))) {
    const solid = shapeSolid(obstacle, { ...palette, matte: palette.matteShade }, meshes, 1)
    if (solid !== undefined) group.add(solid)
  }
  for (const [name, mark] of Object.entries(partsIn(scene.marks))) {
    const at = new THREE.Vector3(...(mark.at as [number, number, number]))
    for (const along of [new THREE.Vector3(1, 0, 0), new THREE.Vector3(0, 1, 0), new THREE.Vector3(0, 0, 1)]) {
      const arm = along.multiplyScalar(markSize)
      group.add(overLine([at.clone().sub(arm), at.clone().add(arm)], palette.kelp))
    }
    const words = label(labelOf(mark, name), palette)
    words.position.copy(at).add(new THREE.Vector3(0, 0, 2 * markSize))
    group.add(words)
  }
  return group
}
