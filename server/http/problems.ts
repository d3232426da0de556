import type { ErrorRequestHandler, RequestHandler, Response } from 'express'
import type { Problem } from '@calm-hand/core/document'
import { databaseTrouble } from '../store/trouble'

export function refuse(response: Response, status: number, problems: readonly Problem[]): void {
  response.status(status).json({ problems })
}

export const tooLarge: Problem = {
  where: 'body',
  what: 'What was sent is larger than this door takes.',
  remedy: 'Documents may have 5 MB, pieces of records 5 MB, meshes 110 MB. Keep meshes in files of their own.',
}

export const unknownRoute: RequestHandler = (request, response) => {
  refuse(response, 404, [
    { where: request.path.slice(0, 200), what: 'There is nothing at this address.', remedy: 'Start from the Yard.' },
  ])
}

/** s after which the database may be back. */
const comeBack = 2

/** Errors of the outside become problems; our own mistakes are logged with their stack and told apart. */
export const failed: ErrorRequestHandler = (error: unknown, request, response, _next) => {
  const { status, problem } = explained(error)
  if (status === 500) request.log.error({ err: error }, problem.what)
  else if (status > 500) request.log.warn(problem.what)
  if (response.headersSent) return void response.destroy()
  if (status === 503 || status === 507) response.set('Retry-After', String(comeBack))
  refuse(response, status, [problem])
}

function explained(error: unknown): { status: number; problem: Problem } {
  const { type, status } = error as { type?: string; status?: number }
  if (type === 'entity.too.large') return { status: 413, problem: tooLarge }
  const trouble = databaseTrouble(error)
  switch (trouble) {
    case 'away':
      return {
        status: 503,
        problem: {
          where: 'database',
          what: 'The database does not answer.',
          remedy: 'Your work is kept in the browser and saved when the database is back. If it was stopped, type `npm start`.',
        },
      }
    case 'full':
      return {
        status: 507,
        problem: {
          where: 'database',
          what: 'The disk of the database is full: nothing can be saved.',
          remedy: 'Make room on it; `npm run storage` tells what is large. Your work is kept in the browser until then.',
        },
      }
    case 'refusedValue':
      return {
        status: 400,
        problem: {
          where: 'request',
          what: 'A value cannot be kept: it has letters or sizes that are not taken.',
          remedy: 'Correct the request.',
        },
      }
    case undefined:
      break
    default:
      trouble satisfies never
  }
  if (status !== undefined && status >= 400 && status < 500)
    return { status, problem: { where: 'request', what: (error as Error).message.slice(0, 200), remedy: 'Correct the request.' } }
  return {
    status: 500,
    problem: {
      where: 'server',
      what: 'The server made a mistake; it is in its log.',
      remedy: 'Try again; if it happens again, report the log.',
    },
  }
}
