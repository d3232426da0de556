import { partsIn } from '@calm-hand/core/document'
// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import * as THREE from 'three'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { assemble, bodyPoses, numbersOf } from '@calm-hand/core/machine'
import { demo } from '../../../../core/tests/demo'
import { annotationNames, annotations, mechanismModel } from '../../../scene'
import type { AnnotationName, Palette, StageHandle } from '../../../scene'
import { completePage } from '../../../tests/openProject'
import { ShowMenu } from '../ShowMenu'
import { attachPulling, nearestOn } from './pulling'

const palette = new Proxy({} as Palette, { get: () => '#000000' })
const machine = () => demo('rock-walker').machines.walker!

beforeEach(completePage)
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

describe('the nearest place on a path', () => {
  const at = (x: number, y: number) => new THREE.Vector2(x, y)
  const path = [
    { value: 0, at: at(0, 0) },
    { value: 1, at: at(10, 0) },
    { value: 3, at: at(10, 10) },
  ]
  it('is between its points, and at its ends beyond them', () => {
    expect(nearestOn(path, at(4, 3))).toBeCloseTo(0.4, 12)
    expect(nearestOn(path, at(14, 5))).toBeCloseTo(2, 12)
    expect(nearestOn(path, at(-5, -5))).toBe(0)
    expect(nearestOn(path, at(12, 40))).toBe(3)
    expect(nearestOn([], at(0, 0))).toBeUndefined()
  })
})

/** A camera over the ground that looks straight down on a one-metre box at the origin. */
function stageOver(box: THREE.Group) {
  const canvas = document.createElement('canvas')
  Object.defineProperties(canvas, { clientWidth: { value: 400 }, clientHeight: { value: 400 } })
  canvas.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 400 }) as DOMRect
  canvas.setPointerCapture = () => undefined
  const camera = new THREE.PerspectiveCamera(45, 1, 0.1, 100)
  camera.position.set(0, 0, 10)
  camera.lookAt(0, 0, 0)
  camera.updateMatrixWorld(true)
  box.updateMatrixWorld(true)
  return { canvas, camera, hold: vi.fn() } as unknown as StageHandle & { hold: ReturnType<typeof vi.fn> }
}

describe('a pointer in 3D', () => {
  const box = new THREE.Group()
  box.add(new THREE.Mesh(new THREE.BoxGeometry(1, 1, 1)))
  const rail = [-2, 2].map((value) => ({ value, at: new THREE.Vector3(value, 0, 0) }))
  const wishesFor = (chosen: string) => ({
    model: () => ({ bodies: new Map([['box', box]]) }) as never,
    travel: () => (chosen === 'box' ? { group: new THREE.Group(), samples: rail } : undefined),
    chosen: () => chosen,
    value: () => 0.5,
    onChoose: vi.fn(),
    onPull: vi.fn(),
  })
  const press = (canvas: HTMLCanvasElement, type: string, x: number, y: number) =>
    fireEvent(canvas, new MouseEvent(type, { clientX: x, clientY: y, button: 0, buttons: 1, bubbles: true }))

  it('chooses a body with a click, and not with a drag', () => {
    const stage = stageOver(box)
    const wishes = wishesFor('other')
    attachPulling(stage, wishes)
    press(stage.canvas, 'pointerdown', 200, 200)
    press(stage.canvas, 'pointermove', 240, 200)
    press(stage.canvas, 'pointerup', 240, 200)
    expect(wishes.onChoose).not.toHaveBeenCalled()
    press(stage.canvas, 'pointerdown', 200, 200)
    press(stage.canvas, 'pointerup', 201, 200)
    expect(wishes.onChoose).toHaveBeenCalledWith('box')
  })

  it('pulls the chosen body along its rail, the view held, and Esc puts it back', () => {
    const stage = stageOver(box)
    const wishes = wishesFor('box')
    const detach = attachPulling(stage, wishes)
    press(stage.canvas, 'pointerdown', 200, 200)
    expect(stage.hold).toHaveBeenLastCalledWith(true)
    // one metre at ten metres distance is 400/(2·10·tan 22.5°) = 48.3 pixels
    press(stage.canvas, 'pointermove', 248, 230)
    expect(wishes.onPull.mock.lastCall![0]).toBeCloseTo(48 / 48.28, 2)
    fireEvent.keyDown(window, { key: 'Escape' })
    expect(wishes.onPull).toHaveBeenLastCalledWith(0.5)
    expect(stage.hold).toHaveBeenLastCalledWith(false)
    detach()
    press(stage.canvas, 'pointerdown', 200, 200)
    press(stage.canvas, 'pointerup', 200, 200)
    expect(wishes.onChoose).not.toHaveBeenCalled()
  })
})

describe('annotations', () => {
  const drawn = (...names: AnnotationName[]) => {
    const assembly = assemble(machine(), numbersOf(machine()))
    const group = annotations(machine(), assembly, assembly.start, new Set(names), palette, 1)
    const found: THREE.Object3D[] = []
    group.traverse((item) => (item instanceof THREE.Mesh || item instanceof THREE.Line) && found.push(item))
    return found
  }
  const bodies = Object.keys(partsIn(machine().bodies)).length

  it('are drawn for every body, or once for the whole', () => {
    expect(drawn()).toHaveLength(0)
    expect(drawn('frames')).toHaveLength(3 * bodies)
    expect(drawn('centres')).toHaveLength(bodies + 2)
    expect(drawn('support')).toHaveLength(1)
    expect(drawn('weights')).toHaveLength(2 * bodies)
    expect(drawn('ellipsoids').length).toBeGreaterThan(0)
    expect(drawn('axes').length).toBeGreaterThan(0)
  })

  it('are chosen in a menu that stays open', () => {
    const show = vi.fn()
    render(<ShowMenu names={annotationNames} shown={new Set(['frames'])} onShow={show} />)
    fireEvent.keyDown(screen.getByRole('button', { name: 'Show 1' }), { key: 'Enter' })
    const items = screen.getAllByRole('menuitemcheckbox')
    expect(items.map((item) => item.textContent)).toEqual(Object.values(annotationNames))
    fireEvent.click(items[2]!)
    expect(show).toHaveBeenCalledWith(new Set(['frames', 'centres']))
    expect(screen.getAllByRole('menuitemcheckbox')).toHaveLength(items.length)
  })

  it('keep within what a screen can draw', () => {
    // 150 draw calls and 300,000 triangles for any demo machine, everything shown
    const assembly = assemble(machine(), numbersOf(machine()))
    const model = mechanismModel(machine(), palette)
    model.place(bodyPoses(assembly.tree, assembly.start))
    let triangles = 0
    for (const part of [model.group, annotations(machine(), assembly, assembly.start, new Set(['ellipsoids']), palette, 1)])
      part.traverse((item) => {
        if (item instanceof THREE.Mesh) triangles += ((item.geometry as THREE.BufferGeometry).index?.count ?? 0) / 3
      })
    expect(triangles).toBeLessThan(300_000)
  })
})
