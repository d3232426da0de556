import { useEffect, useState } from 'react'
import { contentHash, partHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { Cut, Prediction, TogetherFigures } from '@calm-hand/core/tuning'
import { latest, superseded } from './latest'
import { mappers } from './mappers'

export interface TogetherState {
  readonly figures: TogetherFigures | undefined
  /** Whether they are of the document as it was a moment ago. */
  readonly late: boolean
}

/** All loops of a machine together, worked out beside the interface: during a drag the last answer stays until the next one. */
export function useTogether(document: Document, machine: string, cut: Cut): TogetherState {
  const { answer, late } = useAnswer(keyOf(document, machine, [cut]), `${machine} ${cut}`, () =>
    asks[cut]({ document, machine, cut }),
  )
  return { figures: answer, late }
}

/** What a loop does in a trial by the linear machine with all its loops, in the same way; nothing where it has no design. */
export function usePrediction(document: Document, trial: string, loop: string | undefined): Prediction | undefined {
  const { machine, ...asked } = document.trials[trial]!
  const key = keyOf(document, machine as string, [loop ?? '', JSON.stringify(asked)])
  return useAnswer(key, `${trial} ${loop ?? ''}`, () =>
    loop === undefined ? Promise.resolve(undefined) : askPredicted({ document, trial, loop }),
  ).answer
}

/** The same for signals that are watched: quantities of the machine by their own names, s between them. */
export function useWatchedPrediction(document: Document, trial: string, machine: string, signals: readonly string[]) {
  const { machine: _machine, ...asked } = document.trials[trial]!
  const prefix = `${machine}.`
  const quantities = signals.filter((name) => name.startsWith(prefix)).map((name) => name.slice(prefix.length))
  const key = keyOf(document, machine, ['watched', ...quantities, JSON.stringify(asked)])
  return useAnswer(key, trial, () =>
    quantities.length === 0 ? Promise.resolve(undefined) : askWatched({ document, trial, quantities }),
  ).answer
}

/** Says everything that an answer about the loops of a machine depends on. */
function keyOf(document: Document, machine: string, more: readonly string[]): string {
  const mine = Object.entries(document.loops).filter(([, loop]) => loop.machine === machine)
  return contentHash([partHash(document.machines[machine]!), mine, document.estimators, more])
}

/** The last answer to a question about one subject, asked anew whenever its key changes. */
function useAnswer<Answer>(key: string, subject: string, asked: () => Promise<Answer | typeof superseded>) {
  const [last, setLast] = useState<{ readonly key: string; readonly subject: string; readonly answer: Answer }>()
  useEffect(() => {
    let wanted = true
    void asked().then((answer) => {
      if (wanted && answer !== superseded) setLast({ key, subject, answer: answer as Answer })
    })
    return () => {
      wanted = false
    }
    // the key says everything that the answer depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])
  return { answer: last?.subject === subject ? last.answer : undefined, late: last?.key !== key }
}

interface Question {
  readonly document: Document
  readonly machine: string
  readonly cut: Cut
}

const answering = ({ document, machine, cut }: Question) => mappers()[1]!.together(document, machine, cut)
interface Asked {
  readonly document: Document
  readonly trial: string
  readonly loop: string
}

interface AskedWatched {
  readonly document: Document
  readonly trial: string
  readonly quantities: readonly string[]
}

const askWatched = latest(({ document, trial, quantities }: AskedWatched) =>
  mappers()[1]!.predictedWatched(document, trial, quantities),
)
const askPredicted = latest(({ document, trial, loop }: Asked) => mappers()[1]!.predicted(document, trial, loop))
const asks: Readonly<Record<Cut, ReturnType<typeof latest<Question, TogetherFigures | undefined>>>> = {
  commands: latest(answering),
  pushes: latest(answering),
  readings: latest(answering),
}
