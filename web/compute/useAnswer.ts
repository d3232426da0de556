import { useEffect, useId, useMemo, useRef, useState } from 'react'
import type { Document } from '@calm-hand/core/document'
import { answeredHere, ask, isAnsweredHere } from './service'
import type { Answer, Arguments, Lane, Name } from './service'

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

interface Told<Of extends Name> {
  readonly subject: string
  readonly document: Document
  readonly rest: string
  readonly answer: Answer<Of> | undefined
  readonly failure: string | undefined
}

/**
 * The answer to a question about a document, worked out beside the interface and asked anew whenever that changes: during a
 * drag the last answer stays until the next one. Nothing is asked without a document.
 */
export function useAnswer<Of extends Name>(
  name: Of,
  document: Document | undefined,
  rest: Arguments<Of>,
  { subject = '', lane = 'hand', rank = 1 }: { readonly subject?: string; readonly lane?: Lane; readonly rank?: number } = {},
): AnswerState<Of> {
  const about = `${name} ${subject}`
  // two that ask the same both want to be told
  const asker = useId()
  const words = JSON.stringify(rest)
  const [told, setTold] = useState<Told<Of>>()
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the words say everything of the rest
  const own = useMemo(() => rest, [words])
  const atOnce = useMemo(
    () => (isAnsweredHere() && document !== undefined ? { answer: answeredHere(name, document, own) } : undefined),
    [name, document, own],
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
    if (document === undefined || isAnsweredHere()) return
    const tell = (answer: Answer<Of> | undefined, failure: string | undefined) => {
      if (wanted.current === about) setTold({ subject: about, document, rest: words, answer, failure })
    }
    ask({
      ...{ name, document, rest: own, subject: `${asker} ${name}`, lane, rank },
      onAnswer: (answer) => tell(answer, undefined),
      onFailure: (what) => tell(undefined, what),
    })
  }, [about, asker, name, document, own, words, lane, rank])
  if (atOnce !== undefined) return { answer: atOnce.answer, of: document, late: false, failure: undefined }
  const mine = told?.subject === about && document !== undefined ? told : undefined
  return {
    answer: mine?.answer,
    of: mine?.document,
    failure: mine?.failure,
    late: mine === undefined || mine.document !== document || mine.rest !== words,
  }
}
