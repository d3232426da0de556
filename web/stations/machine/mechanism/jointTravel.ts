import * as THREE from 'three'
import type { Placement } from '@calm-hand/core/algebra'
import type { Part } from '@calm-hand/core/document'
import { assemble, bodiesOf, numbersOf, placement, seatPose } from '@calm-hand/core/machine'
import { label, overBall, overLine, setPlacement } from '../../../scene'
import type { Palette } from '../../../scene'
import { withUnit } from '../../../units'
import type { Pose } from './usePose'

type Triple = readonly [number, number, number]

const tickEvery = Math.PI / 12

/** What is drawn of a joint's travel, and where its bead is at values of its coordinate, in the drawing. */
export interface JointTravel {
  readonly group: THREE.Group
  readonly samples: readonly { readonly value: number; readonly at: THREE.Vector3 }[]
}

/** The arc or rail along which the chosen body's joint moves, with its ends and where it is now. World axes. */
export function jointTravel(
  machine: Part,
  chosen: string,
  pose: Pose,
  poses: readonly Placement[],
  palette: Palette,
  size: number,
): JointTravel | undefined {
  const body = bodiesOf(machine)[chosen]
  const joint = body?.joint
  if (joint === undefined || pose.coordinate?.split('.')[0] !== chosen) return undefined
  if (joint.kind !== 'turning' && joint.kind !== 'sliding') return undefined
  const read = numbersOf(machine)
  const { seats } = assemble(machine, read)
  const group = new THREE.Group()
  const near = new THREE.Group()
  setPlacement(near, seatPose(seats.get(joint.on)!, poses))
  const frame = new THREE.Group()
  setPlacement(frame, placement(joint, `bodies.${chosen}.joint`, read))
  near.add(frame)
  group.add(near)
  const axis = new THREE.Vector3(...(joint.axis as Triple)).normalize()
  const points = joint.kind === 'turning' ? arcOf(axis, body!, size) : (value: number) => axis.clone().multiplyScalar(value)
  const { least, most, ended } = pose.travel
  const count = 64
  const values = Array.from({ length: count + 1 }, (_, i) => least + ((most - least) * i) / count)
  const path = values.map(points)
  frame.add(overLine(path, palette.kelp))
  const toWorld = near.matrix.clone().multiply(frame.matrix)
  const samples = values.map((value, i) => ({ value, at: path[i]!.clone().applyMatrix4(toWorld) }))
  if (joint.kind === 'turning') {
    const ticks: THREE.Vector3[] = []
    for (let angle = Math.ceil(least / tickEvery) * tickEvery; angle <= most; angle += tickEvery) {
      const at = points(angle)
      ticks.push(at.clone().multiplyScalar(0.97), at.clone().multiplyScalar(1.03))
    }
    frame.add(
      new THREE.LineSegments(
        new THREE.BufferGeometry().setFromPoints(ticks),
        new THREE.LineBasicMaterial({ color: palette.kelp, depthTest: false }),
      ),
    )
  }
  frame.add(overBall(points(pose.value), palette.kelp, size * 0.018))
  if (!ended) return { group, samples }
  for (const [value, words] of [
    [least, 'stop'],
    [most, 'stop'],
  ] as const) {
    const at = points(value)
    const text = label(`${withUnit(value, pose.unit, 3)} ${words}`, palette)
    text.position.copy(at.clone().multiplyScalar(1.08))
    frame.add(overBall(at, palette.coral, size * 0.014), text)
  }
  return { group, samples }
}

/** A circle about the axis through the body's own far side, so that the bead rides on it. */
function arcOf(axis: THREE.Vector3, body: Part, size: number): (angle: number) => THREE.Vector3 {
  const centre = new THREE.Vector3(...(body.centre as Triple))
  const across = centre.clone().addScaledVector(axis, -centre.dot(axis))
  if (across.length() < 0.02 * size) {
    across.set(1, 0, 0).addScaledVector(axis, -axis.x)
    if (across.length() < 0.1) across.set(0, 1, 0).addScaledVector(axis, -axis.y)
  }
  const radius = Math.max(1.25 * across.length(), 0.16 * size)
  const from = across.normalize().multiplyScalar(radius)
  return (angle) => from.clone().applyAxisAngle(axis, angle)
}
