import type { Problem } from '@calm-hand/core/document'

/** What is wrong, what would put it right, and where. */
export function ProblemItem({ problem: { where, what, remedy } }: { readonly problem: Problem }) {
  return (
    <div role="alert" className="finding border-coral mb-2">
      <b className="font-semibold text-coral-text">{what}</b> {remedy}
      <span className="note block">{where}</span>
    </div>
  )
}
