import * as THREE from 'three'
import type { Palette } from './palette'
import { inked } from './solids'

/** The gallery that Lamplighter rises to: tower, walk with railing, lantern. Scenery only; nothing collides. */
export function lighthouse(gallery: number, ground: number, palette: Palette): THREE.Group {
  const group = new THREE.Group()
  const add = (geometry: THREE.BufferGeometry, z: number, color = palette.matte) => {
    const solid = inked(geometry.rotateX(Math.PI / 2), color, palette, 1)
    solid.position.z = z
    group.add(solid)
  }
  const height = gallery - ground
  add(new THREE.CylinderGeometry(0.95, 1.25, height, 20), ground + height / 2)
  add(new THREE.CylinderGeometry(1.5, 1.35, 0.12, 24), gallery - 0.06, palette.matteShade)
  add(new THREE.CylinderGeometry(0.75, 0.75, 0.5, 12), gallery + 0.25, palette.matteShade)
  add(new THREE.CylinderGeometry(0.72, 0.72, 0.95, 12, 1, true), gallery + 0.97, palette.sky)
  add(new THREE.CylinderGeometry(0.05, 0.9, 0.5, 12), gallery + 1.7)
  const rails: number[] = []
  const radius = 1.42
  for (let i = 0; i < 24; i++) {
    const [a, b] = [(i * Math.PI) / 12, ((i + 1) * Math.PI) / 12]
    const at = (angle: number, z: number) => [radius * Math.cos(angle), radius * Math.sin(angle), gallery + z]
    rails.push(...at(a, 0), ...at(a, 0.42), ...at(a, 0.42), ...at(b, 0.42), ...at(a, 0.22), ...at(b, 0.22))
  }
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(rails, 3))
  group.add(new THREE.LineSegments(geometry, new THREE.LineBasicMaterial({ color: palette.edge })))
  return group
}
