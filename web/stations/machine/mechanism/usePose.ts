import { useMemo, useState } from 'react'
import { bodyPoses, assemble, closedPose, coordinateNames, ground, numbersOf, seatPose } from '@calm-hand/core/machine'
import type { Assembly } from '@calm-hand/core/machine'
import { atOrigin } from '@calm-hand/core/algebra'
import type { Placement } from '@calm-hand/core/algebra'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'

export interface Travel {
  readonly least: number
  readonly most: number
  /** Where stops of the document end it. */
  readonly ended: boolean
}

export interface Pose {
  readonly assembly: Assembly
  readonly q: readonly number[]
  readonly poses: readonly Placement[]
  /** The coordinate that is pulled. */
  readonly coordinate: string | undefined
  readonly coordinates: readonly string[]
  readonly unit: string
  readonly value: number
  readonly start: number
  readonly travel: Travel
  readonly isMoved: boolean
  readonly pull: (value: number) => void
  readonly putBack: () => void
  readonly show: (q: readonly number[]) => void
}

/** The pose under the hand: pulled by one coordinate, chains closed by all the others. Not part of the document. */
export function usePose(machine: Part, coordinate: string | undefined): Pose {
  const [pulled, setPulled] = useState<{ machine: Part; q: readonly number[] }>()
  const assembly = useMemo(() => assemble(machine, numbersOf(machine)), [machine])
  const started = useMemo(() => closedPose(machine, assembly.start, []) ?? assembly.start, [machine, assembly])
  const q = pulled?.machine === machine ? pulled.q : started
  const poses = useMemo(() => bodyPoses(assembly.tree, q), [assembly, q])
  const at = assembly.positions.findIndex(({ name }) => name === coordinate)
  const unit = assembly.positions[at]?.unit ?? ''
  const start = started[at] ?? 0
  const travel = useMemo(() => travelOf(machine, coordinate, unit, start), [machine, coordinate, unit, start])
  // the same pose for the same of everything: what draws it draws it once
  return useMemo(() => {
    const pull = (value: number) => {
      if (at < 0) return
      const asked = [...q]
      asked[at] = Math.min(Math.max(value, travel.least), travel.most)
      const next = closedPose(machine, asked, [coordinate!])
      if (next !== undefined) setPulled({ machine, q: next })
    }
    return {
      ...{ assembly, q, poses, coordinate, unit, start, travel, pull },
      coordinates: coordinateNames(machine),
      value: q[at] ?? 0,
      isMoved: q !== started,
      putBack: () => setPulled(undefined),
      show: (next) => setPulled({ machine, q: next }),
    }
  }, [machine, assembly, started, q, poses, coordinate, at, unit, start, travel])
}

/** From stop to stop where the document has them; else once round, or a metre either way. */
function travelOf(machine: Part, coordinate: string | undefined, unit: string, start: number): Travel {
  const stops = Object.values(partsIn(machine.forces)).find((force) => force.kind === 'jointStops' && force.joint === coordinate)
  if (stops !== undefined) return { least: stops.least as number, most: stops.most as number, ended: true }
  const reach = unit === 'rad' ? Math.PI : 1
  return { least: start - reach, most: start + reach, ended: false }
}

/** Where a body's frame lies in the pose; ground at the origin. */
export function frameOf(pose: Pose, body: string): Placement | undefined {
  if (body === ground) return atOrigin
  const seat = pose.assembly.seats.get(body)
  return seat === undefined ? undefined : seatPose(seat, pose.poses)
}
