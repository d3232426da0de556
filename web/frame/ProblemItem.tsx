import type { Problem } from '@calm-hand/core/document'
import { Place } from './Place'

/** What is wrong, what would put it right, and where; `leads`: to a place of the open project. */
interface ProblemItemProps {
  readonly problem: Problem
  readonly leads?: boolean
}

export function ProblemItem({ problem: { where, what, remedy }, leads = true }: ProblemItemProps) {
  return (
    <div role="alert" className="finding border-coral mb-2">
      <b className="font-semibold text-coral-text">{what}</b> {remedy}
      {leads ? <Place where={where} /> : <span className="note block">{where}</span>}
    </div>
  )
}
