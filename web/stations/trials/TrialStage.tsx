import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import * as THREE from 'three'
import { bodiesOf, bodyPoses, groundLevel, mechanism } from '@calm-hand/core/machine'
import { partsIn } from '@calm-hand/core/document'
import { inScene, lightAround } from '@calm-hand/core/scene'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { findColumn, referenceOf, rowAt } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { download } from '../../state/download'
import { Stage3D, extentOf, lowestSurface, mechanismModel, placeFigure, plainFigure, sceneModel, surfaces } from '../../scene'
import type { StageHandle, Surfaces } from '../../scene'
import { roleOfLetter, strokes } from '../../chart'
import { useClock } from '../../state/clock'
import { useLive } from '../../state/live'
import { useMeshes } from '../../state/meshes'
import { ViewBar } from '../machine/ViewBar'
import { lookAt, machineViews } from '../machineViews'
import type { MachineView } from '../machineViews'
import { TrailNote } from './TrailNote'
import { trailOf } from './trail'
import { useClockedStage } from './useClockedStage'
import type { TrialView } from './useTrialView'

/** A drawn machine that is put where a record has it. */
interface Mover {
  readonly group: THREE.Group
  readonly place: (record: RunRecord | undefined, row: number) => void
  /** Whether a record says where it was: one of an earlier version may not, and stays undrawn. */
  readonly knows: (record: RunRecord) => boolean
  /** The middle of its bodies where they were put, world, and the point whose way is drawn. */
  readonly middle: () => THREE.Vector3
  readonly tip: () => THREE.Vector3
}

type TrialLook = MachineView | 'follow'
const trialLooks: readonly TrialLook[] = ['follow', ...machineViews]

/** A run that goes this many times as far as the machine is large is not seen whole: it is followed. */
const tooFar = 8

/** A mechanism, or the figure of a machine without bodies, on the one clock. */
export function TrialStage({ view }: { readonly view: TrialView }) {
  const { machine, machineName, pinned, isLive } = view
  // under a person's hands it is placed by each picture of it, and its way is drawn once it is let go
  const record = isLive ? undefined : view.record
  const [look, setLook] = useState<TrialLook>('fixed')
  const following = useRef<THREE.Vector3>(undefined)
  const { scene } = view
  const meshes = useMeshes(machine, scene)
  const surrounded = useMemo(() => (machine.kind === mechanism.name ? inScene(machine, scene) : undefined), [machine, scene])
  const ground = useMemo(
    () => (surrounded === undefined ? groundLevel(machine) : lowestSurface(surrounded)),
    [machine, surrounded],
  )
  const light = useMemo(() => lightAround(surrounded ?? machine), [surrounded, machine])
  const stage = useRef<StageHandle>(undefined)
  const mover = useRef<Mover>(undefined)
  const beside = useRef<Beside>(undefined)
  const drawnAs = useRef<DrawnAs>(undefined)
  // what is drawn beside the machine is made anew with its run, not with every step of a drag
  const latest = useRef(view)
  useEffect(() => {
    latest.current = view
  })
  const shown = [view.held?.loop, ...pinned.flatMap(({ letter, record: { hash } }) => [letter, hash])].join(' ')
  const seen = useRef<string>(undefined)

  const place = useCallback(() => {
    const { cursor } = useClock.getState()
    if (isLive) mover.current?.place(useLive.getState().now, 0)
    else mover.current?.place(record, record === undefined ? 0 : rowAt(record, cursor))
    beside.current?.around?.place(cursor)
    for (const ghost of beside.current?.ghosts ?? []) ghost.mover.place(ghost.record, rowAt(ghost.record, cursor))
    if (following.current !== undefined && mover.current !== undefined && stage.current !== undefined) {
      const middle = mover.current.middle()
      const way = middle.clone().sub(following.current)
      stage.current.target.add(way)
      stage.current.camera.position.add(way)
      following.current = middle
    }
    stage.current?.draw()
  }, [record, isLive])
  const aim = useCallback(
    (next: TrialLook) => {
      const [handle, moved] = [stage.current, mover.current]
      if (handle === undefined || moved === undefined) return
      setLook(next)
      following.current = undefined
      if (next === 'follow') {
        place()
        lookAt(handle, moved.group, 'fixed')
        following.current = moved.middle()
      } else {
        lookAt(handle, moved.group, next, extentOfMotion(moved, record))
        place()
      }
    },
    [record, place],
  )
  const rebuild = useCallback(() => {
    const handle = stage.current
    if (handle === undefined) return
    const { held, pinned: pins, trial } = latest.current
    const isFirst = mover.current === undefined
    if (beside.current !== undefined) handle.scene.remove(beside.current.group)
    const drawn = (palette: StageHandle['palette'], opacity: number) =>
      machine.kind === mechanism.name
        ? mechanismMover({ machine, machineName, held }, palette, meshes, opacity)
        : figureMover(machine, machineName, palette, opacity)
    // the machine itself stays as it is drawn while only its run is another
    const made = { machine, meshes, palette: handle.palette, loop: held?.loop }
    if (mover.current === undefined || !isSame(drawnAs.current, made)) {
      if (mover.current !== undefined) handle.scene.remove(mover.current.group)
      mover.current = drawn(handle.palette, 1)
      handle.scene.add(mover.current.group)
      drawnAs.current = made
    }
    // a pinned run that is the one shown would hide it
    const moved = mover.current
    const others = pins.filter((pin) => pin.record.hash !== record?.hash && moved.knows(pin.record))
    const ghosts = others.map((pin) => ({ record: pin.record, mover: drawn(tinted(handle.palette, pin.letter), ghostly) }))
    const group = new THREE.Group()
    for (const ghost of ghosts) group.add(ghost.mover.group)
    if (record !== undefined) {
      const asked = held === undefined ? undefined : referenceOf(latest.current.clocked, trial, held.loop)
      group.add(trailOf({ held, machineName }, record, asked, handle.palette, (row) => wayOf(moved, record, row)))
    }
    if (scene !== undefined) group.add(sceneModel(scene, handle.palette, meshes))
    const around = surrounded === undefined ? undefined : surfaces(surrounded, handle.palette)
    if (around !== undefined) group.add(around.group)
    beside.current = { group, ghosts, around }
    handle.scene.add(group)
    place()
    // a motion that is seen for the first time is seen whole; after that the view is its owner's
    if (isFirst || (seen.current === undefined && record !== undefined)) {
      const far = extentOfMotion(mover.current, record).radius > tooFar * extentOf(mover.current.group).radius
      aim(far ? 'follow' : 'fixed')
    }
    seen.current ??= record?.hash
    // `shown` is what of the view it is made of
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [machine, machineName, scene, surrounded, shown, meshes, record, place, aim])

  const forget = useCallback(() => {
    mover.current = undefined
    beside.current = undefined
  }, [])
  const ready = useClockedStage({ stageRef: stage, rebuild, place, forget })
  const save = async () => {
    if (stage.current !== undefined) download(`${view.trial}-3d.png`, await stage.current.picture())
  }
  return (
    <div className="relative min-h-0 h-full overflow-hidden">
      <Stage3D
        label={`${labelOf(machine, machineName)} in the trial`}
        ground={ground}
        gridStep={0.5}
        light={light}
        camera={[5, -6, 3]}
        target={[0, 0, 0.8]}
        onReady={ready}
      />
      {record !== undefined && <TrailNote held={view.held} />}
      <ViewBar views={trialLooks} view={look} onLook={aim} onSave={() => void save()} />
    </div>
  )
}

/** What the drawn machine is made of. */
interface DrawnAs {
  readonly machine: Part
  readonly meshes: unknown
  readonly palette: StageHandle['palette']
  readonly loop: string | undefined
}

function isSame(a: DrawnAs | undefined, b: DrawnAs): boolean {
  return a?.machine === b.machine && a.meshes === b.meshes && a.palette === b.palette && a.loop === b.loop
}

/** What is drawn beside the machine: runs that are pinned, and its way. */
interface Beside {
  readonly group: THREE.Group
  readonly ghosts: readonly { readonly mover: Mover; readonly record: RunRecord }[]
  /** Ground that is not level, and water. */
  readonly around: Surfaces | undefined
}

/** How much of a pinned run is seen. */
const ghostly = 0.3

function tinted(palette: StageHandle['palette'], letter: string): StageHandle['palette'] {
  const color = getComputedStyle(window.document.documentElement).getPropertyValue(strokes[roleOfLetter(letter)].color).trim()
  return { ...palette, matte: color, matteShade: color }
}

/** Where the point is at a row; nothing once the run is lost. */
function wayOf(moved: Mover, record: RunRecord, row: number): THREE.Vector3 | undefined {
  moved.place(record, row)
  const at = moved.tip()
  return [at.x, at.y, at.z].every((value) => Math.abs(value) < 1e4) ? at : undefined
}

/** Poses of a run that are looked at to find how far it goes. */
const mostLooks = 32

/** The sphere around a machine wherever a run takes it. */
function extentOfMotion({ group, place }: Mover, record: RunRecord | undefined): ReturnType<typeof extentOf> {
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

function mechanismMover(
  { machine, machineName: name, held }: Pick<TrialView, 'machine' | 'machineName' | 'held'>,
  palette: StageHandle['palette'],
  meshes: Parameters<typeof mechanismModel>[3],
  opacity: number,
): Mover {
  const model = mechanismModel(machine, palette, undefined, meshes, opacity)
  const { positions, start, tree } = model.assembly
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
    place: (record, row) => {
      const q = positions.map((position, i) => valueIn(record, `${name}.${position.name}`, row) ?? start[i]!)
      model.place(bodyPoses(tree, q))
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
    knows: () => true,
    place: (record, row) => {
      if (figure !== undefined) placeFigure(group, figure, (signal) => valueIn(record, `${name}.${signal}`, row) ?? 0)
    },
  }
}

function valueIn(record: RunRecord | undefined, column: string, row: number): number | undefined {
  return record === undefined ? undefined : findColumn(record, column)?.[row]
}
