import * as THREE from 'three'
import type { Light } from '@calm-hand/core/machine'
import { clearDay, dress, lampsOf, nearAndFar, shine } from './dress'
import type { Palette } from './palette'

export interface StillChoices {
  /** Points. */
  readonly width: number
  readonly height: number
  /** m */
  readonly ground: number
  readonly light?: Light | undefined
}

/** What is looked at, and from where: as the named views of the stage do. */
export interface Looking {
  readonly camera: THREE.PerspectiveCamera
  readonly target: THREE.Vector3
}

/** A picture of a scene without a stage, as a data address (PNG). `look` places the camera once all stands. */
export function stillOf(
  group: THREE.Group,
  palette: Palette,
  { width, height, ground, light = clearDay }: StillChoices,
  look: (looking: Looking) => void,
): string {
  const gl = new THREE.WebGLRenderer({ antialias: true, preserveDrawingBuffer: true })
  try {
    gl.setSize(width, height, false)
    const scene = new THREE.Scene()
    const clothes = dress(scene, palette, ground, 0.5)
    shine(lampsOf(scene), light)
    scene.add(group)
    const camera = new THREE.PerspectiveCamera(34, width / height, ...nearAndFar)
    camera.up.set(0, 0, 1)
    const target = new THREE.Vector3()
    look({ camera, target })
    camera.lookAt(target)
    clothes.suit(target, camera)
    camera.updateMatrixWorld()
    gl.render(scene, camera)
    return gl.domElement.toDataURL('image/png')
  } finally {
    gl.dispose()
    gl.forceContextLoss()
  }
}
