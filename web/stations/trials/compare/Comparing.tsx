import { ArrowLeft } from 'lucide-react'
import { useNavigate } from 'react-router'
import { PanelBoundary } from '../../../frame/PanelBoundary'
import { ThreePanels } from '../../../frame/ThreePanels'
import { useOpen } from '../../../state/project'
import { TimeRail } from '../TimeRail'
import type { TrialView } from '../useTrialView'
import { CompareCharts } from './CompareCharts'
import { FiguresTable } from './FiguresTable'
import { Mapping } from './Mapping'
import { NumbersAccount } from './NumbersAccount'
import { SideBySide } from './SideBySide'
import { TimeShift } from './TimeShift'
import { useComparison } from './useComparison'

interface ComparingProps {
  readonly view: TrialView
  readonly projectId: string
}

/** A trial beside a measured record: overlaid, as differences, as figures and verdicts, and which numbers make them. */
export function Comparing({ view, projectId }: ComparingProps) {
  const document = useOpen((project) => project.valid)
  const comparison = useComparison(document, view)
  const navigate = useNavigate()
  const { title } = document.trials[view.trial] as unknown as { readonly title: string }
  return (
    <div className="h-full grid grid-rows-[1fr_44px]">
      <ThreePanels
        name="compare"
        widths={[300, 319]}
        index={
          <>
            <div className="section flex items-baseline gap-2">
              <h2 className="grow truncate">{title}</h2>
              <button
                className="note underline flex items-center gap-1"
                onClick={() => void navigate(`/${projectId}/trials/${view.trial}`)}
              >
                <ArrowLeft size={12} /> Back to the trial
              </button>
            </div>
            <SideBySide {...{ view, comparison }} />
            {comparison !== undefined && <Mapping {...{ view, comparison }} />}
            {comparison !== undefined && <TimeShift comparison={comparison} />}
          </>
        }
        stage={
          <div className="h-full overflow-auto bg-chalk px-4 py-2" aria-label="Side by side over time" role="region" tabIndex={0}>
            {comparison === undefined ? (
              <p className="note p-6 text-center">
                What a rig recorded of this trial stands here beside the simulation, once a file is given.
              </p>
            ) : (
              <PanelBoundary name="The comparison">
                <CompareCharts comparison={comparison} />
                <FiguresTable {...{ view, comparison }} />
              </PanelBoundary>
            )}
          </div>
        }
        card={
          comparison === undefined ? (
            <p className="section note">Then the account tells which numbers of the machine explain how the two differ.</p>
          ) : (
            <NumbersAccount {...{ view, projectId, comparison }} />
          )
        }
      />
      <TimeRail trial={view.trial} view={view} />
    </div>
  )
}
