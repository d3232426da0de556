import { wrap } from 'comlink'
import type { Remote } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import type { Computer } from './compute.worker'
import type { Questions } from './questions'

/**
 * The one place from which the page has anything computed. Workers answer questions about documents. Of questions about one
 * subject that wait only the newest is asked, and never two of one subject at once; each lane has workers of its own, the least
 * rank first. Answers to what an earlier project asked are let go.
 */
export type Name = keyof Questions
export type Arguments<Of extends Name> = Questions[Of] extends (document: Document, ...rest: infer Rest) => unknown ? Rest : never
export type Answer<Of extends Name> = Awaited<ReturnType<Questions[Of]>>

/** What is under the hand, what takes its time beside it, and many runs at once that a person waits for. */
export type Lane = 'hand' | 'side' | 'study'

/** Processors with fewer are kept for the page and what is under the hand: all else waits until that rests. */
const plenty = 4
const workersBeside = 2
const mostStudying = 4
/** ms: between two steps of a drag the hand rests for less. */
const restMs = 80

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

/** The answer within the page, where it is answered there; nothing yet where it takes its time. */
export function answeredHere<Of extends Name>(
  name: Of,
  document: Document,
  rest: Arguments<Of>,
): Answer<Of> | Promise<Answer<Of>> {
  return (here![name] as (document: Document, ...rest: unknown[]) => Answer<Of> | Promise<Answer<Of>>)(document, ...rest)
}

/** Asks; what comes of it is told once, or never where a newer question of the subject or another project comes first. */
export function ask<Of extends Name>(question: Question<Of>): void {
  if (here !== undefined) {
    const answer = answeredHere(question.name, question.document, question.rest)
    if (answer instanceof Promise) void answer.then(question.onAnswer)
    else question.onAnswer(answer)
    return
  }
  laneOf(question.lane).ask(question)
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
  answers.clear()
  for (const lane of lanes.values()) lane.forget()
}

/** Answers by all that they depend on, the newest last. */
const answers = new Map<string, unknown>()
/** Some hold curves. */
const mostAnswers = 32

/** An answer that was given before to the very same question. */
export function recalled<Of extends Name>(name: Of, key: string): { readonly answer: Answer<Of> } | undefined {
  const place = `${name} ${key}`
  return answers.has(place) ? { answer: answers.get(place) as Answer<Of> } : undefined
}

export function rememberAnswer<Of extends Name>(name: Of, key: string, answer: Answer<Of>): void {
  const place = `${name} ${key}`
  answers.delete(place)
  answers.set(place, answer)
  for (const old of [...answers.keys()].slice(0, -mostAnswers)) answers.delete(old)
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
  if (lane === undefined) lanes.set(name, (lane = started(name)))
  return lane
}

function started(name: Lane) {
  switch (name) {
    case 'hand':
      return createLane(1)
    case 'side':
      return besideTheHand()
    case 'study':
      return createLane(studyWorkers())
    default:
      return name satisfies never
  }
}

/** How many questions of a study are answered at once. */
function studyWorkers(): number {
  return Math.max(1, Math.min(mostStudying, navigator.hardwareConcurrency ?? plenty))
}

/** Has pieces of a study worked out, as many at once as there are workers; it ends early once one fails or nobody wants it. */
export async function inPieces<Piece>(
  pieces: readonly Piece[],
  isWanted: () => boolean,
  each: (piece: Piece) => Promise<boolean>,
): Promise<void> {
  const waiting = [...pieces]
  const pump = async () => {
    for (let piece = waiting.shift(); piece !== undefined && isWanted(); piece = waiting.shift())
      if (!(await each(piece))) waiting.length = 0
  }
  await Promise.all(Array.from({ length: studyWorkers() }, pump))
}

function besideTheHand() {
  if ((navigator.hardwareConcurrency ?? plenty) >= plenty) return createLane(workersBeside)
  const hand = laneOf('hand')
  const side = createLane(1, () => hand.rests())
  let timer: ReturnType<typeof setTimeout> | undefined
  hand.onRest(() => {
    clearTimeout(timer)
    timer = setTimeout(side.work, restMs)
  })
  return side
}

/** Documents that a worker keeps at least, so that they need not be sent again. */
const mostSent = 4

/** One worker, started with its first question; started anew after it broke down. */
function createComputer() {
  let computer: Remote<Computer> | undefined
  /** Fails once the worker breaks down: what waits for it must not wait for ever. */
  let breaking: Promise<never> | undefined
  let sent: number[] = []
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
  return async ({ name, document, rest }: AnyQuestion): Promise<unknown> => {
    const number = numberOf(document)
    if (!sent.includes(number)) {
      void started().take(number, document)
      sent = [...sent, number].slice(-mostSent)
    }
    return Promise.race([started().answer(name, number, ...(rest as readonly unknown[])), breaking!])
  }
}

/** `mayBegin`: whether anything may be begun now; once it may, `work` is to be called. */
function createLane(workers: number, mayBegin: () => boolean = () => true) {
  const idle = Array.from({ length: workers }, createComputer)
  let rested: (() => void) | undefined
  const waiting = new Map<string, AnyQuestion>()
  const asked = new Set<string>()
  /** What comes next: not what is being answered already, else an older answer may come after a newer one. */
  const next = (): AnyQuestion | undefined => {
    const first = [...waiting.values()].filter(({ subject }) => !asked.has(subject)).sort((a, b) => a.rank - b.rank)[0]
    if (first !== undefined) waiting.delete(first.subject)
    return first
  }
  const answered = async (computer: ReturnType<typeof createComputer>, question: AnyQuestion) => {
    const askedIn = project
    asked.add(question.subject)
    let tell: () => void
    try {
      const answer = (await computer(question)) as Answer<Name>
      tell = () => question.onAnswer(answer)
    } catch (error) {
      tell = () => question.onFailure((error as Error).message)
    }
    asked.delete(question.subject)
    idle.push(computer)
    try {
      if (askedIn === project) tell()
      else question.onReplaced?.()
    } finally {
      work()
      if (asked.size === 0) rested?.()
    }
  }
  const work = () => {
    while (idle.length > 0 && mayBegin()) {
      const question = next()
      if (question === undefined) return
      // the one that worked last comes first: it remembers what it worked out
      void answered(idle.pop()!, question)
    }
  }
  return {
    work,
    rests: () => asked.size === 0,
    onRest: (tell: () => void) => (rested = tell),
    ask: (question: AnyQuestion) => {
      // it keeps the turn of the one that it replaces
      waiting.get(question.subject)?.onReplaced?.()
      waiting.set(question.subject, question)
      work()
    },
    forget: () => {
      for (const question of waiting.values()) question.onReplaced?.()
      waiting.clear()
    },
  }
}
