import type { Part } from '@calm-hand/core/document'
import { frameBetween, ground, shortName } from '@calm-hand/core/machine'
import { ChoiceField } from '../../../sentence'
import { digitsOf, withUnit } from '../../../units'
import { frameOf } from './usePose'
import type { Pose } from './usePose'

interface FrameDistanceProps {
  readonly machine: Part
  readonly pose: Pose
  readonly chosen: string
  readonly other: string
  readonly onOther: (body: string) => void
}

/** "boom lies 2.31 m from ground: 0.4 0 2.28 in its axes, turned 14.0°": read in the pose that is shown. */
export function FrameDistance({ machine, pose, chosen, other, onOther }: FrameDistanceProps) {
  const bodies = [ground, ...pose.assembly.seats.keys()].filter((name) => name !== chosen)
  const from = frameOf(pose, other)
  const to = frameOf(pose, chosen)
  if (from === undefined || to === undefined) return null
  const { distance, along, angle } = frameBetween(from, to)
  return (
    <p className="text-[13px] pt-1" aria-label="Distance between frames">
      <b className="font-semibold">{shortName(chosen, machine)}</b> lies{' '}
      <span className="number">{withUnit(distance, 'm', 4)}</span> from{' '}
      <ChoiceField
        label="frame"
        value={other}
        options={Object.fromEntries(bodies.map((name) => [name, shortName(name, machine)]))}
        onChoose={onOther}
      />
      : <span className="number">{along.map((value) => digitsOf(value, 'm', 3)).join(' ')}</span> in its axes, turned{' '}
      <span className="number">{withUnit(angle, 'rad', 4)}</span>.
    </p>
  )
}
