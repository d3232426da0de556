import type { RequestHandler } from 'express'
import type { Config } from '../config'
import { refuse, tooLarge } from './problems'

/**
 * Only requests that name this server are answered (against rebinding of names), and only pages that this server gave
 * may change anything (against forged requests from other sites).
 */
export function hostAndOrigin({ allowedHosts, host }: Config): RequestHandler {
  const known = new Set(['127.0.0.1', 'localhost', '[::1]', host, ...allowedHosts])
  return (request, response, next) => {
    const given = request.headers.host ?? ''
    if (!known.has(given.replace(/:\d+$/, ''))) {
      return refuse(response, 403, [
        {
          where: 'Host',
          what: `This server is not known as ${given.slice(0, 100)}.`,
          remedy: 'Use the address that `npm start` printed, or add the name to ALLOWED_HOSTS.',
        },
      ])
    }
    const origin = request.headers.origin
    if (origin !== undefined && origin !== `http://${given}` && origin !== `https://${given}`) {
      return refuse(response, 403, [
        {
          where: 'Origin',
          what: `Pages from ${origin.slice(0, 100)} may not use this server.`,
          remedy: 'Open Calm Hand at its own address.',
        },
      ])
    }
    next()
  }
}

/** Refuses by the announced size, before anything is read; the parser behind it watches what comes unannounced. */
export function atMostBytes(limit: number): RequestHandler {
  return (request, response, next) => {
    if (Number(request.headers['content-length'] ?? 0) <= limit) return next()
    response.set('Connection', 'close')
    refuse(response, 413, [tooLarge])
  }
}
