// npm run siege: kills, floods, fuzz and hostile files against the app on a cluster of its own, with its figures at the end.
//   --short            what npm test runs
//   --part NAME        fuzz, server, database, flood or page; may be said several times
//   --kills N --documents N --files N --seconds N --seed N
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { installDebian, installPackages, root } from './prepare.mjs'

installPackages()
installDebian(['chromium'], () => existsSync('/usr/bin/chromium'))
if (!existsSync(join(root, 'web', 'dist', 'index.html')))
  spawnSync('npx', ['--no-install', 'vite', 'build', 'web', '--logLevel', 'error'], { cwd: root, stdio: 'inherit' })
const { status } = spawnSync('node', ['--import', 'tsx', join(root, 'scripts', 'siege', 'main.ts'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
})
process.exit(status ?? 1)
