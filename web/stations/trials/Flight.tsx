import { Camera } from 'lucide-react'
import { useCallback, useEffect, useRef, useState } from 'react'
import * as THREE from 'three'
import type { Document } from '@calm-hand/core/document'
import { findColumn, referenceOf, rowAt } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { massProperties, numbersOf } from '@calm-hand/core/machine'
import { roleOfLetter, strokes } from '../../chart'
import { download } from '../../state/download'
import { offerActions } from '../../frame/actions'
import { Stage3D, lifter, lighthouse } from '../../scene'
import type { StageHandle, ViewName } from '../../scene'
import { useClock } from '../../state/clock'
import { useOpen } from '../../state/project'
import { TrailNote } from './TrailNote'
import { trailOf } from './trail'
import { useClockedStage } from './useClockedStage'
import type { TrialView } from './useTrialView'

const viewNames: readonly ViewName[] = ['follow', 'fixed', 'top', 'side', 'body']
/** Eyes relative to what they look at, m. */
const eyes: Readonly<Record<ViewName, readonly [number, number, number]>> = {
  follow: [-2.6, -3.4, 1.2],
  fixed: [-3.4, -5.6, 1.6],
  top: [0.01, 0, 6],
  side: [0, -5.2, 0.2],
  body: [-1.6, 0, 0.55],
}

interface Drawn {
  readonly group: THREE.Group
  readonly flyer: THREE.Group
  readonly ghosts: readonly { readonly group: THREE.Group; readonly record: RunRecord }[]
  readonly ring: THREE.Mesh
}

/** The flight in 3D on the one clock: machine, ghosts of pinned runs, trail coloured by error, reference ring. */
export function Flight({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const [camera, setCamera] = useState<ViewName>('fixed')
  const stage = useRef<StageHandle>(undefined)
  const drawn = useRef<Drawn>(undefined)
  const cameraNow = useRef(camera)
  const seen = useRef<string>(undefined)

  const place = useCallback(() => {
    const handle = stage.current
    const scene = drawn.current
    if (handle === undefined || scene === undefined) return
    const { cursor } = useClock.getState()
    if (view.record !== undefined) pose(scene.flyer, view.record, view.machineName, cursor)
    for (const { group, record } of scene.ghosts) pose(group, record, view.machineName, cursor)
    scene.ring.position.set(...placeAsked(document, view.trial, cursor))
    if (cameraNow.current === 'follow' || cameraNow.current === 'body') aim(handle, cameraNow.current, scene.flyer, view)
    handle.draw()
  }, [view, document])

  const rebuild = useCallback(() => {
    const handle = stage.current
    if (handle === undefined) return
    if (drawn.current !== undefined) handle.scene.remove(drawn.current.group)
    const isFirst = drawn.current === undefined
    drawn.current = contents(
      view,
      handle,
      view.held === undefined ? undefined : referenceOf(document, view.trial, view.held.loop),
    )
    handle.scene.add(drawn.current.group)
    place()
    // a flight that is seen for the first time is seen whole; after that the view is its owner's
    if ((isFirst || seen.current === undefined) && view.record !== undefined && cameraNow.current === 'fixed') {
      aim(handle, 'fixed', drawn.current.flyer, view)
      aim(handle, 'fixed', drawn.current.flyer, view)
      seen.current = view.record.hash
      handle.draw()
    }
  }, [view, document, place])

  const forget = useCallback(() => (drawn.current = undefined), [])
  const ready = useClockedStage({ stageRef: stage, rebuild, place, forget })

  const look = useCallback(
    (next: ViewName) => {
      cameraNow.current = next
      setCamera(next)
      if (stage.current !== undefined && drawn.current !== undefined) aim(stage.current, next, drawn.current.flyer, view)
      stage.current?.draw()
    },
    [view],
  )
  useEffect(
    () =>
      offerActions('flightView', [
        {
          name: 'Next view',
          keys: 'V',
          group: 'Trials',
          does: () => look(viewNames[(viewNames.indexOf(camera) + 1) % viewNames.length]!),
        },
      ]),
    [camera, look],
  )
  const save = async () => {
    if (stage.current !== undefined) download(`${view.trial}-3d.png`, await stage.current.picture())
  }
  const ground = view.machine.ground as number
  return (
    <div className="relative min-h-0 h-full overflow-hidden">
      <Stage3D
        label={`Flight of ${view.machineName}`}
        ground={ground}
        gridStep={0.5}
        camera={[-3.4, -5.6, 2.9]}
        target={[0.9, 0, 1.3]}
        onReady={ready}
      />
      <TrailNote held={view.held} />
      <div className="absolute right-2 bottom-2 flex bg-chalk rounded-md border border-line p-0.5">
        {viewNames.map((one) => (
          <button
            key={one}
            className={`button small border-transparent px-2 ${one === camera ? 'chosen' : ''}`}
            aria-pressed={one === camera}
            onClick={() => look(one)}
          >
            {one}
          </button>
        ))}
        <button className="button small border-transparent px-2" aria-label="Save the 3D view as PNG" onClick={() => void save()}>
          <Camera size={15} />
        </button>
      </div>
    </div>
  )
}

/** Where cues ask a lifter to be: the references of the loops that hold its place. */
function placeAsked(document: Document, trial: string, t: number): [number, number, number] {
  const machine = document.trials[trial]!.machine
  const asked = (held: string) => {
    const loop = Object.keys(document.loops).find(
      (name) => document.loops[name]!.machine === machine && document.loops[name]!.holds === held,
    )
    return loop === undefined ? 0 : referenceOf(document, trial, loop)(t)
  }
  return [asked('east'), asked('north'), asked('height')]
}

function contents(view: TrialView, { palette }: StageHandle, reference: ((t: number) => number) | undefined): Drawn {
  const group = new THREE.Group()
  const ground = view.machine.ground as number
  const tower = lighthouse(2.3, ground, palette)
  tower.position.set(2.9, 1.1, 0)
  const flyer = centred(view, lifter(view.machine, palette))
  const ghosts = view.pinned.map(({ letter, record }) => {
    const color = getComputedStyle(window.document.documentElement).getPropertyValue(strokes[roleOfLetter(letter)].color).trim()
    return { group: centred(view, lifter(view.machine, palette, 0.3, color)), record }
  })
  const ring = new THREE.Mesh(new THREE.TorusGeometry(0.62, 0.006, 8, 64), new THREE.MeshBasicMaterial({ color: palette.ink }))
  group.add(tower, flyer, ring, ...ghosts.map((ghost) => ghost.group))
  if (view.record !== undefined) group.add(trail(view, view.record, reference, palette))
  return { group, flyer, ghosts, ring }
}

/** A group whose origin is the centre of mass, as the record's position is. */
function centred({ machine }: TrialView, solid: THREE.Group): THREE.Group {
  const { centre } = massProperties(machine, numbersOf(machine))
  solid.position.set(...(centre.map((value) => -(value as number)) as [number, number, number]))
  const group = new THREE.Group()
  group.add(solid)
  return group
}

function trail(
  view: TrialView,
  record: RunRecord,
  reference: ((t: number) => number) | undefined,
  palette: StageHandle['palette'],
): THREE.Line {
  const [east, north, height] = ['east', 'north', 'height'].map((name) => findColumn(record, `${view.machineName}.${name}`)!)
  return trailOf(view, record, reference, palette, (k) =>
    Number.isFinite(height![k]!) ? new THREE.Vector3(east![k], north![k], height![k]) : undefined,
  )
}

/** Puts a machine where the record has it at time t. */
function pose(group: THREE.Group, record: RunRecord, machine: string, t: number): void {
  const k = rowAt(record, t)
  const at = (name: string) => findColumn(record, `${machine}.${name}`)![k]!
  group.position.set(at('east'), at('north'), at('height'))
  group.quaternion.set(at('attitude.x'), at('attitude.y'), at('attitude.z'), at('attitude.w'))
}

/** How far off, in its own radius, all of a flight is in sight. */
const farOff = 3.6
/** m: the lighthouse and the ground beside it, which every flight starts next to. */
const scenery = new THREE.Box3(new THREE.Vector3(-0.8, -0.8, 0), new THREE.Vector3(3.4, 1.6, 2.6))

/** The sphere around a whole flight with its scenery. */
function flown(record: RunRecord | undefined, machine: string): { centre: THREE.Vector3; radius: number } {
  const box = scenery.clone()
  const columns = ['east', 'north', 'height'].map((name) => record && findColumn(record, `${machine}.${name}`))
  const [east, north, height] = columns
  const rows = record?.time.length ?? 0
  const step = Math.max(1, Math.floor(rows / 300))
  for (let k = 0; k < rows; k += step) {
    const at = new THREE.Vector3(east?.[k], north?.[k], height?.[k])
    if ([at.x, at.y, at.z].every((value) => Math.abs(value) < 1e4)) box.expandByPoint(at)
  }
  const size = box.getSize(new THREE.Vector3())
  return { centre: box.getCenter(new THREE.Vector3()), radius: size.length() / 2 }
}

function aim(handle: StageHandle, view: ViewName, flyer: THREE.Group, { record, machineName }: TrialView): void {
  const eye = new THREE.Vector3(...eyes[view])
  const whole = view === 'fixed' || view === 'top' || view === 'side' ? flown(record, machineName) : undefined
  const look = whole?.centre ?? flyer.position.clone()
  if (whole !== undefined) eye.setLength(Math.max(eye.length(), farOff * whole.radius))
  if (view === 'body') eye.applyQuaternion(flyer.quaternion)
  handle.target.copy(look)
  handle.camera.position.copy(look).add(eye)
}
