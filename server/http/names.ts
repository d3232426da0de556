import type { RequestParamHandler } from 'express'
import Joi from 'joi'
import type { Problem } from '@calm-hand/core/document'
import type { SaidOfRun } from '../store/runs'
import { refuse } from './problems'

export const projectName = Joi.string().pattern(/^[a-z][A-Za-z0-9-]{0,59}$/)
/** Words without control characters: the database keeps no NUL. */
export const plainWords = (most: number) =>
  Joi.string()
    .max(most)
    // eslint-disable-next-line no-control-regex
    .pattern(/^[^\u0000-\u001f]*$/)

/** Guards addresses that name a project. */
export const isProjectName: RequestParamHandler = (_request, response, next, value: unknown) => {
  if (projectName.validate(value).error === undefined) return next()
  refuse(response, 400, [
    {
      where: 'address',
      what: 'This is not the name of a project.',
      remedy: 'Names start with a small letter and hold letters, digits and dashes.',
    },
  ])
}

const givenName = plainWords(100).required()

/** The name in a body `{ name }`; null takes it away, undefined where it is none. */
export function nameIn(body: unknown): string | null | undefined {
  const name = (body as { name?: unknown } | undefined)?.name
  if (name === null || name === '') return null
  return givenName.validate(name, { convert: false }).error === undefined ? (name as string) : undefined
}

const saidOfRun = Joi.object({
  name: plainWords(100).allow(null, ''),
  tags: plainWords(200).allow(''),
  note: Joi.string().max(4000).allow(''),
}).min(1)

/** What a body `{ name?, tags?, note? }` says of a run; undefined where it says something else. */
export function saidIn(body: unknown): SaidOfRun | undefined {
  const read = saidOfRun.validate(body, { convert: false })
  if (read.error !== undefined || typeof body !== 'object' || body === null) return undefined
  const said = body as SaidOfRun
  // the database keeps no NUL
  return {
    ...said,
    ...(said.name === '' ? { name: null } : {}),
    ...(said.note === undefined ? {} : { note: said.note.replaceAll('\0', '') }),
  }
}

export const nothingSaid: Problem = {
  where: 'body',
  what: 'This says nothing that is kept of a run.',
  remedy: 'Send a name of at most 100 letters or null, tags of at most 200, or a note of at most 4000.',
}

export const noName: Problem = {
  where: 'name',
  what: 'This is not a name of at most 100 letters.',
  remedy: 'Send { "name": "..." }, or null to take the name away.',
}
