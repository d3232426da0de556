import * as THREE from 'three'
import {
  bodiesOf,
  bodyPoses,
  findSeatAxes,
  inertiaEllipsoid,
  massAndCentre,
  seatPose,
  shortName,
  supportPolygon,
} from '@calm-hand/core/machine'
import type { Assembly, BodyLoad } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import { setPlacement } from './mechanism'
import type { Palette } from './palette'
import { arrow, label, overBall, overLine } from './solids'

/** What can be drawn over a machine, in the order people see. */
export const annotationNames = {
  frames: 'frames of the bodies',
  axes: 'joint axes',
  centres: 'centres of mass',
  ellipsoids: 'inertia as ellipsoids',
  support: 'support polygon',
  weights: 'weights',
  forces: 'what acts on the chosen body at rest',
  distance: 'distance and angle to another frame',
} as const
export type AnnotationName = keyof typeof annotationNames

type Triple = readonly [number, number, number]

/** Share of the machine's size that the largest force is long. */
const longestForce = 0.7

/** Forces on one body as arrows with what they come from, moments as arrows with two heads. */
export function forceArrows(machine: Part, loads: readonly BodyLoad[], palette: Palette, size: number): THREE.Group {
  const group = new THREE.Group()
  const sizes = (vectors: readonly (readonly number[])[]) => Math.max(1e-9, ...vectors.map((vector) => Math.hypot(...vector)))
  const [mostForce, mostMoment] = [sizes(loads.map(({ force }) => force)), sizes(loads.map(({ moment }) => moment))]
  for (const { from, sort, at, force, moment } of loads) {
    const color = { weight: palette.plum, joint: palette.ink, effect: palette.ochre, chain: palette.kelp }[sort]
    const draw = (vector: Triple, most: number, heads: 1 | 2) => {
      const own = new THREE.Vector3(...vector)
      if (own.length() < 1e-3 * most) return
      const length = size * Math.max(0.1, (longestForce * own.length()) / most)
      const drawn = arrow(own, length, color, 0.007 * size, heads)
      drawn.position.set(...at)
      const words = label(`${shortName(from, machine)} ${wordsOf(own.length(), heads === 1 ? 'N' : 'N·m')}`, palette)
      words.position.set(...at).addScaledVector(own.normalize(), length)
      group.add(drawn, words)
    }
    draw(force, mostForce, 1)
    draw(moment, mostMoment, 2)
  }
  return group
}

function wordsOf(value: number, unit: string): string {
  return `${Number(value.toPrecision(3))} ${unit}`
}

/** Chosen annotations of a mechanism in a pose. `size` is about half the machine, m. */
export function annotations(
  machine: Part,
  assembly: Assembly,
  q: readonly number[],
  shown: ReadonlySet<AnnotationName>,
  palette: Palette,
  size: number,
): THREE.Group {
  const group = new THREE.Group()
  const poses = bodyPoses(assembly.tree, q)
  const bodies = Object.entries(bodiesOf(machine))
  const whole = massAndCentre(assembly.tree, poses)
  const mass = whole.mass as number
  const centre = new THREE.Vector3(...(whole.centre as Triple))
  for (const [name, body] of bodies) {
    const at = new THREE.Group()
    setPlacement(at, seatPose(assembly.seats.get(name)!, poses))
    group.add(at)
    const own = new THREE.Vector3(...body.centre)
    if (shown.has('frames')) at.add(frame(0.16 * size, palette))
    if (shown.has('axes'))
      for (const axis of findSeatAxes(body.joint)) at.add(axisLine(new THREE.Vector3(...axis), 0.35 * size, palette))
    if (shown.has('centres') && body.mass > 0) at.add(overBall(own, palette.ink, 0.016 * size))
    if (shown.has('ellipsoids')) {
      const solid = ellipsoid(body, own, palette)
      if (solid !== undefined) at.add(solid)
    }
    if (shown.has('weights') && body.mass > 0) {
      const down = arrow(new THREE.Vector3(0, 0, -1), size * Math.max(0.12, (0.6 * body.mass) / mass), palette.plum, 0.008 * size)
      down.position.copy(own.applyMatrix4(at.matrix))
      group.add(down)
    }
  }
  if (shown.has('centres')) {
    group.add(overBall(centre, palette.kelp, 0.03 * size))
    group.add(overLine([centre, new THREE.Vector3(centre.x, centre.y, 0)], palette.kelp))
  }
  if (shown.has('support')) {
    const corners = supportPolygon(machine, assembly, poses).map(([x, y]) => new THREE.Vector3(x, y, 0.002))
    if (corners.length > 1) group.add(overLine([...corners, corners[0]!], palette.kelp))
  }
  return group
}

/** x, y and z as one, two and three strokes at their tips, so that no colour is needed to tell them. */
function frame(length: number, palette: Palette): THREE.Object3D {
  const group = new THREE.Group()
  const units = [new THREE.Vector3(1, 0, 0), new THREE.Vector3(0, 1, 0), new THREE.Vector3(0, 0, 1)]
  const colors = [palette.ink, palette.kelp, palette.slate]
  units.forEach((unit, i) => {
    const across = units[(i + 1) % 3]!.clone().multiplyScalar(0.09 * length)
    const points = [new THREE.Vector3(), unit.clone().multiplyScalar(length)]
    for (let stroke = 0; stroke <= i; stroke++) {
      const at = unit.clone().multiplyScalar(length * (1 - 0.1 * stroke))
      points.push(at.clone().add(across), at.clone().sub(across))
    }
    group.add(segments(points, colors[i]!))
  })
  return group
}

function axisLine(axis: THREE.Vector3, half: number, palette: Palette): THREE.Object3D {
  const along = axis.normalize().multiplyScalar(half)
  const drawn = overLine([along.clone().negate(), along], palette.ochre)
  drawn.computeLineDistances()
  drawn.material = new THREE.LineDashedMaterial({
    color: palette.ochre,
    dashSize: half / 8,
    gapSize: half / 16,
    depthTest: false,
  })
  return drawn
}

function ellipsoid(body: Part, centre: THREE.Vector3, palette: Palette): THREE.Object3D | undefined {
  const found = inertiaEllipsoid(body.mass as number, body.inertia as readonly number[])
  if (found === undefined) return undefined
  const mesh = new THREE.Mesh(
    new THREE.SphereGeometry(1, 18, 10),
    new THREE.MeshBasicMaterial({ color: palette.slate, wireframe: true, transparent: true, opacity: 0.35, depthTest: false }),
  )
  const [x, y, z] = [0, 1, 2].map((k) => new THREE.Vector3(...(found.axes.map((row) => row[k]!) as unknown as Triple)))
  mesh.quaternion.setFromRotationMatrix(new THREE.Matrix4().makeBasis(x!, y!, z!))
  mesh.scale.set(...(found.halfAxes as unknown as Triple))
  mesh.position.copy(centre)
  return mesh
}

function segments(points: readonly THREE.Vector3[], color: string): THREE.LineSegments {
  const drawn = new THREE.LineSegments(
    new THREE.BufferGeometry().setFromPoints([...points]),
    new THREE.LineBasicMaterial({ color, depthTest: false, transparent: true }),
  )
  drawn.renderOrder = 7
  return drawn
}
