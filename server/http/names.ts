import type { RequestParamHandler } from 'express'
import Joi from 'joi'
import type { Problem } from '@calm-hand/core/document'
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

export const noName: Problem = {
  where: 'name',
  what: 'This is not a name of at most 100 letters.',
  remedy: 'Send { "name": "..." }, or null to take the name away.',
}
