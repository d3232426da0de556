// @vitest-environment jsdom
import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import { bodiesOf, bodyPoses, closedPose } from '@calm-hand/core/machine'
import { demo, demoNames } from '../../core/tests/demo'
import '../../core/tests/matchers'
import { bodyPart, jointPart, mechanismPart } from '../../core/tests/parts'
import { extentOf, mechanismModel, setPlacement } from './mechanism'
import type { Palette } from './palette'

const palette = Object.fromEntries(
  ['sky', 'ground', 'grid', 'matte', 'matteShade', 'dark', 'edge', 'ink', 'kelp', 'ochre', 'coral', 'chalk'].map((role) => [
    role,
    '#888888',
  ]),
) as unknown as Palette

const mechanisms = demoNames
  .map((name) => ({ name, machine: Object.values(demo(name).machines)[0]! }))
  .filter(({ machine }) => machine.kind === 'mechanism')

/** Draw calls and triangles of what is drawn. */
function costOf(group: THREE.Object3D): { calls: number; triangles: number } {
  let [calls, triangles] = [0, 0]
  group.traverse((object) => {
    if (!(object instanceof THREE.Mesh) && !(object instanceof THREE.LineSegments)) return
    calls++
    const geometry = object.geometry as THREE.BufferGeometry
    if (object instanceof THREE.Mesh) triangles += (geometry.index?.count ?? geometry.attributes.position!.count) / 3
  })
  return { calls, triangles }
}

describe.each(mechanisms)('$name in 3D', ({ machine }) => {
  const model = mechanismModel(machine, palette)
  const q = closedPose(machine, model.assembly.start, [])!
  model.place(bodyPoses(model.assembly.tree, q))

  it('has a group for each body, at most 150 draw calls and 300,000 triangles', () => {
    expect([...model.bodies.keys()]).toEqual(Object.keys(bodiesOf(machine)))
    const { calls, triangles } = costOf(model.group)
    expect(calls).toBeLessThanOrEqual(150)
    expect(triangles).toBeLessThanOrEqual(300_000)
  })

  it('is drawn within a few metres of where it stands', () => {
    const { centre, radius } = extentOf(model.group)
    expect(centre.length()).toBeLessThan(10)
    expect(radius).toBeLessThan(10)
    expect(radius).toBeGreaterThan(0.05)
  })
})

describe('a placement', () => {
  it('puts an object where its rows and position say', () => {
    const object = new THREE.Object3D()
    setPlacement(object, {
      rotation: [
        [0, -1, 0],
        [1, 0, 0],
        [0, 0, 1],
      ],
      position: [1, 2, 3],
    })
    object.updateMatrixWorld(true)
    const moved = new THREE.Vector3(1, 0, 0).applyMatrix4(object.matrixWorld)
    expect([moved.x, moved.y, moved.z]).toEqual([1, 3, 3]) // a quarter turn about z
  })
})

describe('shapes', () => {
  it('turn about fixed x, then y, then z, as placements of the core do', () => {
    const shape = { kind: 'box', at: [0, 0, 0], turned: [Math.PI / 2, 0, Math.PI / 2], size: [2, 0.2, 0.4] }
    const joint = { kind: 'turning', on: 'ground', at: [0, 0, 0], turned: [0, 0, 0], axis: [0, 0, 1], start: 0 }
    const body = { kind: 'linkedBody', mass: 1, centre: [0, 0, 0], inertia: [1, 1, 1, 0, 0, 0], joint, shapes: { a: shape } }
    const model = mechanismModel({ kind: 'mechanism', gravity: 9.80665, bodies: { body } }, palette)
    model.place(bodyPoses(model.assembly.tree, [0]))
    model.group.updateMatrixWorld(true)
    const size = new THREE.Box3().setFromObject(model.group).getSize(new THREE.Vector3())
    // x (2 m) stays along x for the first turn, and goes to y with the last; z (0.4) goes to -y, then to x
    expect([size.x, size.y, size.z].map((value) => Number(value.toFixed(6)))).toEqual([0.4, 2, 0.2])
  })

  it('of kinds that are not drawn leave the body without a picture', () => {
    const joint = { kind: 'turning', on: 'ground', at: [0, 0, 0], turned: [0, 0, 0], axis: [0, 0, 1], start: 0 }
    const shapes = { a: { kind: 'mesh', at: [0, 0, 0], turned: [0, 0, 0], file: 'hull.stl', scale: [1, 1, 1] } }
    const body = { kind: 'linkedBody', mass: 1, centre: [0, 0, 0], inertia: [1, 1, 1, 0, 0, 0], joint, shapes }
    const model = mechanismModel({ kind: 'mechanism', gravity: 9.80665, bodies: { body } }, palette)
    expect(model.bodies.get('body')!.children).toHaveLength(0)
    expect(extentOf(model.group).radius).toBe(1)
  })

  it('from a mesh have its size and scale, a mirrored one with its faces outward', () => {
    const corner = {
      vertices: Float64Array.of(0, 0, 0, 2, 0, 0, 0, 3, 0, 0, 0, 4),
      triangles: Uint32Array.of(0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3),
    }
    const joint = { kind: 'turning', on: 'ground', at: [0, 0, 0], turned: [0, 0, 0], axis: [0, 0, 1], start: 0 }
    const shapes = { a: { kind: 'mesh', at: [0, 0, 1], turned: [0, 0, 0], file: 'a.stl', mesh: 'hash', scale: [-1, 1, 0.5] } }
    const body = { kind: 'linkedBody', mass: 1, centre: [0, 0, 0], inertia: [1, 1, 1, 0, 0, 0], joint, shapes }
    const model = mechanismModel(
      { kind: 'mechanism', gravity: 9.80665, bodies: { body } },
      palette,
      '',
      new Map([['hash', corner]]),
    )
    model.place(bodyPoses(model.assembly.tree, [0]))
    model.group.updateMatrixWorld(true)
    const box = new THREE.Box3().setFromObject(model.group)
    expect(box.min.toArray()).toEqual([-2, 0, 1])
    expect(box.max.toArray()).toEqual([0, 3, 3])
    const solid = model.bodies.get('body')!.getObjectByProperty('isMesh', true) as THREE.Mesh
    const [normal, position] = [solid.geometry.getAttribute('normal'), solid.geometry.getAttribute('position')]
    const inside = new THREE.Vector3(-0.3, 0.3, 0.3)
    for (let i = 0; i < position.count; i++) {
      const outward = new THREE.Vector3().fromBufferAttribute(position, i).sub(inside)
      expect(outward.dot(new THREE.Vector3().fromBufferAttribute(normal, i))).toBeGreaterThan(0)
    }
  })
})

describe('a machine that has no shapes yet', () => {
  it('is drawn as balls at its centres of mass, with bars to its joints', () => {
    const door = bodyPart(4, [0.5, 0, 0], [0.1, 0.4, 0.4], jointPart('turning', 'frame', [0, 0, 1], { axis: [0, 1, 0] }))
    const frame = bodyPart(8, [0, 0, 0.5], [1, 1, 1], jointPart('fixed', 'ground', [0, 0, 0]))
    const none = bodyPart(0, [0, 0, 0], [0, 0, 0], jointPart('fixed', 'door', [1, 0, 0]))
    const model = mechanismModel(mechanismPart({ frame, door, none }), palette)
    model.place(bodyPoses(model.assembly.tree, model.assembly.start))
    const { centre, radius } = extentOf(model.group)
    // from the ground to the far end of the door, 1 m up
    expect([centre.x, centre.z]).toBeNear([0.48, 0.5], { absolute: 0.05 })
    expect(radius).toBeGreaterThan(0.6)
    expect(model.bodies.get('none')!.children).toHaveLength(0)
  })
})
