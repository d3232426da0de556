import { contentHash, partHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { Cut, Prediction, TogetherFigures } from '@calm-hand/core/tuning'
import { useAnswer } from '../compute'

export interface TogetherState {
  readonly figures: TogetherFigures | undefined
  /** Whether they are of the document as it was a moment ago. */
  readonly late: boolean
}

/** All loops of a machine together. */
export function useTogether(document: Document, machine: string, cut: Cut): TogetherState {
  const { answer, late } = useAnswer('together', document, [machine, cut], {
    ...{ subject: `${machine} ${cut}`, lane: 'side', key: keyOf(document, machine, [cut]) },
  })
  return { figures: answer, late }
}

/** What a loop does in a trial by the linear machine with all its loops; nothing where it has no design. */
export function usePrediction(document: Document, trial: string, loop: string | undefined): Prediction | undefined {
  const { machine, ...asked } = document.trials[trial]!
  return useAnswer('predicted', document, loop === undefined ? undefined : [trial, loop], {
    subject: `${trial} ${loop ?? ''}`,
    lane: 'side',
    key: keyOf(document, machine, [loop ?? '', JSON.stringify(asked)]),
  }).answer
}

/** The same for signals that are watched: quantities of the machine by their own names, s between them. */
export function useWatchedPrediction(document: Document, trial: string, machine: string, signals: readonly string[]) {
  const { machine: _machine, ...asked } = document.trials[trial]!
  const prefix = `${machine}.`
  const quantities = signals.filter((name) => name.startsWith(prefix)).map((name) => name.slice(prefix.length))
  return useAnswer('predictedWatched', document, quantities.length === 0 ? undefined : [trial, quantities], {
    subject: trial,
    lane: 'side',
    key: keyOf(document, machine, [...quantities, JSON.stringify(asked)]),
  }).answer
}

/** Says everything that an answer about the loops of a machine depends on. */
export function keyOf(document: Document, machine: string, more: readonly string[]): string {
  const mine = Object.entries(document.loops).filter(([, loop]) => loop.machine === machine)
  return contentHash([partHash(document.machines[machine]!), mine, document.estimators, more])
}
