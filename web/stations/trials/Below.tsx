import { useState } from 'react'
import { Link } from 'react-router'
import { partsIn } from '@calm-hand/core/document'
import { useOpen } from '../../state/project'
import { Figures } from './Figures'
import { GapSection } from './gap/GapSection'
import { HandsPanel } from './hands/HandsPanel'
import { PrintSection } from './print/PrintSection'
import { SpanSection } from './span/SpanSection'
import type { TrialView } from './useTrialView'

interface BelowProps {
  readonly view: TrialView
  readonly projectId: string
}

type Shown = 'figures' | 'span' | 'gap' | 'print' | 'hands'

/** Under the 3D view: what the run came to, what it does between two instants, why it is not as predicted, or what it is moved by. */
export function Below({ view, projectId }: BelowProps) {
  const count = useOpen((project) => Object.keys(partsIn(project.document.trials[view.trial]?.hands)).length)
  const [asked, setAsked] = useState<{ readonly trial: string; readonly shown: Shown }>()
  if (view.isLive) return <HandsPanel {...{ view, projectId }} />
  const first: Shown = view.held === undefined ? 'hands' : 'figures'
  const shown = asked?.trial === view.trial ? asked.shown : first
  const choices: readonly (readonly [Shown, string])[] = [
    ...(view.held === undefined ? [] : [['figures', 'Figures'] as const]),
    ['span', 'Between two instants'],
    ['gap', 'Why not as predicted'],
    ['print', 'For print'],
    ['hands', count === 0 ? 'Lay out hands' : count === 1 ? 'The hand' : `${count} hands`],
  ]
  return (
    <div>
      {shown === 'hands' && <HandsPanel {...{ view, projectId }} />}
      {shown === 'figures' && <Figures view={view} />}
      {shown === 'span' && <SpanSection view={view} />}
      {shown === 'print' && <PrintSection view={view} />}
      {shown === 'gap' && <GapSection {...{ view, projectId }} />}
      <div className="px-4 pb-1.5 flex flex-wrap gap-x-4 whitespace-nowrap" role="group" aria-label="Below the view">
        {choices.map(([name, words]) => (
          <button
            key={name}
            className={`note ${name === shown ? 'text-ink font-medium' : 'underline'}`}
            aria-pressed={name === shown}
            onClick={() => setAsked({ trial: view.trial, shown: name })}
          >
            {words}
          </button>
        ))}
        <Link className="note underline" to={`/${projectId}/trials/${view.trial}/compare`}>
          Against a record
        </Link>
        <Link className="note underline" to={`/${projectId}/trials/${view.trial}/runs`}>
          Its runs
        </Link>
        <Link className="note underline" to={`/${projectId}/report`}>
          Report
        </Link>
      </div>
    </div>
  )
}
