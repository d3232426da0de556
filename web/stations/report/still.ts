import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { groundLevel, mechanism } from '@calm-hand/core/machine'
import { inScene, lightAround } from '@calm-hand/core/scene'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import * as THREE from 'three'
import { extentOf, lowestSurface, readPalette, sceneModel, stillOf, surfaces } from '../../scene'
import { meshesOf } from '../../state/meshes'
import { onPaper } from '../../state/paper'
import { moverOf, wayOf } from '../trials/stage/movers'
import { lookAt } from '../machineViews'
import { trailOf } from '../trials/stage/trail'
import type { TrialView } from '../trials/useTrialView'

/** Points of a still in a report: sharp at the width of a page. */
const [width, height] = [1400, 780]

interface StillOf extends Pick<TrialView, 'machine' | 'machineName'> {
  readonly scene?: Part | undefined
  readonly record?: RunRecord | undefined
  /** Of the record. */
  readonly row?: number
}

/** A machine where a row of a run has it, with its way and what stands around it; without a run as it is drawn. */
export async function machineStill({ machine, machineName, scene, record, row = 0 }: StillOf): Promise<string> {
  const palette = onPaper(readPalette)
  const meshes = await meshesOf(machine, scene)
  const mover = moverOf({ machine, machineName, held: undefined }, palette, meshes, 1)
  const group = new THREE.Group()
  group.add(mover.group)
  if (record !== undefined) group.add(trailOf(undefined, record, palette, (at) => wayOf(mover, record, at)))
  if (scene !== undefined) group.add(sceneModel(scene, palette, meshes))
  const surrounded = machine.kind === mechanism.name ? inScene(machine, scene) : undefined
  const ground = surrounded === undefined ? groundLevel(machine) : lowestSurface(surrounded)
  if (Object.keys(partsIn(surrounded?.surroundings)).length > 0) group.add(surfaces(surrounded!, palette).group)
  mover.place(record, row)
  group.updateMatrixWorld(true)
  return stillOf(group, palette, { width, height, ground, light: lightAround(surrounded ?? machine) }, ({ camera, target }) =>
    lookAt({ camera, target, draw: () => undefined }, mover.group, 'fixed', extentOf(mover.group)),
  )
}
