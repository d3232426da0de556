import { wrap } from 'comlink'
import type { Remote } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import type { Computer } from './compute.worker'
import type { Questions } from './questions'

/**
 * The one place from which the page has anything computed. Workers answer questions about documents. Of questions about one
 * subject that wait only the newest is asked; each lane has a worker of its own, which answers one after another, the least rank
 * first. Answers to what an earlier project asked are let go.
 */
export type Name = keyof Questions
export type Arguments<Of extends Name> = Questions[Of] extends (document: Document, ...rest: infer Rest) => unknown ? Rest : never
export type Answer<Of extends Name> = ReturnType<Questions[Of]>

/** What is under the hand, and what takes its time beside it. */
export type Lane = 'hand' | 'side'

export interface Question<Of extends Name> {
  readonly name: Of
  readonly document: Document
  readonly rest: Arguments<Of>
  /** A newer question of the same subject takes the place of one that waits. */
  readonly subject: string
  readonly lane: Lane
  /** Of those that wait the least comes first. */
  readonly rank: number
  readonly onAnswer: (answer: Answer<Of>) => void
  readonly onFailure: (what: string) => void
  /** A newer question of the subject, or another project, came before its turn. */
  readonly onReplaced?: () => void
}

type AnyQuestion = Question<Name>

let here: Questions | undefined

/** Answers within the page and at once, for tests: a page of a test has no workers. */
export function answerHere(questions: Questions): void {
  here = questions
}

export function isAnsweredHere(): boolean {
  return here !== undefined
}

/** The answer within the page, where it is answered there. */
export function answeredHere<Of extends Name>(name: Of, document: Document, rest: Arguments<Of>): Answer<Of> {
  return (here![name] as (document: Document, ...rest: unknown[]) => Answer<Of>)(document, ...rest)
}

/** Asks; what comes of it is told once, or never where a newer question of the subject or another project comes first. */
export function ask<Of extends Name>(question: Question<Of>): void {
  if (here !== undefined) {
    question.onAnswer(answeredHere(question.name, question.document, question.rest))
    return
  }
  laneOf(question.lane).ask(question as unknown as AnyQuestion)
}

/** The answer as a promise, for what is asked once: it fails where a newer question of the subject came first. */
export function answerTo<Of extends Name>(
  question: Omit<Question<Of>, 'onAnswer' | 'onFailure' | 'onReplaced'>,
): Promise<Answer<Of>> {
  return new Promise((onAnswer, fail) => {
    const onFailure = (what: string) => fail(new Error(what))
    ask({ ...question, onAnswer, onFailure, onReplaced: () => onFailure('Another question came first.') })
  })
}

let project = 0

/** Another project is opened: nobody waits any more for answers about the last one. */
export function forgetQuestions(): void {
  project++
  for (const lane of lanes.values()) lane.forget()
}

const numbers = new WeakMap<Document, number>()
let lastNumber = 0

function numberOf(document: Document): number {
  let number = numbers.get(document)
  if (number === undefined) numbers.set(document, (number = ++lastNumber))
  return number
}

const lanes = new Map<Lane, ReturnType<typeof createLane>>()

function laneOf(name: Lane) {
  let lane = lanes.get(name)
  if (lane === undefined) lanes.set(name, (lane = createLane()))
  return lane
}

/** Documents that a worker keeps at least, so that they need not be sent again. */
const mostSent = 4

function createLane() {
  let computer: Remote<Computer> | undefined
  /** Fails once the worker breaks down: what waits for it must not wait for ever. */
  let breaking: Promise<never> | undefined
  let sent: number[] = []
  let isBusy = false
  const waiting = new Map<string, AnyQuestion>()

  const started = (): Remote<Computer> => {
    if (computer !== undefined) return computer
    const worker = new Worker(new URL('./compute.worker.ts', import.meta.url), { type: 'module' })
    breaking = new Promise((_, fail) => {
      worker.onerror = ({ message }) => {
        worker.terminate()
        computer = undefined
        sent = []
        fail(new Error(message === '' ? 'What computes could not be started.' : message))
      }
    })
    breaking.catch(() => undefined) // told to the question that waits
    computer = wrap<Computer>(worker)
    return computer
  }
  const send = (document: Document): number => {
    const number = numberOf(document)
    if (!sent.includes(number)) {
      void started().take(number, document)
      sent = [...sent, number].slice(-mostSent)
    }
    return number
  }
  const next = (): AnyQuestion | undefined => {
    const first = [...waiting.values()].sort((a, b) => a.rank - b.rank)[0]
    if (first !== undefined) waiting.delete(first.subject)
    return first
  }
  const work = async () => {
    if (isBusy) return
    isBusy = true
    for (let question = next(); question !== undefined; question = next()) {
      const asked = project
      try {
        const number = send(question.document)
        const answer = await Promise.race([started().answer(question.name, number, question.rest), breaking!])
        if (asked === project) question.onAnswer(answer as Answer<Name>)
        else question.onReplaced?.()
      } catch (error) {
        if (asked === project) question.onFailure((error as Error).message)
      }
    }
    isBusy = false
  }
  return {
    ask: (question: AnyQuestion) => {
      // it keeps the turn of the one that it replaces
      waiting.get(question.subject)?.onReplaced?.()
      waiting.set(question.subject, question)
      void work()
    },
    forget: () => {
      for (const question of waiting.values()) question.onReplaced?.()
      waiting.clear()
    },
  }
}
