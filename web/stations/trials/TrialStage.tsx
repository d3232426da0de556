import { useCallback, useEffect, useRef, useState } from 'react'
import * as THREE from 'three'
import { bodyPoses, followed, mechanism } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import { findColumn } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { download } from '../../chart'
import { Stage3D, mechanismModel, plainFigure } from '../../scene'
import type { StageHandle } from '../../scene'
import { useClock } from '../../state/clock'
import { useMeshes } from '../../state/meshes'
import { ViewBar } from '../machine/ViewBar'
import { lookAt, machineViews } from '../machineViews'
import type { MachineView } from '../machineViews'
import type { TrialView } from './useTrialView'

/** A drawn machine that is put where a record has it. */
interface Mover {
  readonly group: THREE.Group
  readonly place: (record: RunRecord | undefined, row: number) => void
}

/** A mechanism, or the figure of a machine without bodies, on the one clock. */
export function TrialStage({ view }: { readonly view: TrialView }) {
  const { machine, machineName, record } = view
  const [look, setLook] = useState<MachineView>('fixed')
  const meshes = useMeshes(machine)
  const stage = useRef<StageHandle>(undefined)
  const mover = useRef<Mover>(undefined)

  const place = useCallback(() => {
    const { cursor } = useClock.getState()
    mover.current?.place(record, record === undefined ? 0 : rowAt(record, cursor))
    stage.current?.draw()
  }, [record])
  const aim = useCallback((next: MachineView) => {
    if (stage.current === undefined || mover.current === undefined) return
    setLook(next)
    lookAt(stage.current, mover.current.group, next)
  }, [])
  const rebuild = useCallback(() => {
    const handle = stage.current
    if (handle === undefined) return
    const isFirst = mover.current === undefined
    if (mover.current !== undefined) handle.scene.remove(mover.current.group)
    mover.current =
      machine.kind === mechanism.name
        ? mechanismMover(machine, machineName, handle, meshes)
        : figureMover(machine, machineName, handle)
    handle.scene.add(mover.current.group)
    place()
    if (isFirst) aim('fixed')
  }, [machine, machineName, meshes, place, aim])

  const latest = useRef({ rebuild, place })
  useEffect(() => {
    latest.current = { rebuild, place }
    rebuild()
  }, [rebuild, place])
  useEffect(() => useClock.subscribe(() => latest.current.place()), [])
  const ready = useCallback((handle: StageHandle) => {
    stage.current = handle
    latest.current.rebuild()
    return () => {
      stage.current = mover.current = undefined
    }
  }, [])
  const save = async () => {
    if (stage.current !== undefined) download(`${view.trial}-3d.png`, await stage.current.picture())
  }
  return (
    <div className="relative min-h-0 h-full overflow-hidden">
      <Stage3D
        label={`${machineName} in the trial`}
        ground={0}
        gridStep={0.5}
        camera={[5, -6, 3]}
        target={[0, 0, 0.8]}
        onReady={ready}
      />
      <ViewBar views={machineViews} view={look} onLook={aim} onSave={() => void save()} />
    </div>
  )
}

function rowAt({ time }: RunRecord, t: number): number {
  const step = time.length > 1 ? time[1]! - time[0]! : 1
  return Math.min(Math.max(Math.round(t / step), 0), time.length - 1)
}

function mechanismMover(
  machine: Part,
  name: string,
  { palette }: StageHandle,
  meshes: Parameters<typeof mechanismModel>[3],
): Mover {
  const model = mechanismModel(machine, palette, undefined, meshes)
  const { positions, start, tree } = model.assembly
  return {
    group: model.group,
    place: (record, row) => {
      const q = positions.map((position, i) => valueIn(record, `${name}.${position.name}`, row) ?? start[i]!)
      model.place(bodyPoses(tree, q))
    },
  }
}

/** In lengths of the figure, so that a boat and a toy look alike. */
function figureMover(machine: Part, name: string, { palette }: StageHandle): Mover {
  const figure = Object.values((machine.figure ?? {}) as Readonly<Record<string, Part>>)[0]
  const group = new THREE.Group()
  const drawn = plainFigure((figure?.shape as string | undefined) ?? 'block', 1, palette)
  group.add(drawn)
  const size = (figure?.size as number | undefined) ?? 1
  return {
    group,
    place: (record, row) => {
      const [x, y, z, roll, pitch, yaw] = followed.map((slot) => {
        const signal = figure?.[slot] as string | undefined
        return signal ? (valueIn(record, `${name}.${signal}`, row) ?? 0) : 0
      }) as [number, number, number, number, number, number]
      drawn.position.set(x / size, y / size, z / size)
      drawn.rotation.set(roll, pitch, yaw, 'ZYX')
    },
  }
}

function valueIn(record: RunRecord | undefined, column: string, row: number): number | undefined {
  return record === undefined ? undefined : findColumn(record, column)?.[row]
}
