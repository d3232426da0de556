import { ChevronLeft, ChevronRight, Pause, Play } from 'lucide-react'
import { setCursor, setSpeed, togglePlay, useClock } from '../../state/clock'
import { findColumn, rowAt } from '@calm-hand/core/simulation'
import { motionUnit, withUnit } from '../../units'
import { cueTimes } from './useTrialView'
import type { TrialView } from './useTrialView'

interface TimeRailProps {
  readonly trial: string
  readonly view: TrialView
}

const speeds = [-1, 0.1, 0.25, 1, 4, 20]

/** The one clock: play, scrub, speed, and what the machine does at the cursor. */
export function TimeRail({ trial, view }: TimeRailProps) {
  const { cursor, end, playing, speed } = useClock()
  const step = view.record !== undefined && view.record.time.length > 1 ? view.record.time[1]! : 0.005
  const times = [0, ...cueTimes(view.clocked, trial)]
  const byKey = (event: React.KeyboardEvent) => {
    const direction = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (direction === 0) return
    event.preventDefault()
    setCursor(cursor + direction * step * (event.shiftKey ? 10 : 1))
  }
  const jump = (direction: 1 | -1) => {
    const next = direction === 1 ? times.find((t) => t > cursor + 1e-6) : times.findLast((t) => t < cursor - 1e-6)
    if (next !== undefined) setCursor(next)
  }
  return (
    <footer className="bg-chalk border-t border-line px-4 flex items-center gap-3" aria-label="Time rail">
      <button className="size-8 grid place-items-center" aria-label="Previous cue (B)" onClick={() => jump(-1)}>
        <ChevronLeft size={16} />
      </button>
      <button
        className="button main px-3"
        aria-label={playing ? 'Pause (Space)' : 'Play (Space)'}
        onClick={togglePlay}
        disabled={view.record === undefined}
      >
        {playing ? <Pause size={15} /> : <Play size={15} />}
      </button>
      <button className="size-8 grid place-items-center" aria-label="Next cue (N)" onClick={() => jump(1)}>
        <ChevronRight size={16} />
      </button>
      <span className="number whitespace-nowrap" data-testid="cursor">
        {cursor.toFixed(2)} / {end.toFixed(2)} s
      </span>
      <div className="grow relative">
        <RailMarks view={view} times={times} end={end} />
        <input
          type="range"
          className="w-full accent-kelp"
          aria-label="Time cursor"
          aria-valuetext={`${cursor.toFixed(3)} s`}
          min={0}
          max={end}
          step={step}
          value={cursor}
          onChange={(event) => setCursor(Number(event.target.value))}
          onKeyDown={byKey}
        />
      </div>
      <div className="flex border border-line-2 rounded-md overflow-hidden">
        {speeds.map((one) => (
          <button
            key={one}
            className={`px-2 h-7 text-[12.5px] number ${one === speed ? 'bg-kelp-tint text-kelp font-semibold' : ''}`}
            aria-pressed={one === speed}
            aria-label={one < 0 ? 'backwards' : `${one} times as fast`}
            onClick={() => setSpeed(one)}
          >
            {one < 0 ? '◂' : `${one}×`}
          </button>
        ))}
      </div>
      <Reading view={view} cursor={cursor} />
    </footer>
  )
}

function Reading({ view, cursor }: { readonly view: TrialView; readonly cursor: number }) {
  const { record, machineName } = view
  if (record === undefined || record.time.length < 2 || view.held === undefined) return null
  const { quantity, push, loop } = view.held
  const k = rowAt(record, cursor)
  const held = findColumn(record, `${machineName}.${quantity.name}`)?.[k]
  const command = findColumn(record, `loops.${loop}.command`)?.[k]
  if (held === undefined || command === undefined) return null
  return (
    <span className="text-[12.5px] whitespace-nowrap min-w-[210px] max-w-[300px] truncate text-right">
      {quantity.label} <b className="number font-medium text-kelp">{withUnit(held, motionUnit(quantity.unit), 3)}</b>, asks{' '}
      <b className="number font-medium text-ochre-text">{withUnit(command, motionUnit(push.unit), 3)}</b>
    </span>
  )
}

interface RailMarksProps {
  readonly view: TrialView
  readonly times: readonly number[]
  readonly end: number
}

/** px: half of what is dragged on the rail, which stands this far from its ends. */
const halfThumb = 8

/** When cues come, and where a check first failed: a button that goes there. */
function RailMarks({ view, times, end }: RailMarksProps) {
  const place = (t: number) => `calc(${halfThumb}px + (100% - ${2 * halfThumb}px) * ${Math.min(t / end, 1)})`
  const failures = (view.verdicts ?? []).flatMap(({ check, outcome, failedAt }) =>
    outcome === 'fails' && failedAt !== undefined ? [{ check, failedAt }] : [],
  )
  return (
    <>
      {times.slice(1).map((t) => (
        <span key={t} className="absolute -top-1 h-1.5 w-px bg-plum" style={{ left: place(t) }} />
      ))}
      {failures.map(({ check, failedAt }) => (
        <button
          key={check}
          className="absolute -top-2.5 size-3 -ml-1.5 grid place-items-center text-coral text-[10px] leading-none"
          style={{ left: place(failedAt) }}
          aria-label={`A check fails at ${failedAt.toFixed(2)} s`}
          title={`A check fails at ${failedAt.toFixed(2)} s`}
          onClick={() => setCursor(failedAt)}
        >
          ▾
        </button>
      ))}
    </>
  )
}
