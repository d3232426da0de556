import { createServer } from 'node:http'
import { pino } from 'pino'
import { createApp } from './app'
import { configFrom } from './config'
import { loadDemo } from './demo'
import { openStore } from './store/store'

const config = configFrom(process.env)
const log = pino({ level: config.logLevel })
const store = openStore(config.databaseUrl)
await store.migrate()
if (process.argv.includes('--reset-demo')) await store.clear()
if (process.env.DEMO !== 'off') await loadDemo(store)
if (process.argv.includes('--then-stop')) {
  await store.close()
  process.exit(0)
}

const server = createServer(createApp(config, store))
server.listen(config.port, config.host, () => {
  const address = server.address()
  const port = typeof address === 'object' && address !== null ? address.port : config.port
  log.info({ host: config.host, port }, 'listening')
  process.send?.({ listening: port })
})

/** Lets requests under way finish, then closes; a second signal ends at once. */
let stopping = false
function stop(): void {
  if (stopping) process.exit(1)
  stopping = true
  server.close(() => void store.close().then(() => process.exit(0)))
  server.closeIdleConnections()
  setTimeout(() => process.exit(1), 5000).unref()
}
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
process.on('disconnect', stop)
