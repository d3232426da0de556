import { BookmarkPlus, RotateCcw } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import { labelOf } from '@calm-hand/core/kinds'
import { useMachineName } from '../../../state/chosenMachine'
import { useOpen } from '../../../state/project'
import { ChoiceField } from '../../../sentence'
import { shownUnit, toShown, withUnit } from '../../../units'
import type { Pose } from './usePose'

interface PoseSentenceProps {
  readonly machine: Part
  readonly pose: Pose
  readonly onCoordinate: (coordinate: string) => void
  /** Keeps the pose as the next one of a motion. */
  readonly onKeep: () => void
}

/** "Stand Boarding ramp with inner leaf at 14.0°": pulled by slider, keys or in 3D. */
export function PoseSentence({ machine, pose, onCoordinate, onKeep }: PoseSentenceProps) {
  const name = useMachineName()
  // a machine that is alone is called as its project is
  const title = useOpen(({ document }) =>
    Object.keys(document.machines).length > 1 ? labelOf(document.machines[name], name) : document.title,
  )
  const { coordinate, coordinates, unit, value, travel } = pose
  if (coordinate === undefined) {
    return (
      <p className="text-[15px]">
        <b className="font-semibold">{title}</b> as it starts
      </p>
    )
  }
  const step = unit === 'rad' ? Math.PI / 360 : 0.005
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-[15px]">
      <p>
        Stand <b className="font-semibold">{title}</b> with{' '}
        <ChoiceField
          label="joint"
          value={coordinate}
          options={Object.fromEntries(coordinates.map((name) => [name, shortName(name, machine)]))}
          onChoose={onCoordinate}
        />{' '}
        at <span className="number font-semibold">{withUnit(value, unit, 3)}</span>.
      </p>
      <input
        type="range"
        className="w-[150px] accent-kelp"
        aria-label={`${shortName(coordinate, machine)}, ${shownUnit(unit)}`}
        aria-valuetext={withUnit(value, unit, 4)}
        min={toShown(travel.least, unit)}
        max={toShown(travel.most, unit)}
        step={toShown(step, unit)}
        value={toShown(value, unit)}
        onChange={(event) => pose.pull(Number(event.target.value) / toShown(1, unit))}
        onKeyDown={(event) => {
          if (event.key === 'Escape') pose.putBack()
          if (!event.shiftKey || !/^Arrow(Left|Right|Up|Down)$/.test(event.key)) return
          event.preventDefault()
          const sign = event.key === 'ArrowLeft' || event.key === 'ArrowDown' ? -1 : 1
          pose.pull(value + sign * 10 * step)
        }}
      />
      {pose.isMoved && (
        <button className="button small" onClick={pose.putBack}>
          <RotateCcw size={13} /> Put back
        </button>
      )}
      <button className="button small" onClick={onKeep} title="Keep this pose as the next one of a motion">
        <BookmarkPlus size={13} /> Keep pose
      </button>
    </div>
  )
}
