import { useState } from 'react'
import { partsIn } from '@calm-hand/core/document'
import { useOpen } from '../../state/project'
import { Figures } from './Figures'
import { HandsPanel } from './hands/HandsPanel'
import type { TrialView } from './useTrialView'

interface BelowProps {
  readonly view: TrialView
  readonly projectId: string
}

/** Under the 3D view: what the run came to, or what it is moved by. */
export function Below({ view, projectId }: BelowProps) {
  const count = useOpen((project) => Object.keys(partsIn(project.document.trials[view.trial]?.hands)).length)
  const [asked, setAsked] = useState<string>()
  const isHands = view.isLive || asked === view.trial || view.held === undefined
  if (view.isLive) return <HandsPanel {...{ view, projectId }} />
  return (
    <div>
      {isHands ? <HandsPanel {...{ view, projectId }} /> : <Figures view={view} />}
      {view.held !== undefined && (
        <div className="px-4 pb-1.5">
          <button className="note underline" onClick={() => setAsked(isHands ? undefined : view.trial)}>
            {isHands ? 'Show figures' : count === 0 ? 'Lay out hands' : `Show ${count === 1 ? 'the hand' : `${count} hands`}`}
          </button>
        </div>
      )}
    </div>
  )
}
