import type { Document } from '@calm-hand/core/document'
import { loopLabel } from '../../state/labels'
import { useStaleLoops } from '../../state/stale'
import { retune } from './retune'

const degrees = (angle: number) => `${((angle * 180) / Math.PI).toFixed(0)}°`

/** Loops whose typed gains no longer give what they were made for, and the one action that brings them back. */
export function Stale({ document }: { readonly document: Document }) {
  const stale = useStaleLoops(document)
  if (stale === undefined || stale.length === 0) return null
  return (
    <div className="finding border-ochre text-[12.5px] leading-[18px] mb-1" role="status">
      {stale.map(({ name, meant, now }) => (
        <p key={name}>
          <b className="font-semibold">{loopLabel(document, name)}</b> was made for {meant.crossover.toPrecision(3)} rad/s with{' '}
          {degrees(meant.phaseMargin)};{' '}
          {now === undefined
            ? 'it no longer crosses over'
            : `it has ${now.crossover.toPrecision(3)} rad/s with ${degrees(now.phaseMargin)}`}
          .
        </p>
      ))}
      <button className="text-kelp font-semibold" onClick={() => void retune(document)}>
        Retune {stale.length === 1 ? 'it' : `all ${stale.length}`}
      </button>
    </div>
  )
}
