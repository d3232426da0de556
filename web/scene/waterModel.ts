import * as THREE from 'three'
import { waterAt } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import type { Palette } from './palette'

/** m: how far the water is drawn from the origin, and cells on a side. */
const [reach, cells] = [30, 40]

export interface WaterModel {
  readonly mesh: THREE.Mesh
  /** Puts its surface where it is at a time, s. */
  readonly place: (time: number) => void
}

/** The surface of the water around a machine; nothing where it has none. */
export function waterModel(machine: Part, palette: Palette): WaterModel | undefined {
  const at = waterAt(machine)
  if (at === undefined) return undefined
  const geometry = new THREE.PlaneGeometry(2 * reach, 2 * reach, cells, cells)
  const color = new THREE.Color(palette.slate)
  const skin = new THREE.MeshBasicMaterial({ color, transparent: true, opacity: 0.14, side: THREE.DoubleSide, depthWrite: false })
  const mesh = new THREE.Mesh(geometry, skin)
  const net = new THREE.Mesh(geometry, new THREE.MeshBasicMaterial({ color, wireframe: true, transparent: true, opacity: 0.16 }))
  mesh.add(net)
  const places = geometry.getAttribute('position')
  const place = (time: number) => {
    for (let i = 0; i < places.count; i++) places.setZ(i, at(places.getX(i), places.getY(i), time))
    places.needsUpdate = true
  }
  place(0)
  return { mesh, place }
}
