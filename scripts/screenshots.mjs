// npm run screenshots: one current picture per main view, from the demo data, into docs/screenshots.
import { spawnSync } from 'node:child_process'
import { installPackages, root } from './prepare.mjs'

/** Runs an installed tool; a failure ends the whole. */
function run(...words) {
  const { status } = spawnSync('npx', ['--no-install', ...words], { cwd: root, stdio: 'inherit' })
  if (status !== 0) process.exit(status ?? 1)
}

installPackages()
run('vite', 'build', 'web', '--logLevel', 'error')
run('playwright', 'test', '-c', 'scripts/screenshots/playwright.config.ts')
