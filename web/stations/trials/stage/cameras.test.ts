// @vitest-environment jsdom
import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import type { StageHandle } from '../../../scene'
import { goAlong, lookFrom } from './cameras'
import type { Mover } from './movers'

/** A machine of one body that stands where it is put. */
function moving() {
  const place = new THREE.Matrix4()
  const group = new THREE.Group()
  group.add(new THREE.Mesh(new THREE.BoxGeometry(1, 1, 1), new THREE.MeshBasicMaterial()))
  const middle = () => new THREE.Vector3().setFromMatrixPosition(place)
  const mover = { group, middle, watchedBody: 'hull', bodyPlace: () => place, place: () => undefined } as unknown as Mover
  const camera = new THREE.PerspectiveCamera()
  camera.position.set(5, 0, 0)
  const handle = { camera, target: new THREE.Vector3(), draw: () => undefined } as unknown as StageHandle
  return { place, mover, handle }
}
const at = ({ x, y, z }: THREE.Vector3) => [x, y, z].map((value) => Number(value.toFixed(6)))

describe('a camera that goes along', () => {
  it('follows the middle of the machine and keeps its distance', () => {
    const { place, mover, handle } = moving()
    const going = lookFrom('follow', handle, mover, undefined, () => undefined)!
    const before = handle.camera.position.clone()
    place.makeTranslation(2, 3, 1)
    goAlong(going, handle, mover)
    expect(at(handle.camera.position.clone().sub(before))).toEqual([2, 3, 1])
    expect(at(handle.target)).toEqual([2, 3, 1])
  })

  it('turns with the body that it rides on', () => {
    const { place, mover, handle } = moving()
    let going = lookFrom('body', handle, mover, undefined, () => undefined)!
    handle.camera.position.set(5, 0, 0)
    place.makeRotationZ(Math.PI / 2)
    going = goAlong(going, handle, mover)
    expect(at(handle.camera.position)).toEqual([0, 5, 0])
    place.makeRotationZ(Math.PI)
    goAlong(going, handle, mover)
    expect(at(handle.camera.position)).toEqual([-5, 0, 0])
  })

  it('stays on its mark and looks at the machine', () => {
    const { place, mover, handle } = moving()
    const going = lookFrom('stand', handle, mover, undefined, () => undefined, [1, 2, 3])!
    const [x, y, z] = at(handle.camera.position)
    expect([x, y]).toEqual([1, 2])
    expect(z).toBeGreaterThan(3)
    place.makeTranslation(0, 9, 0)
    goAlong(going, handle, mover)
    expect(at(handle.camera.position)).toEqual([x, y, z])
    expect(at(handle.target)).toEqual([0, 9, 0])
  })
})
