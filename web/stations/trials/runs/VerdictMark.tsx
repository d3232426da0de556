import type { RunVerdict } from '../../../state/server'

/** How a check came out. */
export function VerdictMark({ verdict: { outcome } }: { readonly verdict: RunVerdict }) {
  const [mark, look] = { holds: ['✓', 'text-kelp'], fails: ['✕', 'text-coral-text'], open: ['○', 'text-mist'] }[outcome] as [
    string,
    string,
  ]
  return (
    <span className={look} role="img" aria-label={outcome}>
      {mark}
    </span>
  )
}
