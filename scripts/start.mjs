// npm start: from a fresh clone to a served app. A second start takes seconds and keeps the data.
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { keepUp, startDatabase } from './database.mjs'
import {
  claimHouse,
  forgetRunning,
  installPackages,
  privateFolder,
  root,
  runningUrl,
  sourceHash,
  stopWith,
  tellRunning,
} from './prepare.mjs'
import { supervise } from './supervise.mjs'

if (!(await claimHouse())) {
  const url = runningUrl()
  console.log(
    url === undefined
      ? '\nAnother terminal is just starting Calm Hand from this folder, or works on its data. Wait until it is done.\n'
      : `\nCalm Hand already runs from this folder: ${url}\n`,
  )
  process.exit(0)
}
installPackages()
const database = process.env.DATABASE_URL === undefined ? await startDatabase() : undefined
const leaveAlone = database === undefined ? () => undefined : keepUp(database)
let server
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => (server === undefined ? end(0) : server.stop(signal)))

buildInterface()
let told = false
server = await supervise(
  {
    ...process.env,
    ...(database === undefined ? {} : { DATABASE_FILE: database.addressFile }),
    WEB_FOLDER: join(root, 'web', 'dist'),
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  },
  {
    onListening: (port) => {
      const host = process.env.HOST ?? '127.0.0.1'
      const url = `http://${host.includes(':') ? `[${host}]` : host}:${port}`
      if (!told) console.log(`\nCalm Hand: ${url}\n(Ctrl C stops it; what you made stays.)`)
      told = true
      tellRunning(url)
    },
    onAgain: () => console.error('The server ended by itself; starting it again ...'),
    onEnd: end,
  },
)

function end(code) {
  leaveAlone()
  database?.stop()
  forgetRunning()
  process.exit(code)
}

function buildInterface() {
  const mark = join(privateFolder, 'build')
  const now = sourceHash(['web', 'core', 'starters'])
  if (existsSync(join(root, 'web', 'dist', 'index.html')) && existsSync(mark) && readFileSync(mark, 'utf8') === now) return
  console.log('Building the interface ...')
  if (spawnSync('npx', ['vite', 'build', 'web', '--logLevel', 'error'], { cwd: root, stdio: 'inherit' }).status !== 0)
    stopWith('The interface could not be built; see above.')
  writeFileSync(mark, now)
}
