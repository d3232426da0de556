import { fork } from 'node:child_process'
import { join } from 'node:path'
import { startTemporaryDatabase } from './database.mjs'
import { serverBuild } from './serverBuild.mjs'
import { loadDemo } from '../server/demo'
import { openStore } from '../server/store/store'
const root = join(import.meta.dirname, '..')
const database = await startTemporaryDatabase()
const store = openStore(() => database.url)
const build = await serverBuild()
console.log(build)
const main = typeof build === 'string' ? join(build, 'main.mjs') : build
const child = fork(main, [], {
  cwd: root,
  execArgv: [],
  env: { ...process.env, DATABASE_FILE: database.addressFile, PORT: '4555', WEB_FOLDER: join(root, 'web/dist') },
  stdio: 'inherit',
})
setTimeout(async () => {
  await loadDemo(store)
  console.log('loaded')
}, 4000)
process.on('SIGTERM', () => {
  child.kill()
  database.stop()
  process.exit(0)
})
setInterval(() => {}, 1000)
