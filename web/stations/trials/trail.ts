import * as THREE from 'three'
import { findColumn } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import type { StageHandle } from '../../scene'
import type { TrialView } from './useTrialView'

/** Points of a trail at most: more cannot be told apart. */
const mostPoints = 700

/** Where a trail is all coral, by the unit of what is held. */
export function fullScaleError(unit: string): number {
  return unit === 'rad' ? Math.PI / 18 : 0.5
}

/**
 * The way of a point through a run, coloured by the error of what the shown loop holds: calm where there is none. `at` gives
 * the point of a row, nothing where it is lost; `reference` what is asked, unless another loop asks for it.
 */
export function trailOf(
  { held: own, machineName }: Pick<TrialView, 'held' | 'machineName'>,
  record: RunRecord,
  reference: ((t: number) => number) | undefined,
  palette: StageHandle['palette'],
  at: (row: number) => THREE.Vector3 | undefined,
): THREE.Line {
  const held = own === undefined ? undefined : findColumn(record, `${machineName}.${own.quantity.name}`)
  const asked = own?.isCommanded === true ? findColumn(record, `loops.${own.loop}.reference`) : undefined
  const full = fullScaleError(own?.quantity.unit ?? '')
  const points: number[] = []
  const colors: number[] = []
  const [calm, middle, rough] = [new THREE.Color(palette.kelp), new THREE.Color(palette.ochre), new THREE.Color(palette.coral)]
  const step = Math.max(1, Math.floor(record.time.length / mostPoints))
  for (let k = 0; k < record.time.length; k += step) {
    const point = at(k)
    if (point === undefined) break
    points.push(point.x, point.y, point.z)
    const wanted = asked?.[k] ?? reference?.(record.time[k]!)
    const share = held === undefined || wanted === undefined ? 0 : Math.min(1, Math.abs(held[k]! - wanted) / full)
    const color = share < 0.5 ? calm.clone().lerp(middle, share * 2) : middle.clone().lerp(rough, share * 2 - 1)
    colors.push(color.r, color.g, color.b)
  }
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(points, 3))
  geometry.setAttribute('color', new THREE.Float32BufferAttribute(colors, 3))
  return new THREE.Line(geometry, new THREE.LineBasicMaterial({ vertexColors: true }))
}
