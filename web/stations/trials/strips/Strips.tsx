import { useMemo } from 'react'
import { trialDuration } from '@calm-hand/core/simulation'
import { VerticalMark } from '../../../chart'
import { moveWindow, seeWholeRun, useClock } from '../../../state/clock'
import { useOpen } from '../../../state/project'
import { CursorLine } from '../CursorLine'
import { cueTimes } from '../useTrialView'
import type { TrialView } from '../useTrialView'
import { leftOut } from '../leftOut'
import { LoopStrips } from './LoopStrips'
import { useTimeAxis } from './useTimeAxis'
import { Watch } from './Watch'
import { WatchedPathStrip } from './WatchedPathStrip'
import { WatchedStrip } from './WatchedStrip'

/** Watches on one clock: what a loop holds, its rate, the command, who pushes; then every sentence of what is watched besides. */
export function Strips({ view, onWatch }: { readonly view: TrialView; readonly onWatch: (loop: string) => void }) {
  const document = useOpen((project) => project.valid)
  const end = useMemo(() => trialDuration(document.trials[view.trial] as never), [document, view.trial])
  const times = useMemo(() => cueTimes(view.clocked, view.trial), [view.clocked, view.trial])
  const time = useTimeAxis(end)
  const marks = (
    <>
      {times.map((t) => (
        <VerticalMark key={t} at={t} tone="plum" dash="2 3" />
      ))}
      <CursorLine />
    </>
  )
  return (
    <div className="grow shrink-0 flex flex-col min-h-[430px] px-3 pt-1" data-strips={view.record?.hash ?? 'none'}>
      <WindowTold end={end} />
      {view.held !== undefined && (
        <LoopStrips view={view} held={view.held} time={time} end={end} onWatch={onWatch}>
          {marks}
        </LoopStrips>
      )}
      {view.watches.map((watch, i) =>
        watch.isPath ? (
          <WatchedPathStrip key={watch.key} {...{ view, watch, end }} />
        ) : (
          <WatchedStrip
            key={watch.key ?? watch.signals[0]?.name}
            {...{ view, watch, end }}
            isLast={i === view.watches.length - 1 && view.held === undefined}
          >
            {marks}
          </WatchedStrip>
        ),
      )}
      {view.held === undefined && view.watched.some(({ predicted }) => predicted !== undefined) && (
        <p className="note pt-1">{leftOut(document, view.trial).join(' ')}</p>
      )}
      <Watch view={view} />
    </div>
  )
}

/** What part of the run strips show where it is not all, and the ways on. */
function WindowTold({ end }: { readonly end: number }) {
  const window = useClock((clock) => clock.window)
  if (window === undefined) return null
  const [from, to] = window
  const wide = to - from
  const digits = Math.max(1, Math.ceil(2 - Math.log10(wide)))
  return (
    <p className="note flex items-center gap-1.5" role="status">
      <span className="grow">
        Strips show {from.toFixed(digits)} s to {to.toFixed(digits)} s of {end.toFixed(1)} s.
      </span>
      <button className="button small" aria-label="Earlier" disabled={from <= 0} onClick={() => moveWindow(-wide / 2)}>
        ‹
      </button>
      <button className="button small" aria-label="Later" disabled={to >= end} onClick={() => moveWindow(wide / 2)}>
        ›
      </button>
      <button className="button small" onClick={seeWholeRun}>
        The whole run
      </button>
    </p>
  )
}
