import compression from 'compression'
import express from 'express'
import type { Express } from 'express'
import { rateLimit } from 'express-rate-limit'
import helmet from 'helmet'
import { join } from 'node:path'
import { pino } from 'pino'
import { pinoHttp } from 'pino-http'
import { accessRoutes, signedIn } from './access/routes'
import type { Config } from './config'
import { busy } from './http/admission'
import { assetRoutes } from './http/assets'
import { binRoutes } from './http/bin'
import { hostAndOrigin } from './http/guards'
import { failed, refuse, unknownRoute } from './http/problems'
import { projectRoutes } from './http/projects'
import type { Store } from './store/store'
import type { Readers } from './workers/pools'

/** Requests a minute from one address: fifty people behind one proxy make fewer, a flood makes more. */
const mostRequests = 60_000

export function createApp(config: Config, store: Store, readers: Readers): Express {
  const app = express()
  app.disable('x-powered-by')
  if (config.trustsProxy) app.set('trust proxy', 1)
  app.use(pinoHttp({ logger: pino({ level: config.logLevel }), autoLogging: false }))
  app.use(hostAndOrigin(config))
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"], // charts and 3D set styles on elements
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'", 'data:'],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      strictTransportSecurity: false, // loopback speaks plain HTTP; a proxy with HTTPS sets its own
    }),
  )
  app.use(compression())
  app.use(
    '/api',
    rateLimit({
      windowMs: 60_000,
      limit: mostRequests,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      handler: (_request, response) => refuse(response, 429, [busy]),
    }),
  )
  app.get('/api/health', async (_request, response) => {
    await store.answers()
    response.json({ answers: true })
  })
  app.use('/api/session', accessRoutes(store, config.isGuarded))
  if (config.isGuarded) app.use('/api', signedIn(store))
  app.use('/api/projects', projectRoutes(store, readers))
  app.use('/api/bin', binRoutes(store))
  app.use('/api/assets', assetRoutes(store, readers))
  app.use('/api', unknownRoute)
  if (config.webFolder !== undefined) serveInterface(app, config.webFolder)
  app.use(failed)
  return app
}

/** The interface holds no data: it may be had without signing in, and asks for it. */
function serveInterface(app: Express, folder: string): void {
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
  app.use(express.static(folder, { index: false }))
  app.get('/{*splat}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(folder, 'index.html'))
  })
}
