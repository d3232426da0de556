import type * as THREE from 'three'
import { extentOf } from '../scene'
import type { StageHandle } from '../scene'

export type MachineView = 'fixed' | 'top' | 'side' | 'front'

/** Directions from the middle of a machine, in its own size. */
const directions: Readonly<Record<MachineView, readonly [number, number, number]>> = {
  fixed: [2, -2.7, 1.35],
  top: [0.01, -0.01, 3.7],
  side: [0, -3.6, 0.18],
  front: [3.6, 0, 0.18],
}
export const machineViews = Object.keys(directions) as MachineView[]

/** Height over width of a view from which on its width is what counts. */
const wholeAt = 1.15

/** Looks at all of a machine from a named side, or at all that it passes through. */
export function lookAt(
  stage: Pick<StageHandle, 'camera' | 'target' | 'draw'>,
  machine: THREE.Object3D,
  view: MachineView,
  extent = extentOf(machine),
): void {
  const { centre, radius } = extent
  stage.target.copy(centre)
  stage.camera.position
    .set(...directions[view])
    .multiplyScalar(radius * Math.max(1, wholeAt / stage.camera.aspect))
    .add(centre)
  stage.draw()
}
