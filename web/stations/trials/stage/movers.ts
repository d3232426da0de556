import * as THREE from 'three'
import { bodiesOf, bodyPoses, mechanism } from '@calm-hand/core/machine'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import type { Assembly } from '@calm-hand/core/machine'
import { findColumn } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { roleOfLetter, strokes } from '../../../chart'
import { extentOf, mechanismModel, placeFigure, plainFigure } from '../../../scene'
import type { StageHandle } from '../../../scene'
import type { TrialView } from '../useTrialView'

/** What of a run places a machine. */
export interface PlacedRun {
  readonly time: Float64Array
  readonly columns: readonly { readonly name: string; readonly values: Float64Array }[]
}

/** A drawn machine that is put where a record has it. */
export interface Mover {
  readonly group: THREE.Group
  readonly place: (record: PlacedRun | undefined, row: number) => void
  /** Whether a record says where it was: one of an earlier version may not, and stays undrawn. */
  readonly knows: (record: RunRecord) => boolean
  /** The middle of its bodies where they were put, world, and the point whose way is drawn. */
  readonly middle: () => THREE.Vector3
  readonly tip: () => THREE.Vector3
  /** Where a body of it is, world; nothing of a machine without bodies. */
  readonly bodyPlace: (body: string) => THREE.Matrix4 | undefined
  /** How it hangs together, and its coordinates where they were put; nothing of a machine without bodies. */
  readonly assembly: Assembly | undefined
  readonly pose: () => readonly number[]
  /** The body to which the point belongs. */
  readonly watchedBody: string | undefined
}

/** How much of a pinned run is seen. */
export const ghostly = 0.3

export function tinted(palette: StageHandle['palette'], letter: string): StageHandle['palette'] {
  return inColour(palette, strokes[roleOfLetter(letter)].color)
}

/** All in one colour of the theme. */
export function inColour(palette: StageHandle['palette'], name: string): StageHandle['palette'] {
  const color = getComputedStyle(window.document.documentElement).getPropertyValue(name).trim()
  return { ...palette, matte: color, matteShade: color }
}

/** Where the point is at a row; nothing once the run is lost. */
export function wayOf(moved: Mover, record: RunRecord, row: number): THREE.Vector3 | undefined {
  moved.place(record, row)
  const at = moved.tip()
  return [at.x, at.y, at.z].every((value) => Math.abs(value) < 1e4) ? at : undefined
}

/** Poses of a run that are looked at to find how far it goes. */
const mostLooks = 32

/** The sphere around a machine wherever a run takes it. */
export function extentOfMotion({ group, place }: Mover, record: RunRecord | undefined): ReturnType<typeof extentOf> {
  const rows = record?.time.length ?? 1
  const step = Math.max(1, Math.floor(rows / mostLooks))
  const box = new THREE.Box3()
  for (let row = 0; row < rows; row += step) {
    place(record, row)
    group.updateMatrixWorld(true)
    const { centre, radius } = extentOf(group)
    if (Number.isFinite(radius))
      box.union(new THREE.Box3().setFromCenterAndSize(centre, new THREE.Vector3().setScalar(2 * radius)))
  }
  if (box.isEmpty()) return extentOf(group)
  const still = extentOf(group)
  const size = box.getSize(new THREE.Vector3())
  return { centre: box.getCenter(new THREE.Vector3()), radius: Math.max(still.radius, Math.max(size.x, size.y, size.z) / 2) }
}

/** A machine as it is drawn, with how it is put where a record has it. */
export function moverOf(
  view: Pick<TrialView, 'machine' | 'machineName' | 'held'>,
  palette: StageHandle['palette'],
  meshes: Parameters<typeof mechanismModel>[3],
  opacity: number,
): Mover {
  return view.machine.kind === mechanism.name
    ? mechanismMover(view, palette, meshes, opacity)
    : figureMover(view.machine, view.machineName, palette, opacity)
}

function mechanismMover(
  { machine, machineName: name, held }: Pick<TrialView, 'machine' | 'machineName' | 'held'>,
  palette: StageHandle['palette'],
  meshes: Parameters<typeof mechanismModel>[3],
  opacity: number,
): Mover {
  const model = mechanismModel(machine, palette, undefined, meshes, opacity)
  const { positions, start, tree } = model.assembly
  let now: readonly number[] = start
  const placeOf = (drawn: THREE.Group) => new THREE.Vector3().setFromMatrixPosition(drawn.matrix)
  const watched = watchedBody(machine, held?.quantity.name)
  const [x, y, z] = bodiesOf(machine)[watched]!.centre as [number, number, number]
  return {
    group: model.group,
    middle: () => {
      const sum = new THREE.Vector3()
      for (const drawn of model.bodies.values()) sum.add(placeOf(drawn))
      return sum.divideScalar(Math.max(1, model.bodies.size))
    },
    knows: (record) =>
      positions.length === 0 || positions.some((position) => findColumn(record, `${name}.${position.name}`) !== undefined),
    tip: () => new THREE.Vector3(x, y, z).applyMatrix4(model.bodies.get(watched)!.matrix),
    bodyPlace: (body) => model.bodies.get(body)?.matrix,
    watchedBody: watched,
    assembly: model.assembly,
    pose: () => now,
    place: (record, row) => {
      now = positions.map((position, i) => valueIn(record, `${name}.${position.name}`, row) ?? start[i]!)
      model.place(bodyPoses(tree, now))
    },
  }
}

/** The body whose way is drawn: that of what a loop holds, else the one farthest out. */
function watchedBody(machine: Part, holds: string | undefined): string {
  const bodies = Object.keys(bodiesOf(machine))
  const [group, name] = (holds ?? '').split('.')
  const readings = partsIn(machine.readings)
  const owner = group === 'readings' ? (readings[name ?? '']?.body as string | undefined) : group
  return owner !== undefined && bodies.includes(owner) ? owner : bodies.at(-1)!
}

function figureMover(machine: Part, name: string, palette: StageHandle['palette'], opacity: number): Mover {
  const figure = Object.values(partsIn(machine.figure))[0]
  const group = plainFigure((figure?.shape as string | undefined) ?? 'block', 1, palette, opacity)
  const middle = () => group.position.clone()
  return {
    group,
    middle,
    tip: middle,
    bodyPlace: () => undefined,
    watchedBody: undefined,
    assembly: undefined,
    pose: () => [],
    knows: () => true,
    place: (record, row) => {
      if (figure !== undefined) placeFigure(group, figure, (signal) => valueIn(record, `${name}.${signal}`, row) ?? 0)
    },
  }
}

function valueIn(record: PlacedRun | undefined, column: string, row: number): number | undefined {
  return record?.columns.find(({ name }) => name === column)?.values[row]
}
