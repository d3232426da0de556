import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import * as THREE from 'three'
import { groundLevel, mechanism } from '@calm-hand/core/machine'
import { partsIn } from '@calm-hand/core/document'
import { inScene, lightAround } from '@calm-hand/core/scene'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { actingIn, rowAt } from '@calm-hand/core/simulation'
import {
  Stage3D,
  annotationNames,
  annotations,
  extentOf,
  label,
  lowestSurface,
  overBall,
  sceneModel,
  surfaces,
} from '../../../scene'
import type { AnnotationName, StageHandle, Surfaces } from '../../../scene'
import { useClock } from '../../../state/clock'
import { useLive } from '../../../state/live'
import { useMeshes } from '../../../state/meshes'
import { ShowMenu } from '../../machine/ShowMenu'
import { ViewBar } from '../../machine/ViewBar'
import { PicturePopover } from '../../picture/PicturePopover'
import { actingArrows, actingSorts } from './actingArrows'
import type { ActingArrows, ActingSort } from './actingArrows'
import { goAlong, lookFrom, trialLooks } from './cameras'
import type { Going, TrialLook } from './cameras'
import { extentOfMotion, ghostly, inColour, moverOf, tinted, wayOf } from './movers'
import type { Mover, PlacedRun } from './movers'
import { StandOn } from './StandOn'
import { TrailNote } from './TrailNote'
import { trailColour, trailOf } from './trail'
import { useClockedStage } from './useClockedStage'
import { isPlacedByPrediction, usePredictedRun } from './usePredictedRun'
import type { TrialView } from '../useTrialView'

/** A run that goes this many times as far as the machine is large is not seen whole: it is followed. */
const tooFar = 8

/** A mechanism, or the figure of a machine without bodies, on the one clock. */
export function TrialStage({ view }: { readonly view: TrialView }) {
  const { machine, machineName, pinned, isLive } = view
  // under a person's hands it is placed by each picture of it, and its way is drawn once it is let go
  const record = isLive ? undefined : view.record
  const [look, setLook] = useState<TrialLook>('fixed')
  const [shownOver, setShownOver] = useState<ReadonlySet<Overlay>>(new Set(['drive', 'push', 'wind']))
  const [stand, setStand] = useState<string>()
  const following = useRef<Going>(undefined)
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
  const trail = view.clocked.trials[view.trial]!.trail
  const failed = failuresOf(view.verdicts)
    .map(({ check, failedAt }) => `${check} ${failedAt}`)
    .join(' ')
  const seen = useRef<string>(undefined)
  const canBePredicted = useMemo(() => isPlacedByPrediction(machine), [machine])
  const ghost = usePredictedRun(view, shownOver.has('predicted') && record !== undefined)

  const place = useCallback(() => {
    const { cursor } = useClock.getState()
    if (isLive) mover.current?.place(useLive.getState().now, 0)
    else mover.current?.place(record, record === undefined ? 0 : rowAt(record, cursor))
    beside.current?.around?.place(cursor)
    for (const ghost of beside.current?.ghosts ?? []) ghost.mover.place(ghost.record, rowAt(ghost.record, cursor))
    const [handle, moved, around] = [stage.current, mover.current, beside.current]
    if (handle !== undefined && moved !== undefined) {
      around?.arrows?.place(cursor, moved)
      if (around?.over !== undefined) placeOver(around.over, machine, moved, handle.palette)
      if (following.current !== undefined) following.current = goAlong(following.current, handle, moved)
    }
    handle?.draw()
  }, [record, isLive, machine])
  const aim = useCallback(
    (next: TrialLook, on?: string) => {
      const [handle, moved] = [stage.current, mover.current]
      if (handle === undefined || moved === undefined) return
      setLook(next)
      following.current = undefined
      const mark = partsIn(scene?.marks)[on ?? '']?.at as readonly [number, number, number] | undefined
      following.current = lookFrom(next, handle, moved, record, place, mark)
    },
    [record, place, scene],
  )
  const rebuild = useCallback(() => {
    const handle = stage.current
    if (handle === undefined) return
    const { held, pinned: pins } = latest.current
    const isFirst = mover.current === undefined
    if (beside.current !== undefined) handle.scene.remove(beside.current.group)
    const drawn = (palette: StageHandle['palette'], opacity: number) =>
      moverOf({ machine, machineName, held }, palette, meshes, opacity)
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
    const ghosts: { record: PlacedRun; mover: Mover }[] = others.map((pin) => ({
      record: pin.record,
      mover: drawn(tinted(handle.palette, pin.letter), ghostly),
    }))
    if (ghost !== undefined) ghosts.push({ record: ghost, mover: drawn(inColour(handle.palette, '--slate'), ghostly) })
    const group = new THREE.Group()
    const { radius: size } = extentOf(moved.group)
    let arrows: ActingArrows | undefined
    for (const ghost of ghosts) group.add(ghost.mover.group)
    if (record !== undefined) {
      const { clocked, trial, verdicts } = latest.current
      group.add(trailOf(trailColour(latest.current, record), record, handle.palette, (row) => wayOf(moved, record, row)))
      for (const { failedAt } of failuresOf(verdicts)) {
        const at = wayOf(moved, record, rowAt(record, failedAt))
        if (at !== undefined) group.add(failureMark(at, failedAt, handle.palette, extentOf(moved.group).radius))
      }
      if (actingSortNames.some((sort) => shownOver.has(sort)))
        arrows = actingArrows(
          actingIn(clocked, trial, record),
          shownOver as ReadonlySet<ActingSort>,
          handle.palette,
          size,
          record.time.at(-1) ?? 0,
        )
    }
    if (arrows !== undefined) group.add(arrows.group)
    if (scene !== undefined) group.add(sceneModel(scene, handle.palette, meshes))
    const around = surrounded === undefined ? undefined : surfaces(surrounded, handle.palette)
    if (around !== undefined) group.add(around.group)
    const over = [...shownOver].filter((one): one is keyof typeof overNames => one in overNames)
    const overlay =
      over.length === 0 || machine.kind !== mechanism.name ? undefined : { names: new Set(over), group: new THREE.Group(), size }
    if (overlay !== undefined) group.add(overlay.group)
    beside.current = { group, ghosts, around, arrows, over: overlay }
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
  }, [machine, machineName, scene, surrounded, shown, shownOver, trail, failed, ghost, meshes, record, place, aim])

  const forget = useCallback(() => {
    mover.current = undefined
    beside.current = undefined
  }, [])
  const marks = Object.entries(partsIn(scene?.marks)).map(([name, mark]) => ({ name, words: labelOf(mark, name) }))
  const ready = useClockedStage({ stageRef: stage, rebuild, place, forget })
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
      {record !== undefined && <TrailNote view={view} />}
      <ShowMenu
        names={canBePredicted ? overlayNames : withoutPrediction}
        shown={shownOver}
        onShow={setShownOver}
        className="right-3 top-2"
      />
      {look === 'stand' && marks.length > 0 && (
        <StandOn
          marks={marks}
          on={stand}
          onStand={(on) => {
            setStand(on)
            aim('stand', on)
          }}
        />
      )}
      <ViewBar views={trialLooks} view={look} onLook={(next) => aim(next, stand)}>
        <PicturePopover
          name={view.trial}
          end={record === undefined ? undefined : view.end}
          picture={(choices) => {
            place()
            return stage.current!.picture(choices)
          }}
        />
      </ViewBar>
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

/** What can be drawn over a machine that moves. */
const { frames, axes, centres, support, weights } = annotationNames
const overNames = { frames, axes, centres, support, weights } as const
const overlayNames = { ...actingSorts, predicted: 'where the prediction has it', ...overNames } as const
type Overlay = keyof typeof overlayNames
const withoutPrediction = { ...actingSorts, ...overNames } as typeof overlayNames
const actingSortNames = Object.keys(actingSorts) as readonly ActingSort[]

/** What is drawn beside the machine: runs that are pinned, and its way. */
interface Beside {
  readonly group: THREE.Group
  readonly ghosts: readonly { readonly mover: Mover; readonly record: PlacedRun }[]
  /** Ground that is not level, and water. */
  readonly around: Surfaces | undefined
  readonly arrows: ActingArrows | undefined
  readonly over: Over | undefined
}

/** What is drawn over the machine, anew for each of its poses. */
interface Over {
  readonly names: ReadonlySet<AnnotationName>
  readonly group: THREE.Group
  /** m */
  readonly size: number
}

function placeOver(
  { names, group, size }: Over,
  machine: Part,
  { assembly, pose }: Mover,
  palette: StageHandle['palette'],
): void {
  if (assembly === undefined) return
  group.clear()
  group.add(annotations(machine, assembly, pose(), names, palette, size))
}

/** Checks that failed at some time of the run. */
function failuresOf(verdicts: TrialView['verdicts']): readonly { readonly check: string; readonly failedAt: number }[] {
  return (verdicts ?? []).flatMap(({ check, outcome, failedAt }) =>
    outcome === 'fails' && failedAt !== undefined ? [{ check, failedAt }] : [],
  )
}

/** Share of the size of a machine that the ball is large where a check failed. */
const ballSize = 0.06

/** Where a check failed. */
function failureMark(at: THREE.Vector3, t: number, palette: StageHandle['palette'], size: number): THREE.Group {
  const group = new THREE.Group()
  const words = label(`fails at ${t.toFixed(1)} s`, palette)
  words.position.copy(at).add(new THREE.Vector3(0, 0, 3 * ballSize * size))
  group.add(overBall(at, palette.coral, ballSize * size), words)
  return group
}
