import { Play, Square } from 'lucide-react'
import { useState } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import type { DriveEffort, MotionEffort } from '@calm-hand/core/simulation'
import { Chart, axisOver, niceDomain, niceTicks } from '../../../chart'
import type { Series } from '../../../chart'
import { ChoiceField } from '../../../sentence'
import { labelled } from '../../../state/labels'
import type { Looked } from '../../../state/reports'
import { digitsOf, shownUnit, withUnit } from '../../../units'

interface MotionTabProps {
  readonly machine: Part
  readonly motion: string | undefined
  readonly onMotion: (motion: string) => void
  readonly effort: Looked<'effort'>
  readonly isPlaying: boolean
  readonly onPlay: (playing: boolean) => void
}

/** What a motion asks of each drive: exactly, and with loops that follow it, against what the drive can give. */
export function MotionTab({ machine, motion, onMotion, effort: { answer: effort, failure }, isPlaying, onPlay }: MotionTabProps) {
  const [asked, setAsked] = useState<string>()
  if (motion === undefined)
    return (
      <p className="note p-4">
        No motion yet. Pull a joint in the sentence above and keep the pose, or add a motion under Motions: its efforts show here.
      </p>
    )
  if (failure !== undefined) return <p className="p-4 text-coral-text">The motion could not be worked out: {failure}</p>
  if (effort === undefined) return <p className="note p-4">Working out what it takes ...</p>
  if (effort.kind === 'refused') {
    const [problem] = effort.problems
    return (
      <p role="alert" className="p-4 text-coral-text">
        {problem!.what} {problem!.remedy}
      </p>
    )
  }
  const { drives, unmet, followed } = effort.value
  const drive = drives.find(({ name }) => name === asked) ?? hardest(drives)
  return (
    <div className="grid grid-cols-[262px_1fr] gap-x-4 px-3 pt-2 pb-1 h-full min-h-0">
      <div className="overflow-auto text-[12.5px] leading-[20px]" tabIndex={0} aria-label="Efforts">
        <p>
          <button className="button small mr-1.5" aria-pressed={isPlaying} onClick={() => onPlay(!isPlaying)}>
            {isPlaying ? <Square size={12} /> : <Play size={12} />} {isPlaying ? 'Stop' : 'Play'}
          </button>
          <ChoiceField label="motion" value={motion} options={labelled(partsIn(machine.motions))} onChoose={onMotion} /> takes
        </p>
        <ul>
          {drives.map((one) => (
            <li key={one.name}>
              <button
                className={`w-full text-left px-1 rounded grid grid-cols-[1fr_auto_auto] gap-2 ${one === drive ? 'bg-kelp-tint' : ''}`}
                aria-pressed={one === drive}
                onClick={() => setAsked(one.name)}
              >
                <span className="truncate font-semibold">{shortName(one.name, machine)}</span>
                <span className="number">{withUnit(one.peak, one.unit, 3)}</span>
                <span className={`number w-[46px] text-right ${(one.share ?? 0) > 1 ? 'text-coral-text' : 'text-mist'}`}>
                  {one.share === undefined ? '' : `${digitsOf(100 * one.share, '', 2)} %`}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {unmet.map(({ name, unit, most }) => (
          <p key={name} className="text-ochre-text">
            {shortName(name, machine)} would need {withUnit(most, unit, 3)}, but no drive moves it.
          </p>
        ))}
        <p className="note pt-1">
          {followed.diverged
            ? 'Loops that follow it lose hold of it.'
            : `Followed by loops it is missed by at most ${missed(effort.value, machine)}.`}
          {drive !== undefined && ` ${beyond(drive, machine)}`}
        </p>
      </div>
      {drive !== undefined && <EffortChart machine={machine} drive={drive} effort={effort.value} />}
    </div>
  )
}

function hardest(drives: readonly DriveEffort[]): DriveEffort | undefined {
  return drives.reduce<DriveEffort | undefined>((a, b) => (a === undefined || (b.share ?? 0) > (a.share ?? 0) ? b : a), undefined)
}

function missed({ followed: { errors }, coordinates }: MotionEffort, machine: Part): string {
  const worst = errors.reduce((a, b) => (b.most > a.most ? b : a), errors[0] ?? { coordinate: '', most: 0 })
  const unit = coordinates.find(({ name }) => name === worst.coordinate)?.unit ?? 'rad'
  return `${withUnit(worst.most < 1e-7 ? 0 : worst.most, unit, 2)} (${shortName(worst.coordinate, machine)})`
}

/** Times the peak: a limit beyond would flatten the curve that matters, and is told in words. */
const farAbove = 2.5

function nearLimits({ reach = [], peak }: DriveEffort): readonly number[] {
  return reach.filter((most) => most <= farAbove * Math.max(peak, 1e-9))
}

function beyond(drive: DriveEffort, machine: Part): string {
  const { reach, unit, name } = drive
  if (reach === undefined || nearLimits(drive).length > 0) return ''
  return `What ${shortName(name, machine)} can give, ${withUnit(Math.min(...reach), unit, 3)}, lies beyond the chart.`
}

function EffortChart({
  machine,
  drive,
  effort: { time, drives, followed },
}: {
  readonly machine: Part
  readonly drive: DriveEffort
  readonly effort: MotionEffort
}) {
  const k = drives.indexOf(drive)
  const { reach, values } = drive
  const near = nearLimits(drive)
  const curves: Series[] = [
    { name: 'exact', role: 'actual', xs: time, ys: values },
    { name: 'followed', role: 'command', xs: followed.time, ys: followed.efforts[k]! },
  ]
  const limits: Series[] =
    reach === undefined || near.length === 0
      ? []
      : [
          { name: 'limit', role: 'disturbance', xs: time, ys: reach },
          { name: '−limit', role: 'disturbance', xs: time, ys: reach.map((most) => -most) },
        ]
  const domain = niceDomain([...curves.map(({ ys }) => ys), near, near.map((most) => -most)])
  const [first, last] = [time[0]!, time.at(-1)!]
  return (
    <Chart
      title={shortName(drive.name, machine)}
      unit={shownUnit(drive.unit)}
      x={{ domain: [first, last], ticks: niceTicks(first, last, 5), label: 'time' }}
      y={axisOver(domain, 4)}
      series={[...curves, ...limits]}
      summary={`Peak ${withUnit(drive.peak, drive.unit, 3)}, rms ${withUnit(drive.rms, drive.unit, 3)}. ${beyond(drive, machine)}`}
    />
  )
}
