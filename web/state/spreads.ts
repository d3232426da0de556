import { contentHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { Spread } from '@calm-hand/core/tuning'
import type { AskedFor } from '../compute/loops/asked'
import { useAnswer } from '../compute'
import type { Arguments } from '../compute'

export interface SpreadChoice {
  /** Numbers of the machine, or parameters of the document. */
  readonly paths: readonly string[]
  /** How far either way, as a share. */
  readonly share: number
}

export interface SpreadState {
  /** Words where there is none. */
  readonly spread: Spread | string | undefined
  readonly late: boolean
}

/** How the answer of a loop spreads, worked out beside the interface; nothing while no number varies. */
export function useSpread(
  document: Document,
  written: Document,
  loop: string,
  choice: SpreadChoice,
  asked: AskedFor | undefined,
  window = 0,
): SpreadState {
  const varies = choice.paths.length > 0 && asked !== undefined
  const key = varies
    ? contentHash([
        document.machines,
        written.machines,
        written.parameters,
        document.loops,
        document.estimators,
        loop,
        choice,
        asked,
        window,
      ])
    : ''
  const rest = varies ? ([written, loop, choice, asked, window] as Arguments<'spread'>) : undefined
  const { answer, late } = useAnswer('spread', document, rest, { subject: loop, lane: 'side', rank: 2, key })
  return { spread: answer, late }
}
