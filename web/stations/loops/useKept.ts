import { useCallback, useMemo, useState } from 'react'
import { findings } from '@calm-hand/core/tuning'
import type { LoopDesign } from '@calm-hand/core/tuning'
import { digitsOf } from '../../units'
import type { LoopView } from './useLoopView'

/** An answer that stays on the chart while gains are turned. */
export interface KeptAnswer {
  readonly key: number
  readonly loop: string
  /** Its gains in short. */
  readonly title: string
  /** What was found of it. */
  readonly words: string
  readonly design: LoopDesign
}

export interface KeptAnswers {
  readonly answers: readonly KeptAnswer[]
  readonly keep: () => void
  readonly dismiss: (key: number | 'all') => void
}

const mostKept = 4

/** Answers of a loop that were kept, the oldest going first. */
export function useKept(loop: string, view: LoopView): KeptAnswers {
  const [all, setAll] = useState<readonly KeptAnswer[]>([])
  const keep = useCallback(() => {
    const { now, asked } = view
    if (now === undefined) return
    const { design } = now
    const title = design.model.law.gains.map((gain) => `${gain} ${digitsOf(design.gains[gain] ?? 0, '', 3)}`).join(', ')
    const words = findings({ ...now, stepSize: asked.stepSize })
      .map((one) => one.words)
      .join(' ')
    setAll((before) =>
      [...before.filter((one) => one.loop === loop), { key: Date.now(), loop, title, words, design }].slice(-mostKept),
    )
  }, [loop, view])
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
