// npm run bench: speed as ratios and figures, minima over interleaved rounds, since machines are noisy.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { startTemporaryDatabase } from './database.mjs'
import { installDebian, installPackages, isCommand, privateFolder, root } from './prepare.mjs'
import { serverBuild } from './serverBuild.mjs'

const benchFolder = join(privateFolder, 'bench')

installPackages()
installDebian(['gcc', 'libc6-dev'], () => isCommand('gcc'))
installDebian(['chromium'], () => existsSync('/usr/bin/chromium'))
spawnSync('npx', ['--no-install', 'vite', 'build', 'web', '--logLevel', 'error'], { cwd: root, stdio: 'inherit' })
// bundled as the app is, without a type stripper's wrappers around every function
const build = [
  'vite',
  'build',
  'scripts/bench',
  '--ssr',
  'main.ts',
  '--outDir',
  benchFolder,
  '--emptyOutDir',
  '--logLevel',
  'error',
]
if (spawnSync('npx', ['--no-install', ...build], { cwd: root, stdio: 'inherit' }).status !== 0) process.exit(1)
const database = await startTemporaryDatabase()
// what is bundled no longer knows where the project lies: it is told where the server is
const env = { ...process.env, DATABASE_URL: database.url, SERVER_FOLDER: await serverBuild() }
const { status } = spawnSync('node', [join(benchFolder, 'main.js')], { cwd: root, stdio: 'inherit', env })
database.stop()
process.exit(status ?? 1)
