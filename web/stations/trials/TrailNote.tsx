import { withUnit } from '../../units'
import { fullScaleError } from './trail'
import type { TrialView } from './useTrialView'

/** What the colours of the trail say. */
export function TrailNote({ held }: Pick<TrialView, 'held'>) {
  if (held === undefined) return null
  const { label, unit } = held.quantity
  return (
    <p className="absolute left-3 top-2 note flex items-center gap-2 bg-chalk/85 rounded px-2 py-1">
      trail: {label} error 0
      <span
        className="inline-block h-1.5 w-16"
        style={{ background: 'linear-gradient(90deg, var(--kelp), var(--ochre), var(--coral))' }}
      />{' '}
      {withUnit(fullScaleError(unit), unit, 3)}
    </p>
  )
}
