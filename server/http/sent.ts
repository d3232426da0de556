import type { Request, Response } from 'express'
import type { CheckedBody, Question } from '../workers/documents'
import type { Readers } from '../workers/pools'
import { refuse } from './problems'

/** What was sent, read and checked; where it cannot be taken the answer is given and nothing comes back. */
export async function sent(
  request: Request,
  response: Response,
  kind: Question['kind'],
  readers: Readers,
): Promise<CheckedBody | undefined> {
  const body: unknown = request.body
  if (typeof body !== 'string') {
    refuse(response, 415, [
      { where: 'body', what: 'What was sent is not announced as JSON.', remedy: 'Send it with Content-Type: application/json.' },
    ])
    return undefined
  }
  const read = await readers.body(kind, body)
  if (read.status === 200) return read.body
  refuse(response, read.status, read.problems)
  return undefined
}
