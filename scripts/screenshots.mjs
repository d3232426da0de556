// npm run screenshots: one current picture per main view, from the demo data, into docs/screenshots.
import { spawnSync } from 'node:child_process'
import { installPackages, root } from './prepare.mjs'

installPackages()
process.exit(
  spawnSync('npx', ['--no-install', 'playwright', 'test', '-c', 'scripts/screenshots/playwright.config.ts'], {
    cwd: root,
    stdio: 'inherit',
  }).status ?? 1,
)
