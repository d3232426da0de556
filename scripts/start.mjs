// npm start: from a fresh clone to a served app. A second start takes seconds and keeps the data.
import { fork, spawnSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { startDatabase } from './database.mjs'
import { installPackages, privateFolder, root, sourceHash, stopWith } from './prepare.mjs'

installPackages()
const database =
  process.env.DATABASE_URL === undefined
    ? await startDatabase('cluster')
    : { url: process.env.DATABASE_URL, stop: () => undefined }
const resetting = process.argv.includes('--reset-demo')
if (!resetting) buildInterface()

const environment = {
  ...process.env,
  DATABASE_URL: database.url,
  WEB_FOLDER: join(root, 'web', 'dist'),
  LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
}
const server = fork(join(root, 'server', 'main.ts'), resetting ? ['--reset-demo', '--then-stop'] : [], {
  cwd: root,
  execArgv: ['--import', 'tsx'],
  env: environment,
})
server.on('message', ({ listening }) =>
  console.log(`\nCalm Hand: http://127.0.0.1:${listening}\n(Ctrl C stops it; what you made stays.)`),
)
server.on('exit', (code) => {
  database.stop()
  if (resetting && code === 0) console.log('The demo is back in its first state.')
  if (code !== 0) stopWith('The server ended. If the port is taken, set another: PORT=4181 npm start')
  process.exit(code ?? 0)
})
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))

function buildInterface() {
  const mark = join(privateFolder, 'build')
  const now = sourceHash(['web', 'core', 'starters'])
  if (existsSync(join(root, 'web', 'dist', 'index.html')) && existsSync(mark) && readFileSync(mark, 'utf8') === now) return
  console.log('Building the interface ...')
  if (spawnSync('npx', ['vite', 'build', 'web', '--logLevel', 'error'], { cwd: root, stdio: 'inherit' }).status !== 0)
    stopWith('The interface could not be built; see above.')
  writeFileSync(mark, now)
}
