import { useMemo } from 'react'
import { setValue } from '../../../state/edits'
import { edit } from '../../../state/project'
import { withUnit } from '../../../units'
import { FindSignal } from '../FindSignal'
import type { TrialView } from '../useTrialView'
import { trailColour } from './trail'

/** What the colours of the trail say, and a way to have another signal. */
export function TrailNote({ view }: { readonly view: TrialView }) {
  const { record, trial } = view
  const colour = useMemo(() => (record === undefined ? undefined : trailColour(view, record)), [view, record])
  return (
    <p className="absolute left-3 top-2 note flex items-center gap-2 bg-chalk/85 rounded px-2 py-1">
      trail:{' '}
      <FindSignal
        view={view}
        onTake={(signal) => edit(setValue(`trials.${trial}.trail`, signal, `Colour the trail by ${signal}`))}
      >
        <button className="slot" aria-label={`trail coloured by ${colour?.label ?? 'nothing'}`}>
          {colour?.label ?? 'one colour'}
        </button>
      </FindSignal>
      {colour !== undefined && (
        <>
          0
          <span
            className="inline-block h-1.5 w-16"
            style={{ background: 'linear-gradient(90deg, var(--kelp), var(--ochre), var(--coral))' }}
          />{' '}
          {withUnit(colour.full, colour.unit, 3)}
        </>
      )}
    </p>
  )
}
