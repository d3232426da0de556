import { createServer } from 'node:http'
import { pino } from 'pino'
import { isPassphrase, newPassphrase, slowHash } from './access/secrets'
import { createApp } from './app'
import { WrongSetting, configFrom } from './config'
import type { Config } from './config'
import { loadDemo } from './demo'
import { openStore } from './store/store'
import type { Store } from './store/store'
import { startReaders } from './workers/pools'
import { startTrouble } from './words'

/** A connection that has not sent its headers by then is closed; a request may take so long in all. */
const headersMs = 10_000
const requestMs = 300_000
/** Between two looks for the database, and between two rounds of housekeeping. */
const waitMs = 1_000
const houseMs = 3_600_000
/** What is under way when the server is ended has so long; then it is cut. */
const endMs = 3_500

const config = settings()
const log = pino({ level: config.logLevel })
const store = openStore(config.database)
const readers = startReaders()
const server = createServer(
  { headersTimeout: headersMs, requestTimeout: requestMs, keepAliveTimeout: 10_000 },
  createApp(config, store, readers),
)
server.on('error', (error) => end(error))
server.listen(config.port, config.host, () => void begin())

/** The door is open from the start and answers "not now" until the database does. */
async function begin(): Promise<void> {
  const address = server.address()
  const port = typeof address === 'object' && address !== null ? address.port : config.port
  let told = false
  for (;;) {
    try {
      await store.migrate()
      await openDoor(config, store)
      if (process.env.DEMO !== 'off') await loadDemo(store)
      break
    } catch (error) {
      const trouble = startTrouble(error)
      if (trouble?.passes !== true) return end(error)
      if (!told) console.error(trouble.words)
      told = true
      await new Promise((resolve) => setTimeout(resolve, waitMs))
    }
  }
  log.info({ host: config.host, port }, 'listening')
  process.send?.({ listening: port })
  const keepHouse = () => void store.keepHouse().catch((error: unknown) => log.warn({ err: error }, 'housekeeping'))
  keepHouse()
  setInterval(keepHouse, houseMs).unref()
}

/** Where others than this machine may come there is a passphrase: the given one, the one kept, or a new one that is printed once. */
async function openDoor({ isGuarded, passphrases }: Config, to: Store): Promise<void> {
  if (!isGuarded) return
  const kept = await to.passphrases()
  for (const level of ['full', 'read'] as const) {
    const given = passphrases[level]
    const before = kept.find((one) => one.level === level)
    if (given === undefined || (before !== undefined && (await isPassphrase(given, before.hash)))) continue
    await to.setPassphrase(level, await slowHash(given))
  }
  if ((await to.passphrases()).some(({ level }) => level === 'full')) return
  const made = newPassphrase()
  await to.setPassphrase('full', await slowHash(made))
  console.log(
    `\nThe passphrase for full access, printed this once:\n\n    ${made}\n\nAnother is set by: npm run access -- passphrase full\n`,
  )
}

function settings(): Config {
  try {
    return configFrom(process.env)
  } catch (error) {
    if (!(error instanceof WrongSetting)) throw error
    console.error(error.message)
    process.exit(1)
  }
}

/** Ends a start that cannot be: a sentence where the cause is known, else the stack of our mistake. */
function end(error: unknown): void {
  console.error(startTrouble(error)?.words ?? error)
  process.exit(1)
}

/** Takes no more requests, lets those under way finish, then closes; a second signal ends at once. */
let stopping = false
function stop(): void {
  if (stopping) process.exit(1)
  stopping = true
  server.close(() => void Promise.allSettled([store.close(), readers.close()]).then(() => process.exit(0)))
  server.closeIdleConnections()
  setTimeout(() => server.closeAllConnections(), endMs).unref()
  setTimeout(() => process.exit(0), endMs + 1_000).unref()
}
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
process.on('disconnect', stop)
