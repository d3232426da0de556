import { useMemo } from 'react'
import { partAt } from '@calm-hand/core/document'
import type { LoopPart } from '@calm-hand/core/document'
import { HorizontalMark } from '../../../chart'
import type { Axis } from '../../../chart'
import { endWords } from '../../../endWords'
import { ChoiceField } from '../../../sentence'
import { labelled, loopLabel } from '../../../state/labels'
import { useOpen } from '../../../state/project'
import { shownUnit, toShown, withUnit } from '../../../units'
import type { HeldView, TrialView } from '../useTrialView'
import { CalmBands } from './CalmBands'
import { loopLines, loopUnits, stripMargin } from './lines'
import { Strip } from './Strip'
import { WhoPushes } from './WhoPushes'

interface LoopStripsProps {
  readonly view: TrialView
  readonly held: HeldView
  /** What of it is seen. */
  readonly time: Axis
  /** s, where the trial ends. */
  readonly end: number
  readonly onWatch: (loop: string) => void
  /** Drawn over each of them. */
  readonly children: React.ReactNode
}

/** Of one loop: what it holds with its reference, its rate, its command and who pushes, and by how much an estimator was surprised. */
export function LoopStrips({ view, held, time, end, onWatch, children }: LoopStripsProps) {
  const document = useOpen((project) => project.valid)
  const { loop, quantity } = held
  const units = loopUnits(held)
  const lines = useMemo(() => loopLines(view, held, end), [view, held, end])
  const hasRate = quantity.rate !== undefined
  const isSurprised = lines.innovation.length > 0
  const rows = `3fr ${hasRate ? '2fr ' : ''}2.4fr 2.6fr${isSurprised ? ' 1.7fr' : ''}`
  const limit = mostPush(view, document.loops[loop]!)
  const heading = (
    <h3 className="whitespace-nowrap">
      <ChoiceField label="loop shown" value={loop} options={labelled(document.loops, view.loops)} onChoose={onWatch} />{' '}
      <span className="font-normal text-mist">
        {quantity.label === loopLabel(document, loop) ? '' : `${quantity.label} `}
        {shownUnit(units.held)}
      </span>
    </h3>
  )
  return (
    <div className="grow min-h-[400px] grid grid-cols-1" style={{ gridTemplateRows: rows }}>
      <Strip title={quantity.label} unit={units.held} time={time} series={lines.held} summary={summaryOf(held)} heading={heading}>
        <CalmBands {...{ view, loop }} signal={`${view.machineName}.${quantity.name}`} unit={units.held} />
        {children}
      </Strip>
      {hasRate && (
        <Strip
          title={`rate of ${quantity.label}`}
          unit={units.rate}
          time={time}
          series={lines.rate}
          summary="Actual, estimated and predicted rate."
          legend={false}
        >
          <CalmBands view={view} signal={`${view.machineName}.${quantity.rate}`} unit={units.rate} />
          {children}
        </Strip>
      )}
      <Strip
        title="command"
        unit={units.push}
        time={time}
        series={lines.command}
        always={zero}
        summary={`What the loop asks: ${held.push.label}.`}
      >
        <CalmBands view={view} signal={`loops.${loop}.command`} unit={units.push} />
        {limit !== undefined && (
          <HorizontalMark
            at={toShown(limit, units.push)}
            tone="coral"
            dash="2 3"
            label={`most ${withUnit(limit, units.push, 3)}`}
          />
        )}
        {children}
      </Strip>
      <WhoPushes view={view} held={held} time={time} margin={stripMargin}>
        {children}
      </WhoPushes>
      {isSurprised && (
        <Strip
          title="innovation"
          unit={units.held}
          time={time}
          series={lines.innovation}
          always={zero}
          summary={`By how much a reading of ${quantity.label} surprised its estimator.`}
        >
          <HorizontalMark at={0} />
          {children}
        </Strip>
      )}
    </div>
  )
}

const zero = [0]

/** The most that a loop may command, by its own limit or that of the drive that it pushes. */
function mostPush({ machine }: TrialView, loop: LoopPart): number | undefined {
  const drive = partAt(machine, loop.pushes)
  const most = [loop.most, drive?.most].filter((one): one is number => typeof one === 'number')
  return most.length === 0 ? undefined : Math.min(...most)
}

function summaryOf({ figures, quantity }: HeldView): string {
  const { simulated } = figures
  if (simulated === undefined) return 'Not run yet.'
  const { overshoot } = simulated
  const ends = endWords(simulated, quantity.unit, (off) => `ends ${off} off`)
  return `Simulated ${quantity.label} overshoots by ${(100 * overshoot).toFixed(1)} % and ${ends}.`
}
