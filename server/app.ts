import compression from 'compression'
import express from 'express'
import type { Express } from 'express'
import { rateLimit } from 'express-rate-limit'
import helmet from 'helmet'
import { join } from 'node:path'
import { pino } from 'pino'
import { pinoHttp } from 'pino-http'
import type { Config } from './config'
import { assetRoutes } from './http/assets'
import { hostAndOrigin } from './http/guards'
import { failed, unknownRoute } from './http/problems'
import { projectRoutes } from './http/projects'
import type { Store } from './store/store'

/** Requests a minute: far above what a person's tabs make, far below a flood. */
const mostRequests = 3000

export function createApp(config: Config, store: Store): Express {
  const app = express()
  app.disable('x-powered-by')
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
      strictTransportSecurity: false, // loopback speaks plain HTTP
    }),
  )
  app.use(compression())
  app.use('/api', rateLimit({ windowMs: 60_000, limit: mostRequests, standardHeaders: 'draft-8', legacyHeaders: false }))
  app.get('/api/health', async (_request, response) => {
    await store.answers()
    response.json({ answers: true })
  })
  app.use('/api/projects', projectRoutes(store))
  app.use('/api/assets', assetRoutes(store))
  app.use('/api', unknownRoute)
  if (config.webFolder !== undefined) serveInterface(app, config.webFolder)
  app.use(failed)
  return app
}

function serveInterface(app: Express, folder: string): void {
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
  app.use(express.static(folder, { index: false }))
  app.get('/{*splat}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(folder, 'index.html'))
  })
}
