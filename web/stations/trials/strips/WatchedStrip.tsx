import { useMemo } from 'react'
import { useOpen } from '../../../state/project'
import { shownUnit } from '../../../units'
import type { TrialView, WatchView } from '../useTrialView'
import { CalmBands } from './CalmBands'
import { groupsOf } from './groups'
import { StateLane } from './StateLane'
import { Strip } from './Strip'
import { useTimeAxis } from './useTimeAxis'
import { ProblemsAt } from '../ProblemsAt'
import { WatchSentence } from './WatchSentence'

interface WatchedStripProps {
  readonly view: TrialView
  readonly watch: WatchView
  readonly end: number
  readonly isLast: boolean
  readonly children: React.ReactNode
}

/** Signals of a sentence over time: those of one unit on one axis, others below on their own; logic and counts as lanes. */
export function WatchedStrip({ view, watch, end, isLast, children }: WatchedStripProps) {
  const document = useOpen((project) => project.valid)
  const time = useTimeAxis(end, watch.part)
  const groups = useMemo(() => groupsOf(document, view, watch), [document, view, watch])
  return (
    <div className="shrink-0" data-watched={watch.signals.map(({ name }) => name).join(' ')}>
      {watch.key !== undefined && <WatchSentence {...{ view, watch }} />}
      {watch.key !== undefined && <ProblemsAt path={`trials.${view.trial}.watch.${watch.key}`} />}
      {groups.map((group, i) => {
        const title = group.signals.map(({ label }) => label).join(', ')
        const heading = (
          <h4 className="whitespace-nowrap font-semibold">
            {watch.key === undefined || groups.length > 1 ? title : ''}{' '}
            <span className="font-normal text-mist">{shownUnit(group.unit)}</span>
          </h4>
        )
        if (group.kind === 'states') return <StateLane key={title} {...{ title, time, states: group.states, heading }} />
        return (
          <div key={title} className={`${group.isFamily ? 'h-[172px]' : 'h-[118px]'} grid`}>
            <Strip
              {...{ title, time, heading, unit: group.unit, series: group.series }}
              summary={`${title} over the run.`}
              showX={isLast && i === groups.length - 1}
            >
              {group.signals.map(({ name }) => (
                <CalmBands key={name} view={view} signal={name} unit={group.unit} />
              ))}
              {children}
            </Strip>
          </div>
        )
      })}
    </div>
  )
}
