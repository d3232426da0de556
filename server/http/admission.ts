import type { RequestHandler } from 'express'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { refuse } from './problems'

export interface Door {
  /** Requests that are worked on at once; the others wait with their bodies unread, so that memory stays bounded. */
  readonly running: number
  /** Requests that may wait, and for how long; what comes beyond is told when to come back. */
  readonly waiting: number
  readonly patienceMs: number
}

/** s after which a request that could not be taken is welcome again. */
const comeBack = 2

/** Bytes in a second that a body must bring once it is read, and how often that is looked at. */
const leastPace = 20_000
const paceMs = 5_000

/** Takes so many requests at once. What cannot be taken is refused with a time to come back: 429, never a failure. */
export function admission({ running, waiting, patienceMs }: Door): RequestHandler {
  let active = 0
  const queue: (() => void)[] = []
  const leave = () => {
    active--
    queue.shift()?.()
  }
  return (request, response, next) => {
    const enter = () => {
      active++
      response.once('close', leave)
      watchPace(request, response)
      next()
    }
    if (active < running) return enter()
    const away = () => {
      queue.splice(queue.indexOf(turn), 1)
      clearTimeout(patience)
    }
    const turn = () => {
      clearTimeout(patience)
      response.off('close', away)
      enter()
    }
    const patience = setTimeout(() => {
      response.off('close', away)
      queue.splice(queue.indexOf(turn), 1)
      refuseBusy()
    }, patienceMs)
    const refuseBusy = () => {
      response.set('Retry-After', String(comeBack))
      response.set('Connection', 'close') // its body stays unread
      refuse(response, 429, [busy])
    }
    if (queue.length >= waiting) {
      clearTimeout(patience)
      return refuseBusy()
    }
    response.once('close', away)
    queue.push(turn)
  }
}

export const busy = {
  where: 'server',
  what: 'The server has too much to do just now.',
  remedy: `Send it again in ${comeBack} s; the page does so by itself.`,
}

/** Ends a connection whose body comes so slowly that it holds its place for nothing. */
function watchPace(request: IncomingMessage, response: ServerResponse): void {
  const { socket } = request
  let before = socket.bytesRead
  const timer = setInterval(() => {
    if (request.complete || request.destroyed) return clearInterval(timer)
    if (socket.bytesRead - before < (leastPace * paceMs) / 1000) socket.destroy()
    before = socket.bytesRead
  }, paceMs)
  timer.unref()
  response.once('close', () => clearInterval(timer))
}
