import { useMemo } from 'react'
import { trialDuration } from '@calm-hand/core/simulation'
import { VerticalMark, niceTicks } from '../../../chart'
import type { Axis } from '../../../chart'
import { useOpen } from '../../../state/project'
import { CursorLine } from '../CursorLine'
import { cueTimes } from '../useTrialView'
import type { TrialView } from '../useTrialView'
import { leftOut } from '../leftOut'
import { LoopStrips } from './LoopStrips'
import { Watch } from './Watch'
import { WatchedStrip } from './WatchedStrip'

/** Watches on one clock: what a loop holds, its rate, the command, who pushes; then every signal that is watched besides. */
export function Strips({ view, onWatch }: { readonly view: TrialView; readonly onWatch: (loop: string) => void }) {
  const document = useOpen((project) => project.valid)
  const end = useMemo(() => trialDuration(document.trials[view.trial] as never), [document, view.trial])
  const times = useMemo(() => cueTimes(view.clocked, view.trial), [view.clocked, view.trial])
  const time: Axis = { domain: [0, end], ticks: niceTicks(0, end, 8), label: 'time, s' }
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
      {view.held !== undefined && (
        <LoopStrips view={view} held={view.held} time={time} onWatch={onWatch}>
          {marks}
        </LoopStrips>
      )}
      {view.watched.map((signal, i) => (
        <WatchedStrip
          key={signal.name}
          view={view}
          signal={signal}
          time={time}
          isLast={i === view.watched.length - 1 && view.held === undefined}
        >
          {marks}
        </WatchedStrip>
      ))}
      {view.held === undefined && view.watched.some(({ predicted }) => predicted !== undefined) && (
        <p className="note pt-1">{leftOut(document, view.trial).join(' ')}</p>
      )}
      <Watch view={view} />
    </div>
  )
}
