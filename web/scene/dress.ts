import * as THREE from 'three'
import type { Light } from '@calm-hand/core/machine'
import { gridLines } from './solids'
import type { Palette } from './palette'

/** What surrounds a machine on the stage. */
export interface Clothes {
  /** Floor and grid under what is looked at, and a view as clear as it is far away. */
  readonly suit: (target: THREE.Vector3, camera: THREE.PerspectiveCamera) => void
  readonly takeOff: () => void
  /** Whether floor and grid are seen. */
  readonly show: (seen: boolean) => void
}

/** m: what the camera sees near by. */
const [nearest, farthest] = [0.05, 200]
export const nearAndFar = [nearest, farthest] as const

/** m: how far one sees near by; farther away in proportion. */
const [clearTo, hiddenFrom, nearBy] = [8, 30, 6]

/** The largest of 1, 2, 5, 10, 20, ... that is no more. */
function coarseness(times: number): number {
  const ten = 10 ** Math.floor(Math.log10(times))
  return ten * ([5, 2].find((one) => one * ten <= times) ?? 1)
}

export interface Lamps {
  readonly sun: THREE.DirectionalLight
  readonly sky: THREE.AmbientLight
}

const [sunAtNoon, skyAtNoon] = [1.3, 2.1]
/** The sun behind the shoulder. */
export const clearDay: Light = { towards: [3, -4, 8], sun: 1, sky: 1 }

export function lampsOf(scene: THREE.Scene): Lamps {
  const [sun, sky] = [new THREE.DirectionalLight('#ffffff'), new THREE.AmbientLight('#ffffff')]
  scene.add(sun, sky)
  return { sun, sky }
}

/** Sets lamps as a light has them. */
export function shine({ sun, sky }: Lamps, light: Light): void {
  sun.position.set(...light.towards)
  sun.intensity = sunAtNoon * light.sun
  sky.intensity = skyAtNoon * light.sky
}

/** Sky, fog, floor and grid. */
export function dress(scene: THREE.Scene, palette: Palette, ground: number, gridStep: number): Clothes {
  scene.background = new THREE.Color(palette.sky)
  const fog = new THREE.Fog(palette.sky, clearTo, hiddenFrom)
  scene.fog = fog
  const floor = new THREE.Mesh(new THREE.CircleGeometry(60, 48), new THREE.MeshBasicMaterial({ color: palette.ground }))
  floor.position.z = ground - 0.004
  const grid = gridLines(gridStep * 40, gridStep, ground, palette)
  scene.add(floor, grid)
  return {
    suit: ({ x, y }, camera) => {
      const times = Math.max(1, camera.position.distanceTo(new THREE.Vector3(x, y, ground)) / nearBy)
      // wider meshes from afar, of a size one can count in
      const wider = coarseness(times)
      const snapped = (value: number) => Math.round(value / (gridStep * wider)) * gridStep * wider
      grid.position.set(snapped(x), snapped(y), 0)
      grid.scale.set(wider, wider, 1)
      floor.position.set(x, y, floor.position.z)
      floor.scale.setScalar(times)
      fog.near = clearTo * times
      fog.far = hiddenFrom * times
      const [near, far] = [nearest * times, Math.max(farthest, 2 * fog.far)]
      if (camera.near === near && camera.far === far) return
      // what is near goes as well, or floor and grid could not be told apart in depth
      camera.near = near
      camera.far = far
      camera.updateProjectionMatrix()
    },
    takeOff: () => void scene.remove(floor, grid),
    show: (seen) => void (floor.visible = grid.visible = seen),
  }
}
