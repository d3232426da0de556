import { useEffect, useId, useMemo, useRef, useState } from 'react'
import type { Document } from '@calm-hand/core/document'
import { inFrame } from './inFrame'
import { answeredHere, ask, isAnsweredHere, recalled, rememberAnswer } from './service'
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
  /**
   * Everything that the answer depends on, beside the subject: asked once more it is known. The whole document and the rest of
   * the question where nothing is said.
   */
  readonly key?: string
  /** A drag asks for many; only the one that stays for so long is asked. */
  readonly settleMs?: number
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
  { subject = '', lane = 'hand', rank = 1, key, settleMs = 0 }: Asking = {},
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
  const place = key === undefined ? undefined : `${subject} ${key}`
  const known = useMemo(() => {
    if (question === undefined) return undefined
    if (!isAnsweredHere()) return place === undefined ? undefined : recalled(name, place)
    const answer = answeredHere(name, question.document, question.rest)
    return answer instanceof Promise ? undefined : { answer }
  }, [name, question, place])
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
    const tell = (answer: Answer<Of> | undefined, failure: string | undefined) =>
      inFrame(() => {
        if (wanted.current === about) setTold({ about, question, answer, failure })
      })
    // once another question is asked, this is the last answer until its own comes
    if (known !== undefined) return tell(known.answer, undefined)
    const onAnswer = (answer: Answer<Of>) => {
      if (place !== undefined) rememberAnswer(name, place, answer)
      tell(answer, undefined)
    }
    const onFailure = (what: string) => tell(undefined, what)
    const put = () => ask({ ...{ ...question, subject: `${asker} ${name}`, lane, rank }, onAnswer, onFailure })
    if (settleMs === 0) return put()
    const timer = window.setTimeout(put, settleMs)
    return () => window.clearTimeout(timer)
  }, [about, asker, name, question, lane, rank, known, place, settleMs])
  if (known !== undefined) return { answer: known.answer, of: question!.document, late: false, failure: undefined }
  const mine = question !== undefined && told?.about === about ? told : undefined
  return { answer: mine?.answer, of: mine?.question.document, failure: mine?.failure, late: mine?.question !== question }
}
