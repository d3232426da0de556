import * as THREE from 'three'
import type { Placement } from '@calm-hand/core/algebra'
import { assemble, numbersOf, seatPose } from '@calm-hand/core/machine'
import type { Assembly } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import type { Palette } from './palette'
import { inked } from './solids'

type Triple = readonly [number, number, number]

export interface MechanismModel {
  readonly group: THREE.Group
  readonly assembly: Assembly
  /** Puts every body where these poses of the tree say. */
  readonly place: (poses: readonly Placement[]) => void
  /** Everything that is drawn of a body. */
  readonly bodies: ReadonlyMap<string, THREE.Group>
}

/** A mechanism as its document describes it: each body's shapes in its own group. */
export function mechanismModel(machine: Part, palette: Palette, chosen?: string, opacity = 1): MechanismModel {
  const assembly = assemble(machine, numbersOf(machine))
  const group = new THREE.Group()
  const bodies = new Map<string, THREE.Group>()
  for (const [name, body] of Object.entries(machine.bodies as Readonly<Record<string, Part>>)) {
    const drawn = new THREE.Group()
    drawn.name = name
    const edge = name === chosen ? palette.kelp : palette.edge
    for (const shape of Object.values((body.shapes ?? {}) as Readonly<Record<string, Part>>)) {
      const solid = shapeSolid(shape, { ...palette, edge }, opacity)
      if (solid !== undefined) drawn.add(solid)
    }
    bodies.set(name, drawn)
    group.add(drawn)
  }
  return {
    group,
    assembly,
    bodies,
    place: (poses) => {
      for (const [name, drawn] of bodies) setPlacement(drawn, seatPose(assembly.seats.get(name)!, poses))
    },
  }
}

export function setPlacement(object: THREE.Object3D, { rotation, position }: Placement): void {
  const [a, b, c] = rotation as readonly [Triple, Triple, Triple]
  const [x, y, z] = position as Triple
  object.matrixAutoUpdate = false
  object.matrix.set(...a, x, ...b, y, ...c, z, 0, 0, 0, 1)
  object.matrixWorldNeedsUpdate = true
}

function shapeSolid(shape: Part, palette: Palette, opacity: number): THREE.Group | undefined {
  const geometry = geometryOf(shape)
  if (geometry === undefined) return undefined
  const solid = inked(geometry, palette.matte, palette, opacity)
  solid.position.set(...(shape.at as Triple))
  const [x, y, z] = shape.turned as Triple
  solid.rotation.set(x, y, z, 'ZYX') // about fixed x, then y, then z
  return solid
}

function geometryOf(shape: Part): THREE.BufferGeometry | undefined {
  switch (shape.kind) {
    case 'box':
      return new THREE.BoxGeometry(...(shape.size as Triple))
    case 'cylinder':
      return new THREE.CylinderGeometry(shape.radius as number, shape.radius as number, shape.length as number, 24).rotateX(
        Math.PI / 2,
      )
    case 'sphere':
      return new THREE.SphereGeometry(shape.radius as number, 20, 14)
    default:
      return undefined
  }
}

/** Half the extent of everything drawn, m, about its middle. */
export function extentOf(group: THREE.Object3D): { readonly centre: THREE.Vector3; readonly radius: number } {
  group.updateMatrixWorld(true)
  const box = new THREE.Box3().setFromObject(group)
  if (box.isEmpty()) return { centre: new THREE.Vector3(), radius: 1 }
  return { centre: box.getCenter(new THREE.Vector3()), radius: Math.max(0.2, box.getSize(new THREE.Vector3()).length() / 2) }
}
