import type { ErrorRequestHandler, RequestHandler, Response } from 'express'
import type { Problem } from '@calm-hand/core/document'

export function refuse(response: Response, status: number, problems: readonly Problem[]): void {
  response.status(status).json({ problems })
}

export const tooLarge: Problem = {
  where: 'body',
  what: 'What was sent is larger than this door takes.',
  remedy: 'Documents may have 5 MB, records 60 MB, meshes 110 MB. Keep meshes and long records in files of their own.',
}

export const unknownRoute: RequestHandler = (request, response) => {
  refuse(response, 404, [{ where: request.path, what: 'There is nothing at this address.', remedy: 'Start from the Yard.' }])
}

/** Errors of the outside become problems; our own mistakes are logged with their stack and told apart. */
export const failed: ErrorRequestHandler = (error: unknown, request, response, _next) => {
  const { status, problem } = explained(error)
  if (status >= 500) request.log.error({ err: error }, problem.what)
  refuse(response, status, [problem])
}

function explained(error: unknown): { status: number; problem: Problem } {
  const { type, code, status } = error as { type?: string; code?: string; status?: number }
  if (type === 'entity.too.large') return { status: 413, problem: tooLarge }
  if (type === 'entity.parse.failed') {
    return {
      status: 400,
      problem: {
        where: 'body',
        what: `What was sent is not JSON: ${(error as Error).message}`,
        remedy: 'Send a JSON document; NaN and Infinity have no place in JSON.',
      },
    }
  }
  if (isDatabaseAway(error, code)) {
    return {
      status: 503,
      problem: {
        where: 'database',
        what: 'The database does not answer.',
        remedy: 'Your work is kept in the browser and saved when the database is back. Start it again with `npm start`.',
      },
    }
  }
  if (status !== undefined && status < 500)
    return { status, problem: { where: 'request', what: (error as Error).message, remedy: 'Correct the request.' } }
  return {
    status: 500,
    problem: {
      where: 'server',
      what: 'The server made a mistake; it is in its log.',
      remedy: 'Try again; if it happens again, report the log.',
    },
  }
}

/** Connection errors of Node, and PostgreSQL's classes 08 (connection) and 57 (operator intervention). */
function isDatabaseAway(error: unknown, code: string | undefined): boolean {
  const inner = (error as { cause?: unknown }).cause
  if (inner !== undefined && isDatabaseAway(inner, (inner as { code?: string }).code)) return true
  if (code !== undefined) return /^(ECONNREFUSED|ECONNRESET|ENOTFOUND|ETIMEDOUT|EPIPE|08|57P)/.test(code)
  return error instanceof Error && /timeout|Connection terminated|not queryable/i.test(error.message)
}
