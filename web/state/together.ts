import { useEffect, useState } from 'react'
import { contentHash, partHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { Cut, TogetherFigures } from '@calm-hand/core/tuning'
import { latest, superseded } from './latest'
import { mappers } from './mappers'

export interface TogetherState {
  readonly figures: TogetherFigures | undefined
  /** Whether they are of the document as it was a moment ago. */
  readonly late: boolean
}

interface Answer {
  readonly key: string
  readonly machine: string
  readonly cut: Cut
  readonly figures: TogetherFigures | undefined
}

/** All loops of a machine together, worked out beside the interface: during a drag the last answer stays until the next one. */
export function useTogether(document: Document, machine: string, cut: Cut): TogetherState {
  const mine = Object.values(document.loops).filter((loop) => loop.machine === machine)
  const key = contentHash([partHash(document.machines[machine]!), mine, document.estimators, cut])
  const [answer, setAnswer] = useState<Answer>()
  useEffect(() => {
    let wanted = true
    void asks[cut]({ document, machine, cut }).then((figures) => {
      if (wanted && figures !== superseded) setAnswer({ key, machine, cut, figures })
    })
    return () => {
      wanted = false
    }
    // the key says everything that the answer depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])
  const fits = answer !== undefined && answer.machine === machine && answer.cut === cut
  return { figures: fits ? answer.figures : undefined, late: answer?.key !== key }
}

interface Question {
  readonly document: Document
  readonly machine: string
  readonly cut: Cut
}

const answering = ({ document, machine, cut }: Question) => mappers()[1]!.together(document, machine, cut)
const asks: Readonly<Record<Cut, ReturnType<typeof latest<Question, TogetherFigures | undefined>>>> = {
  commands: latest(answering),
  pushes: latest(answering),
  readings: latest(answering),
}
