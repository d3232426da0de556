import * as THREE from 'three'
import type { Part } from '@calm-hand/core/document'
import { followed } from '@calm-hand/core/machine'
import type { Palette } from './palette'
import { inked } from './solids'

type Triple = readonly [number, number, number]

/** A simple figure that points along x, its middle at the origin: a boat, a wing with a tail, a cart, a disc, a block. */
export function plainFigure(shape: string, size: number, palette: Palette, opacity = 1): THREE.Group {
  const group = new THREE.Group()
  const add = (geometry: THREE.BufferGeometry, at: Triple = [0, 0, 0]) => {
    const solid = inked(geometry, palette.matte, palette, opacity)
    solid.position.set(...at)
    group.add(solid)
  }
  const box = (x: number, y: number, z: number) => new THREE.BoxGeometry(x * size, y * size, z * size)
  const at = (x: number, y: number, z: number): Triple => [x * size, y * size, z * size]
  switch (shape) {
    case 'boat':
      add(hull(size))
      add(box(0.26, 0.2, 0.14), at(-0.06, 0, 0.16))
      break
    case 'wing':
      add(box(1, 0.09, 0.09))
      add(box(0.17, 1.3, 0.02), at(0.1, 0, 0.03))
      add(box(0.1, 0.42, 0.015), at(-0.44, 0, 0.03))
      add(box(0.12, 0.015, 0.18), at(-0.43, 0, 0.12))
      break
    case 'cart':
      add(box(1, 0.6, 0.18), at(0, 0, 0.2))
      for (const x of [-0.3, 0.3])
        for (const y of [-0.33, 0.33]) add(new THREE.CylinderGeometry(0.11 * size, 0.11 * size, 0.06 * size, 20), at(x, y, 0.11))
      break
    case 'disc':
      add(new THREE.CylinderGeometry(size / 2, size / 2, 0.08 * size, 40).rotateX(Math.PI / 2))
      add(box(0.42, 0.03, 0.02), at(0.24, 0, 0.05))
      break
    default:
      add(box(1, 0.5, 0.3))
      add(box(0.2, 0.1, 0.1), at(0.6, 0, 0))
  }
  return group
}

/** Puts a figure where the signals that it follows are, in its own lengths, so that a boat and a toy look alike. */
export function placeFigure(drawn: THREE.Object3D, figure: Part, valueOf: (signal: string) => number): void {
  const [x, y, z, roll, pitch, yaw] = followed.map((slot) => {
    const signal = figure[slot] as string | undefined
    return signal ? valueOf(signal) : 0
  }) as [number, number, number, number, number, number]
  const size = figure.size as number
  drawn.position.set(x / size, y / size, z / size)
  drawn.rotation.set(roll, pitch, yaw, 'ZYX')
}

/** A pointed deck drawn down to a keel. */
function hull(size: number): THREE.BufferGeometry {
  const deck = new THREE.Shape()
  const [half, beam] = [size / 2, size / 6]
  deck.moveTo(-half, -beam * 0.85)
  deck.lineTo(half * 0.35, -beam)
  deck.quadraticCurveTo(half * 0.8, -beam * 0.7, half, 0)
  deck.quadraticCurveTo(half * 0.8, beam * 0.7, half * 0.35, beam)
  deck.lineTo(-half, beam * 0.85)
  deck.closePath()
  return new THREE.ExtrudeGeometry(deck, { depth: 0.18 * size, bevelEnabled: false }).translate(0, 0, -0.09 * size)
}
