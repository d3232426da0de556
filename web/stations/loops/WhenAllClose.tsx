import { moveWords } from './rungs'
import type { MarginMove } from './rungs'

const degrees = (angle: number) => `${((angle * 180) / Math.PI).toFixed(0)}°`

/** Loops whose margin is another one once all loops of the machine are closed. */
export function WhenAllClose({ moves }: { readonly moves: ReadonlyMap<string, MarginMove> }) {
  if (moves.size === 0) return null
  return (
    <p className="note pb-1">
      When all loops close:{' '}
      {[...moves].map(([name, move], i) => (
        <span key={name}>
          {i > 0 && ', '}
          {name} keeps {degrees(move.together)} ({moveWords(move)})
        </span>
      ))}
      .
    </p>
  )
}
