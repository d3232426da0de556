import { expose } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import { createDocuments } from './documents'
import { questions } from './questions'
import type { Questions } from './questions'

const documents = createDocuments()

/** Answers questions about documents away from the interface. */
const computer = {
  take: documents.take,
  answer: (name: keyof Questions, id: number, ...rest: readonly unknown[]): unknown =>
    (questions[name] as (document: Document, ...rest: readonly unknown[]) => unknown)(documents.of(id), ...rest),
}

export type Computer = typeof computer
expose(computer)
