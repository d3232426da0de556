import * as THREE from 'three'
import { groundUnder, waterAt } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import type { Palette } from './palette'

/** m: how far surfaces are drawn from the origin, and cells on a side. */
const [reach, cells] = [40, 48]

type Heights = (x: number, y: number) => number

function sheet(heights: Heights): THREE.PlaneGeometry {
  const geometry = new THREE.PlaneGeometry(2 * reach, 2 * reach, cells, cells)
  lay(geometry, heights)
  return geometry
}

function lay(geometry: THREE.PlaneGeometry, heights: Heights): void {
  const places = geometry.getAttribute('position')
  for (let i = 0; i < places.count; i++) places.setZ(i, heights(places.getX(i), places.getY(i)))
  places.needsUpdate = true
}

function lowestOf(geometry: THREE.PlaneGeometry): number {
  geometry.computeBoundingBox()
  return geometry.boundingBox!.min.z
}

/** Lines along x and y of a sheet, so that its shape is seen. */
function net(geometry: THREE.PlaneGeometry, color: string, opacity: number): THREE.LineSegments {
  const index: number[] = []
  const side = cells + 1
  for (let row = 0; row < side; row += 2)
    for (let i = 0; i < cells; i++) index.push(row * side + i, row * side + i + 1, i * side + row, (i + 1) * side + row)
  const lines = new THREE.BufferGeometry()
  lines.setAttribute('position', geometry.getAttribute('position'))
  lines.setIndex(index)
  return new THREE.LineSegments(lines, new THREE.LineBasicMaterial({ color, transparent: true, opacity }))
}

export interface Surfaces {
  readonly group: THREE.Group
  /** Puts water where it is at a time, s. */
  readonly place: (time: number) => void
}

/** The ground around a machine where it is not level, and the water. */
export function surfaces(machine: Part, palette: Palette): Surfaces {
  const group = new THREE.Group()
  const land = sheet(groundUnder(machine))
  land.computeBoundingBox()
  if (land.boundingBox!.max.z - land.boundingBox!.min.z > 1e-6) {
    group.add(new THREE.Mesh(land, new THREE.MeshBasicMaterial({ color: palette.ground, side: THREE.DoubleSide })))
    group.add(net(land, palette.grid, 0.8))
  }
  const at = waterAt(machine)
  if (at === undefined) return { group, place: () => undefined }
  const water = sheet((x, y) => at(x, y, 0))
  // a net alone: a skin that is seen through takes longer than all else of a picture
  group.add(net(water, palette.slate, 0.5))
  return { group, place: (time) => lay(water, (x, y) => at(x, y, time)) }
}

/** m: under everything that is drawn of ground and water, where the level floor lies. */
export function lowestSurface(machine: Part): number {
  const at = waterAt(machine)
  const land = lowestOf(sheet(groundUnder(machine)))
  return at === undefined ? land : Math.min(land, lowestOf(sheet((x, y) => at(x, y, 0))))
}
