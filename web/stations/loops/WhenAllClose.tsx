import type { Document } from '@calm-hand/core/document'
import { loopLabel } from '../../state/labels'
import { moveWords } from './ladder/rungs'
import type { MarginMove } from './ladder/rungs'

const degrees = (angle: number) => `${((angle * 180) / Math.PI).toFixed(0)}°`

interface WhenAllCloseProps {
  readonly document: Document
  readonly moves: ReadonlyMap<string, MarginMove>
}

/** Loops whose margin is another one once all loops of the machine are closed. */
export function WhenAllClose({ document, moves }: WhenAllCloseProps) {
  if (moves.size === 0) return null
  return (
    <p className="note pb-1">
      When all loops close:{' '}
      {[...moves].map(([name, move], i) => (
        <span key={name}>
          {i > 0 && ', '}
          {loopLabel(document, name)} keeps {degrees(move.together)} ({moveWords(move)})
        </span>
      ))}
      .
    </p>
  )
}
