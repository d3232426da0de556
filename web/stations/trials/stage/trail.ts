import * as THREE from 'three'
import { findColumn, referenceOf, signalValues, signalsOf } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import type { StageHandle } from '../../../scene'
import { signalUnit } from '../../../units'
import type { TrialView } from '../useTrialView'

/** Points of a trail at most: more cannot be told apart. */
const mostPoints = 700

/** What a trail is coloured by: calm where it is 0, coral from `full` on, of either sign. */
export interface TrailColour {
  readonly label: string
  /** In which people see it. */
  readonly unit: string
  readonly full: number
  readonly at: (row: number) => number
}

/** Where a trail is all coral, by the unit of what is held. */
function fullScaleError(unit: string): number {
  return unit === 'rad' ? Math.PI / 18 : 0.5
}

/** The signal that the trial says, else the error of what the shown loop holds; nothing without either. */
export function trailColour({ clocked, trial, held, machineName }: TrialView, record: RunRecord): TrailColour | undefined {
  const said = clocked.trials[trial]!.trail
  const values = typeof said === 'string' ? signalValues(clocked, record, said) : undefined
  if (values !== undefined) {
    const known = signalsOf(clocked, trial, record).find(({ name }) => name === said)
    const full = values.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
    const unit = signalUnit(known ?? { name: String(said), unit: '' })
    return { label: known?.label ?? String(said), unit, full: full > 0 ? full : 1, at: (row) => values[row]! }
  }
  if (held === undefined) return undefined
  const { quantity, loop, isCommanded } = held
  const own = findColumn(record, `${machineName}.${quantity.name}`)
  const asked = isCommanded ? findColumn(record, `loops.${loop}.reference`) : undefined
  const reference = referenceOf(clocked, trial, loop)
  return {
    ...{ label: `${quantity.label} error`, unit: quantity.unit, full: fullScaleError(quantity.unit) },
    at: (row) => (own === undefined ? 0 : own[row]! - (asked?.[row] ?? reference(record.time[row]!))),
  }
}

/** The way of a point through a run. `at` gives the point of a row, nothing where it is lost. */
export function trailOf(
  colour: TrailColour | undefined,
  record: RunRecord,
  palette: StageHandle['palette'],
  at: (row: number) => THREE.Vector3 | undefined,
): THREE.Line {
  const points: number[] = []
  const colors: number[] = []
  const [calm, middle, rough] = [new THREE.Color(palette.kelp), new THREE.Color(palette.ochre), new THREE.Color(palette.coral)]
  const step = Math.max(1, Math.floor(record.time.length / mostPoints))
  for (let k = 0; k < record.time.length; k += step) {
    const point = at(k)
    if (point === undefined) break
    points.push(point.x, point.y, point.z)
    const share = colour === undefined ? 0 : Math.min(1, Math.abs(colour.at(k)) / colour.full)
    const color = share < 0.5 ? calm.clone().lerp(middle, share * 2) : middle.clone().lerp(rough, share * 2 - 1)
    colors.push(color.r, color.g, color.b)
  }
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(points, 3))
  geometry.setAttribute('color', new THREE.Float32BufferAttribute(colors, 3))
  return new THREE.Line(geometry, new THREE.LineBasicMaterial({ vertexColors: true }))
}
