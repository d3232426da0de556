import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import * as THREE from 'three'
import type { Placement } from '@calm-hand/core/algebra'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { bodyPoses, ground, groundLevel, seatPose, shortName } from '@calm-hand/core/machine'
import { lightAround } from '@calm-hand/core/scene'
import type { RestingPoint } from '@calm-hand/core/simulation'
import { Stage3D, annotationNames, annotations, extentOf, forceArrows, label, mechanismModel, overLine } from '../../../scene'
import type { AnnotationName, MechanismModel, StageHandle } from '../../../scene'
import { useMeshes } from '../../../state/meshes'
import { FrameDistance } from './FrameDistance'
import { PicturePopover } from '../../picture/PicturePopover'
import { ShowMenu } from '../ShowMenu'
import { jointTravel } from './jointTravel'
import type { JointTravel } from './jointTravel'
import { attachPulling } from './pulling'
import { frameOf } from './usePose'
import type { Pose } from './usePose'
import { ViewBar } from '../ViewBar'
import { lookAt, machineViews } from '../../machineViews'
import type { MachineView } from '../../machineViews'

interface MechanismStageProps {
  readonly name: string
  readonly machine: Part
  /** The same as far as it shows: `usePictured`. */
  readonly pictured: Part
  readonly chosen: string
  readonly pose: Pose
  /** Where it rests, with what acts on its bodies there; nothing where that is not known. */
  readonly rest: Pick<RestingPoint, 'q' | 'loads'> | undefined
  /** Draws positions of the moment instead of the pose: a mode that swings. Called once a frame. */
  readonly swing: ((seconds: number) => readonly number[]) | undefined
  readonly onChoose: (body: string) => void
  readonly children: React.ReactNode
}

/** The mechanism in 3D, posed; the chosen body in kelp with the travel of its joint. */
export function MechanismStage({
  name,
  machine: whole,
  pictured,
  chosen,
  pose,
  rest,
  swing,
  onChoose,
  children,
}: MechanismStageProps) {
  const [view, setView] = useState<MachineView>('fixed')
  const handle = useRef<StageHandle>(undefined)
  const model = useRef<MechanismModel>(undefined)
  const extras = useRef<THREE.Group>(undefined)
  const framed = useRef<string>(undefined)
  const travel = useRef<JointTravel>(undefined)
  const [shown, setShown] = useState<ReadonlySet<AnnotationName>>(new Set())
  // marks say where masses are
  const machine = shown.size > 0 ? whole : pictured
  const meshes = useMeshes(machine)
  const [other, setOther] = useState<string>(ground)
  const level = useMemo(() => groundLevel(machine), [machine])
  const light = useMemo(() => lightAround(machine), [machine])
  // another report draws nothing anew where forces do not show
  const resting = shown.has('forces') ? rest : undefined
  const frame = other !== chosen && frameOf(pose, other) !== undefined ? other : ground

  const look = useCallback((next: MachineView) => {
    if (handle.current === undefined || model.current === undefined) return
    setView(next)
    lookAt(handle.current, model.current.group, next)
  }, [])

  const build = useCallback(() => {
    const stage = handle.current
    if (stage === undefined) return
    if (model.current !== undefined) stage.scene.remove(model.current.group)
    model.current = mechanismModel(machine, stage.palette, chosen, meshes)
    stage.scene.add(model.current.group)
  }, [machine, chosen, meshes])
  const place = useCallback(
    (q: readonly number[]) => {
      const stage = handle.current
      if (stage === undefined || model.current === undefined) return
      const { tree, seats } = model.current.assembly
      const poses = bodyPoses(tree, q)
      model.current.place(poses)
      if (extras.current !== undefined) stage.scene.remove(extras.current)
      extras.current = new THREE.Group()
      const { radius } = extentOf(model.current.group)
      travel.current = jointTravel(machine, chosen, pose, poses, stage.palette, radius)
      const seat = seats.get(chosen)
      if (travel.current !== undefined) extras.current.add(travel.current.group)
      if (shown.size > 0) extras.current.add(annotations(machine, model.current.assembly, q, shown, stage.palette, radius))
      const loads = resting !== undefined && isNear(q, resting.q) ? resting.loads[chosen] : undefined
      if (loads !== undefined) extras.current.add(forceArrows(machine, loads, stage.palette, radius))
      else if (seat !== undefined) extras.current.add(namePlate(shortName(chosen, machine), seatPose(seat, poses), stage))
      if (shown.has('distance')) {
        const ends = [frameOf(pose, frame), frameOf(pose, chosen)].flatMap((placed) => (placed === undefined ? [] : [placed]))
        const points = ends.map(({ position }) => new THREE.Vector3(...(position as readonly [number, number, number])))
        extras.current.add(overLine(points, stage.palette.coral))
      }
      stage.scene.add(extras.current)
      stage.draw()
    },
    [machine, chosen, pose, shown, resting, frame],
  )
  const redraw = useCallback(() => {
    build()
    place(pose.q)
    // again when its meshes have arrived: only then is its size known
    const wanted = `${name} ${meshes.size}`
    if (framed.current === wanted) return
    framed.current = wanted
    look('fixed')
  }, [build, place, pose.q, look, name, meshes])
  const redrawNow = useRef(redraw)
  // what the pointer works on: the newest, without attaching it anew
  const now = useRef({ chosen, pose, onChoose })
  useEffect(() => {
    now.current = { chosen, pose, onChoose }
  }, [chosen, pose, onChoose])
  useEffect(() => {
    redrawNow.current = redraw
    redraw()
  }, [redraw])
  const ready = useCallback((stage: StageHandle) => {
    handle.current = stage
    framed.current = undefined
    redrawNow.current()
    const detach = attachPulling(stage, {
      model: () => model.current,
      travel: () => travel.current,
      chosen: () => now.current.chosen,
      value: () => now.current.pose.value,
      onChoose: (body) => now.current.onChoose(body),
      onPull: (value) => now.current.pose.pull(value),
    })
    return () => {
      detach()
      handle.current = model.current = extras.current = travel.current = undefined
    }
  }, [])

  useEffect(() => {
    if (swing === undefined) return
    let frame = 0
    const began = performance.now()
    const step = (now: number) => {
      place(swing((now - began) / 1000))
      frame = requestAnimationFrame(step)
    }
    frame = requestAnimationFrame(step)
    return () => cancelAnimationFrame(frame)
  }, [swing, place])

  return (
    <div className="relative h-full min-h-0">
      <Stage3D
        label={`${labelOf(machine, name)} in 3D`}
        ground={level}
        gridStep={0.5}
        light={light}
        camera={[5, -6, 3]}
        target={[0, 0, 0.8]}
        onReady={ready}
      />
      <div className="absolute left-4 top-2.5 right-4">
        {children}
        {shown.has('distance') && (
          <FrameDistance machine={machine} pose={pose} chosen={chosen} other={frame} onOther={setOther} />
        )}
      </div>
      <ShowMenu
        names={annotationNames}
        shown={shown}
        onShow={(next) => {
          // forces are those of rest: the machine is shown there
          if (next.has('forces') && !shown.has('forces') && rest !== undefined) pose.show(rest.q)
          setShown(next)
        }}
      />
      <ViewBar views={machineViews} view={view} onLook={look}>
        <PicturePopover name={name} end={undefined} picture={(choices) => handle.current!.picture(choices)} />
      </ViewBar>
    </div>
  )
}

/** rad and m: as near as a pose that is shown again is. */
const samePose = 1e-6

function isNear(a: readonly number[], b: readonly number[]): boolean {
  return a.length === b.length && a.every((value, i) => Math.abs(value - b[i]!) < samePose)
}

function namePlate(name: string, placement: Placement, { palette }: StageHandle): THREE.Object3D {
  const text = label(name, palette)
  const [x, y, z] = placement.position as readonly [number, number, number]
  text.position.set(x, y, z)
  return text
}
