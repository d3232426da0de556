import { useCallback, useMemo, useState } from 'react'
import type { Document } from '@calm-hand/core/document'
import type { LoopView } from '../../compute/loops/loopView'
import { digitsOf } from '../../units'

/** An answer that stays on the chart while gains are turned. */
export interface KeptAnswer {
  readonly key: number
  readonly loop: string
  /** Its gains in short. */
  readonly title: string
  /** What was found of it. */
  readonly words: string
  /** With its gains as they were. */
  readonly document: Document
}

export interface KeptAnswers {
  readonly answers: readonly KeptAnswer[]
  readonly keep: () => void
  readonly dismiss: (key: number | 'all') => void
}

const mostKept = 4

/** Answers of a loop that were kept, the oldest going first. `document` is the one that the view is of: while gains are turned the page may be ahead of it. */
export function useKept(document: Document, loop: string, view: LoopView | undefined): KeptAnswers {
  const [all, setAll] = useState<readonly KeptAnswer[]>([])
  const keep = useCallback(() => {
    const now = view?.now
    if (now === undefined) return
    const { law, gains } = now.design
    const title = law.gains.map((gain) => `${gain} ${digitsOf(gains[gain] ?? 0, '', 3)}`).join(', ')
    const words = now.findings.map((one) => one.words).join(' ')
    setAll((before) =>
      [...before.filter((one) => one.loop === loop), { key: Date.now(), loop, title, words, document }].slice(-mostKept),
    )
  }, [loop, view, document])
  const dismiss = useCallback(
    (key: number | 'all') => setAll((before) => (key === 'all' ? [] : before.filter((one) => one.key !== key))),
    [],
  )
  const answers = useMemo(() => all.filter((one) => one.loop === loop), [all, loop])
  return { answers, keep, dismiss }
}

/** The letter whose line a kept answer takes, by its place. */
export function keptLetter(place: number): string {
  return String.fromCharCode(65 + place)
}
