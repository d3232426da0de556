import { useEffect, useState } from 'react'
import { contentHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { Spread } from '@calm-hand/core/tuning'
import type { AskedFor } from '../compute/loops/asked'
import { latest, superseded } from './latest'
import { mappers } from './mappers'

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

interface Question {
  readonly document: Document
  readonly written: Document
  readonly loop: string
  readonly choice: SpreadChoice
  readonly asked: AskedFor
  readonly window: number
}

const ask = latest(async ({ document, written, loop, choice, asked, window }: Question): Promise<Spread | string> =>
  mappers()[0]!.spread(document, written, loop, choice, asked, window),
)

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
  const [answer, setAnswer] = useState<{ key: string; loop: string; spread: Spread | string }>()
  useEffect(() => {
    if (!varies) return undefined
    let wanted = true
    void ask({ document, written, loop, choice, asked: asked!, window }).then((spread) => {
      if (wanted && spread !== superseded) setAnswer({ key, loop, spread })
    })
    return () => {
      wanted = false
    }
    // the key says everything that the answer depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])
  return { spread: varies && answer?.loop === loop ? answer.spread : undefined, late: varies && answer?.key !== key }
}
