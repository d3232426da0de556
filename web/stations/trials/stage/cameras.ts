import * as THREE from 'three'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { extentOf } from '../../../scene'
import type { StageHandle } from '../../../scene'
import { lookAt, machineViews } from '../../machineViews'
import type { MachineView } from '../../machineViews'
import { extentOfMotion } from './movers'
import type { Mover } from './movers'

/** From where a trial is looked at: along with the machine, on one of its bodies, from a place that stays, or from a side. */
export type TrialLook = MachineView | 'follow' | 'body' | 'stand'
export const trialLooks: readonly TrialLook[] = ['follow', ...machineViews, 'body', 'stand']

/** A camera that goes along, with where what it keeps to was last. */
export interface Going {
  readonly look: 'follow' | 'body' | 'stand'
  readonly at: THREE.Matrix4
}

/** Share of the size of a machine by which one stands above a mark. */
const eyes = 0.6

/** Looks from somewhere; gives the camera that goes along from there, nothing of one that stays. `stand` is a place, m. */
export function lookFrom(
  look: TrialLook,
  handle: StageHandle,
  mover: Mover,
  record: RunRecord | undefined,
  place: () => void,
  stand?: readonly [number, number, number],
): Going | undefined {
  if (look !== 'follow' && look !== 'body' && look !== 'stand') {
    lookAt(handle, mover.group, look, extentOfMotion(mover, record))
    place()
    return undefined
  }
  place()
  if (look === 'stand') {
    const up = new THREE.Vector3(0, 0, eyes * extentOf(mover.group).radius)
    if (stand !== undefined) handle.camera.position.set(...stand).add(up)
    handle.target.copy(mover.middle())
  } else lookAt(handle, mover.group, 'fixed')
  handle.draw()
  return { look, at: frameOf(look, mover) }
}

/** Moves a camera on with what it keeps to. */
export function goAlong({ look, at }: Going, { camera, target }: StageHandle, mover: Mover): Going {
  const now = frameOf(look, mover)
  const step = now.clone().multiply(at.clone().invert())
  target.applyMatrix4(step)
  if (look !== 'stand') camera.position.applyMatrix4(step)
  return { look, at: now }
}

/** What a camera keeps to: the middle of the machine, or a body with its turning. */
function frameOf(look: Going['look'], mover: Mover): THREE.Matrix4 {
  const own = look === 'body' && mover.watchedBody !== undefined ? mover.bodyPlace(mover.watchedBody) : undefined
  return own?.clone() ?? new THREE.Matrix4().setPosition(mover.middle())
}
