import type { Problem } from '@calm-hand/core/document'
import { Place } from './Place'

interface ProblemItemProps {
  readonly problem: Problem
  /** Whether the place is one of the open project. */
  readonly leads?: boolean
}

/** What is wrong, what would put it right, and where. */
export function ProblemItem({ problem: { where, what, remedy }, leads = true }: ProblemItemProps) {
  return (
    <div role="alert" className="finding border-coral mb-2">
      <b className="font-semibold text-coral-text">{what}</b> {remedy}
      {leads ? <Place where={where} /> : <span className="note block">{where}</span>}
    </div>
  )
}
