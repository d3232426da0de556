import express, { Router } from 'express'
import type { Request, RequestHandler } from 'express'
import { rateLimit } from 'express-rate-limit'
import { refuse } from '../http/problems'
import type { Level } from '../store/schema'
import type { Store } from '../store/store'
import { isPassphrase, newToken, tokenHash } from './secrets'

const cookieName = 'calm-hand-session'
const sessionDays = 30

/** Tries to sign in from one address, and in all; a passphrase of 99 bits needs no more, a chosen one no fewer limits. */
const mostTries = { limit: 10, windowMs: 15 * 60_000 }
const mostTriesInAll = { limit: 200, windowMs: 60 * 60_000 }

const levels: readonly Level[] = ['full', 'read']

/** Signing in and out, where the server is open beyond loopback. */
export function accessRoutes(store: Store, isGuarded: boolean): Router {
  const routes = Router()
  const tooMany: RequestHandler = (_request, response) =>
    refuse(response, 429, [
      { where: 'passphrase', what: 'There were too many tries.', remedy: 'Wait a quarter of an hour, then try again.' },
    ])
  const limited = [
    rateLimit({
      ...mostTriesInAll,
      keyGenerator: () => 'all',
      skipSuccessfulRequests: true,
      legacyHeaders: false,
      handler: tooMany,
    }),
    rateLimit({ ...mostTries, skipSuccessfulRequests: true, legacyHeaders: false, handler: tooMany }),
  ]

  routes.get('/', async (request, response) => {
    const level = isGuarded ? await levelOf(store, request) : 'full'
    response.json({ guarded: isGuarded, level: level ?? null })
  })

  routes.post('/', ...limited, express.json({ limit: 10_000 }), async (request, response) => {
    const { passphrase } = (request.body ?? {}) as { passphrase?: unknown }
    if (typeof passphrase !== 'string' || passphrase.length > 1000)
      return refuse(response, 400, [
        { where: 'passphrase', what: 'No passphrase was sent.', remedy: 'Send { "passphrase": "..." } as application/json.' },
      ])
    const level = await openedBy(store, passphrase)
    if (level === undefined)
      return refuse(response, 401, [
        {
          where: 'passphrase',
          what: 'This is not the passphrase.',
          remedy: 'Ask who runs the server, or set another there: npm run access -- passphrase full.',
        },
      ])
    const token = newToken()
    const expiresAt = new Date(Date.now() + sessionDays * 86_400_000)
    await store.addSession({ hash: tokenHash(token), level, label: null, expiresAt })
    response.cookie(cookieName, token, {
      httpOnly: true,
      sameSite: 'strict',
      secure: request.secure,
      path: '/',
      expires: expiresAt,
    })
    response.json({ guarded: true, level })
  })

  routes.delete('/', async (request, response) => {
    const token = tokenIn(request)
    if (token !== undefined) await store.dropSession(tokenHash(token))
    response.clearCookie(cookieName, { path: '/' }).status(204).end()
  })

  /** Everywhere: whoever has full access may end all sessions of browsers; tokens are ended where they were made. */
  routes.delete('/all', async (request, response) => {
    if (isGuarded && (await levelOf(store, request)) !== 'full') return refuse(response, 401, [signInFirst])
    await store.dropSessions({ tokens: false })
    response.clearCookie(cookieName, { path: '/' }).status(204).end()
  })
  return routes
}

/** Lets in who is signed in or carries a token; who may only read may not change anything. */
export function signedIn(store: Store): RequestHandler {
  return async (request, response, next) => {
    const level = await levelOf(store, request)
    if (level === undefined) return refuse(response, 401, [signInFirst])
    if (level === 'read' && request.method !== 'GET' && request.method !== 'HEAD')
      return refuse(response, 403, [
        {
          where: 'session',
          what: 'You may look here, but not change anything.',
          remedy: 'Sign in with the passphrase for full access.',
        },
      ])
    next()
  }
}

const signInFirst = {
  where: 'session',
  what: 'Sign in first.',
  remedy: 'Open the page and give the passphrase; scripts send a token as Authorization: Bearer.',
}

async function openedBy(store: Store, passphrase: string): Promise<Level | undefined> {
  const kept = await store.passphrases()
  for (const level of levels)
    for (const one of kept) if (one.level === level && (await isPassphrase(passphrase, one.hash))) return level
  return undefined
}

async function levelOf(store: Store, request: Request): Promise<Level | undefined> {
  const token = tokenIn(request)
  return token === undefined ? undefined : store.findSession(tokenHash(token))
}

function tokenIn({ headers }: Request): string | undefined {
  const bearer = /^Bearer ([\w-]{20,100})$/.exec(headers.authorization ?? '')?.[1]
  const cookie = new RegExp(`(?:^|; )${cookieName}=([\\w-]{20,100})(?:;|$)`).exec(headers.cookie ?? '')?.[1]
  return bearer ?? cookie
}
