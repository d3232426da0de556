import * as THREE from 'three'
import type { Placement } from '@calm-hand/core/algebra'
import { assemble, bodiesOf, numbersOf, scaledMesh, seatPose } from '@calm-hand/core/machine'
import type { Assembly, Mesh } from '@calm-hand/core/machine'
import { rememberedOf } from '@calm-hand/core/document'
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
export function mechanismModel(
  machine: Part,
  palette: Palette,
  chosen?: string,
  meshes: ReadonlyMap<string, Mesh> = new Map(),
  opacity = 1,
): MechanismModel {
  const assembly = assemble(machine, numbersOf(machine))
  const group = new THREE.Group()
  const bodies = new Map<string, THREE.Group>()
  const parts = bodiesOf(machine)
  for (const [name, body] of Object.entries(parts)) {
    const drawn = new THREE.Group()
    drawn.name = name
    const edge = name === chosen ? palette.kelp : palette.edge
    for (const shape of Object.values(body.shapes ?? {})) {
      const solid = shapeSolid(shape, { ...palette, edge }, meshes, opacity)
      if (solid !== undefined) drawn.add(solid)
    }
    const hasShape = Object.keys(body.shapes ?? {}).length > 0
    if (!hasShape && body.mass > 0) drawn.add(stickOf(name, parts, { ...palette, edge }, opacity))
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

/** kg/m³, of steel: the ball is no larger than the body may be. */
const usualDensity = 7850
/** m */
const leastBall = 0.03

/** A body that has no shape yet: a ball at its centre of mass, and bars to its joint and to what hangs on it. */
function stickOf(name: string, parts: Readonly<Record<string, Part>>, palette: Palette, opacity: number): THREE.Group {
  const { mass, centre } = parts[name] as unknown as { readonly mass: number; readonly centre: Triple }
  const radius = Math.max(leastBall, Math.cbrt((3 * mass) / (4 * Math.PI * usualDensity)))
  const ball = inked(new THREE.SphereGeometry(radius, 20, 14), palette.matte, palette, opacity)
  ball.position.set(...centre)
  const hung = Object.values(parts).flatMap(({ joint }) => ((joint as Part).on === name ? [(joint as Part).at as Triple] : []))
  const stick = new THREE.Group().add(ball)
  for (const end of [centre, ...hung]) {
    const along = new THREE.Vector3(...end)
    if (along.length() < 1e-6) continue
    const bar = inked(new THREE.CylinderGeometry(radius / 4, radius / 4, along.length(), 16), palette.matte, palette, opacity)
    bar.position.copy(along).multiplyScalar(0.5)
    bar.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), along.clone().normalize())
    stick.add(bar)
  }
  return stick
}

export function setPlacement(object: THREE.Object3D, { rotation, position }: Placement): void {
  const [a, b, c] = rotation as readonly [Triple, Triple, Triple]
  const [x, y, z] = position as Triple
  object.matrixAutoUpdate = false
  object.matrix.set(...a, x, ...b, y, ...c, z, 0, 0, 0, 1)
  object.matrixWorldNeedsUpdate = true
}

/** A shape where it stands on what it belongs to; nothing of a mesh that is not at hand. */
export function shapeSolid(
  shape: Part,
  palette: Palette,
  meshes: ReadonlyMap<string, Mesh>,
  opacity: number,
): THREE.Group | undefined {
  const geometry = shape.kind === 'mesh' ? meshGeometry(shape, meshes) : solidGeometry(shape)
  if (geometry === undefined) return undefined
  const isFine = geometry.attributes.position!.count > mostInkedCorners
  const solid = inked(geometry, palette.matte, palette, opacity, !isFine)
  solid.position.set(...(shape.at as Triple))
  const [x, y, z] = shape.turned as Triple
  solid.rotation.set(x, y, z, 'ZYX') // about fixed x, then y, then z
  return solid
}

/** Finer meshes are drawn without the ink of their creases, which takes seconds to find. */
const mostInkedCorners = 120_000

/** Triangles with a normal each. Kept with the mesh: an edit of the machine does not read it again. */
const geometries = new WeakMap<Mesh, Map<string, THREE.BufferGeometry>>()

function meshGeometry(shape: Part, meshes: ReadonlyMap<string, Mesh>): THREE.BufferGeometry | undefined {
  const mesh = meshes.get((shape.mesh as string | undefined) ?? '')
  if (mesh === undefined) return undefined
  const scale = shape.scale as Triple
  return rememberedOf(geometries, mesh, scale.join(), () => trianglesOf(mesh, scale))
}

function trianglesOf(mesh: Mesh, scale: Triple): THREE.BufferGeometry {
  const { vertices, triangles } = scaledMesh(mesh, scale)
  const indexed = new THREE.BufferGeometry()
  indexed.setAttribute('position', new THREE.Float32BufferAttribute(vertices, 3))
  indexed.setIndex(new THREE.BufferAttribute(triangles, 1))
  const geometry = indexed.toNonIndexed()
  geometry.computeVertexNormals()
  return geometry
}

/** By shape, which nobody changes in place. */
const solids = new WeakMap<Part, Map<string, THREE.BufferGeometry | undefined>>()

function solidGeometry(shape: Part): THREE.BufferGeometry | undefined {
  return rememberedOf(solids, shape, '', () => geometryOf(shape))
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
    case 'capsule':
      return new THREE.CapsuleGeometry(shape.radius as number, shape.length as number, 10, 24).rotateX(Math.PI / 2)
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
