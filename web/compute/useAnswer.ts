import { useEffect, useId, useMemo, useRef, useState } from 'react'
import type { Document } from '@calm-hand/core/document'
import { answeredHere, ask, isAnsweredHere } from './service'
import type { Answer, Arguments, Lane, Name, Question } from './service'

export interface AnswerState<Of extends Name> {
  /** The last answer about this subject; nothing before the first. */
  readonly answer: Answer<Of> | undefined
  /** The document that it is about. */
  readonly of: Document | undefined
  /** Whether that is the document as it was a moment ago. */
  readonly late: boolean
  /** Why there is no answer. */
  readonly failure: string | undefined
}

interface Asking {
  /** What it is about: once that changes, the last answer is nothing any more. */
  readonly subject?: string
  readonly lane?: Lane
  readonly rank?: number
  /** Everything that the answer depends on; the whole document and the rest of the question where nothing is said. */
  readonly key?: string
}

interface Told<Of extends Name> {
  readonly about: string
  readonly question: Pick<Question<Of>, 'name' | 'document' | 'rest'>
  readonly answer: Answer<Of> | undefined
  readonly failure: string | undefined
}

/**
 * The answer to a question about a document, worked out beside the interface and asked anew whenever that changes: during a
 * drag the last answer stays until the next one. Nothing is asked without the rest of the question.
 */
export function useAnswer<Of extends Name>(
  name: Of,
  document: Document,
  rest: Arguments<Of> | undefined,
  { subject = '', lane = 'hand', rank = 1, key }: Asking = {},
): AnswerState<Of> {
  const about = `${name} ${subject}`
  // two that ask the same both want to be told
  const asker = useId()
  const isAsked = rest !== undefined
  const words = key ?? JSON.stringify(rest)
  const question = useMemo(
    () => (rest === undefined ? undefined : { name, document, rest }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- key or words say everything that the answer depends on
    [name, key ?? document, isAsked, words],
  )
  const [told, setTold] = useState<Told<Of>>()
  const here = useMemo(
    () =>
      question === undefined || !isAnsweredHere() ? undefined : { answer: answeredHere(name, question.document, question.rest) },
    [name, question],
  )
  // an answer is of interest as long as its subject is: a drag outruns it
  const wanted = useRef<string>(undefined)
  useEffect(() => {
    wanted.current = about
    return () => {
      wanted.current = undefined
    }
  }, [about])
  useEffect(() => {
    if (question === undefined || isAnsweredHere()) return
    const tell = (answer: Answer<Of> | undefined, failure: string | undefined) => {
      if (wanted.current === about) setTold({ about, question, answer, failure })
    }
    ask({
      ...{ ...question, subject: `${asker} ${name}`, lane, rank },
      onAnswer: (answer) => tell(answer, undefined),
      onFailure: (what) => tell(undefined, what),
    })
  }, [about, asker, name, question, lane, rank])
  if (here !== undefined) return { answer: here.answer, of: question!.document, late: false, failure: undefined }
  const mine = question !== undefined && told?.about === about ? told : undefined
  return { answer: mine?.answer, of: mine?.question.document, failure: mine?.failure, late: mine?.question !== question }
}
