import * as THREE from 'three'
import type { MechanismModel, StageHandle } from '../../../scene'
import type { JointTravel } from './jointTravel'

/** Pixels: a press that moves less is a click, and a bead is caught from this near. */
const clickSlack = 5
const catchRadius = 18

export interface PullingWishes {
  readonly model: () => MechanismModel | undefined
  readonly travel: () => JointTravel | undefined
  readonly chosen: () => string
  readonly value: () => number
  readonly onChoose: (body: string) => void
  readonly onPull: (value: number) => void
}

type Phase =
  | { readonly kind: 'idle' }
  | { readonly kind: 'pressed'; readonly at: THREE.Vector2; readonly body: string }
  | { readonly kind: 'pulling'; readonly before: number }

/**
 * Choosing and pulling in 3D: a click on a body chooses it; the chosen body, or the bead of its joint, is pulled along
 * the drawn arc or rail to where the pointer is nearest. Esc puts it back. Gives what takes it away.
 */
export function attachPulling(stage: StageHandle, wishes: PullingWishes): () => void {
  const { canvas } = stage
  let phase: Phase = { kind: 'idle' }

  const press = (event: PointerEvent) => {
    if (event.button !== 0) return
    const at = pixels(event)
    const body = bodyAt(at)
    const caught = wishes.travel() !== undefined && (body === wishes.chosen() || nearBead(at))
    if (caught) {
      phase = { kind: 'pulling', before: wishes.value() }
      stage.hold(true)
      canvas.setPointerCapture(event.pointerId)
    } else if (body !== undefined) phase = { kind: 'pressed', at, body }
  }
  const move = (event: PointerEvent) => {
    const at = pixels(event)
    if (phase.kind === 'pulling') {
      const value = nearestValue(at)
      if (value !== undefined) wishes.onPull(value)
    } else if (phase.kind === 'pressed' && phase.at.distanceTo(at) > clickSlack) phase = { kind: 'idle' }
    else if (phase.kind === 'idle' && event.buttons === 0) canvas.style.cursor = cursorAt(at)
  }
  const leave = () => {
    if (phase.kind === 'pressed') wishes.onChoose(phase.body)
    if (phase.kind === 'pulling') stage.hold(false)
    phase = { kind: 'idle' }
  }
  const key = (event: KeyboardEvent) => {
    if (event.key !== 'Escape' || phase.kind !== 'pulling') return
    wishes.onPull(phase.before)
    leave()
  }

  const pixels = (event: PointerEvent) => {
    const { left, top } = canvas.getBoundingClientRect()
    return new THREE.Vector2(event.clientX - left, event.clientY - top)
  }
  const onScreen = (point: THREE.Vector3) => {
    const { x, y } = point.clone().project(stage.camera)
    return new THREE.Vector2(((x + 1) / 2) * canvas.clientWidth, ((1 - y) / 2) * canvas.clientHeight)
  }
  const bodyAt = (at: THREE.Vector2): string | undefined => {
    const ray = new THREE.Raycaster()
    const { clientWidth, clientHeight } = canvas
    ray.setFromCamera(new THREE.Vector2((2 * at.x) / clientWidth - 1, 1 - (2 * at.y) / clientHeight), stage.camera)
    const bodies = [...(wishes.model()?.bodies ?? [])]
    const hits = bodies.flatMap(([name, group]) =>
      ray
        .intersectObject(group, true)
        .filter(({ object }) => object instanceof THREE.Mesh)
        .map(({ distance }) => ({ name, distance })),
    )
    return hits.sort((a, b) => a.distance - b.distance)[0]?.name
  }
  const nearBead = (at: THREE.Vector2) => {
    const samples = wishes.travel()?.samples ?? []
    const bead = samples.reduce<(typeof samples)[number] | undefined>(
      (a, b) => (a === undefined || Math.abs(b.value - wishes.value()) < Math.abs(a.value - wishes.value()) ? b : a),
      undefined,
    )
    return bead !== undefined && onScreen(bead.at).distanceTo(at) < catchRadius
  }
  const nearestValue = (at: THREE.Vector2) =>
    nearestOn(
      (wishes.travel()?.samples ?? []).map(({ value, at: place }) => ({ value, at: onScreen(place) })),
      at,
    )
  const cursorAt = (at: THREE.Vector2) => {
    const body = bodyAt(at)
    if (wishes.travel() !== undefined && (body === wishes.chosen() || nearBead(at))) return 'grab'
    return body === undefined ? '' : 'pointer'
  }

  const listeners = { pointerdown: press, pointermove: move, pointerup: leave, pointercancel: leave } as const
  for (const [name, listener] of Object.entries(listeners)) canvas.addEventListener(name, listener as EventListener)
  window.addEventListener('keydown', key)
  return () => {
    for (const [name, listener] of Object.entries(listeners)) canvas.removeEventListener(name, listener as EventListener)
    window.removeEventListener('keydown', key)
    canvas.style.cursor = ''
  }
}

/** The value whose place on a path of straight pieces is nearest to a point. */
export function nearestOn(
  path: readonly { readonly value: number; readonly at: THREE.Vector2 }[],
  point: THREE.Vector2,
): number | undefined {
  let best: { value: number; distance: number } | undefined
  for (let i = 0; i + 1 < path.length; i++) {
    const [from, to] = [path[i]!, path[i + 1]!]
    const along = to.at.clone().sub(from.at)
    const length = along.lengthSq()
    const share = length === 0 ? 0 : Math.min(Math.max(point.clone().sub(from.at).dot(along) / length, 0), 1)
    const distance = from.at.clone().addScaledVector(along, share).distanceTo(point)
    if (best === undefined || distance < best.distance) best = { value: from.value + share * (to.value - from.value), distance }
  }
  return best?.value
}
