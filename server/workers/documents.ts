import type { MessagePort } from 'node:worker_threads'
import Joi from 'joi'
import { checkDocument } from '@calm-hand/core'
import { currentVersion, refused, refusedFor } from '@calm-hand/core/document'
import type { Outcome, Problem } from '@calm-hand/core/document'
import { plainWords, projectName } from '../http/names'
import type { KeptVerdict } from '../store/schema'

/** What a save says around its document; the largest whole number that the database keeps is the last revision. */
export interface SentSave {
  readonly revision: number
  readonly label: string
  /** Left out by scripts that do not send a save twice. */
  readonly save?: string
  readonly follows?: readonly string[]
}

export interface SentProject {
  readonly id: string
}

/** What a page says with the document that made a run. */
export interface SentMade {
  readonly verdicts: readonly KeptVerdict[]
}

export type Sent = SentSave | SentProject | SentMade

export interface CheckedBody {
  readonly sent: Sent
  /** The document's JSON, brought to the present version. */
  readonly text: string
}

export type BodyOutcome =
  { readonly status: 200; readonly body: CheckedBody } | { readonly status: 400 | 422; readonly problems: readonly Problem[] }

const saveId = Joi.string().pattern(/^[A-Za-z0-9-]{8,64}$/)
const document = Joi.object().unknown(true).required()
const shapes = {
  save: Joi.object({
    revision: Joi.number().integer().min(1).max(2_147_483_646).required(),
    label: plainWords(200).required(),
    save: saveId,
    follows: Joi.array().items(saveId).max(20),
    document,
  }).required(),
  add: Joi.object({ id: projectName.required(), document }).required(),
  made: Joi.object({
    verdicts: Joi.array()
      .items(
        Joi.object({
          check: plainWords(200).required(),
          outcome: Joi.string().valid('holds', 'fails', 'open').required(),
          margin: Joi.number(),
          unit: plainWords(20).allow(''),
        }),
      )
      .max(1000)
      .required(),
    document,
  }).required(),
}

export interface Question {
  readonly kind: keyof typeof shapes
  readonly text: string
  readonly begun: MessagePort
}

/** Reads and checks what a page sent, away from the server's own thread: a document may take seconds. */
export default function readBody({ kind, text, begun }: Question): BodyOutcome {
  begun.postMessage('begun')
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    const what = `What was sent is not JSON: ${(error as Error).message.slice(0, 200)}`
    return wrong(refusedFor('body', what, 'Send a JSON document; NaN and Infinity have no place in JSON.'))
  }
  // the document is judged by its own check, which bounds its depth
  const { document: given, ...around } = (typeof value === 'object' && value !== null ? value : {}) as { document?: unknown }
  const isObject = typeof given === 'object' && given !== null && !Array.isArray(given)
  const shape = shapes[kind].validate({ ...around, ...(isObject ? { document: {} } : { document: given }) }, { convert: false })
  if (shape.error !== undefined) {
    const what = `${shape.error.message.replaceAll('"', '`').slice(0, 200)}.`
    return wrong(refusedFor('body', what, 'Send what the interface sends: see docs/running.md for scripts.'))
  }
  const checked = checkDocument(given)
  if (checked.kind === 'refused') return { status: 422, problems: refused(checked.problems).problems }
  const { version } = given as { version?: number }
  const current = version === currentVersion ? given : checked.value.document
  return { status: 200, body: { sent: around as Sent, text: JSON.stringify(current) } }
}

function wrong(outcome: Outcome<never>): BodyOutcome {
  return { status: 400, problems: outcome.kind === 'refused' ? outcome.problems : [] }
}
