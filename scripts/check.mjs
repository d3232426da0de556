// Types, lint, format and layer rules. Gives whether all hold.
import { spawnSync } from 'node:child_process'
import { pathToFileURL } from 'node:url'
import { root } from './prepare.mjs'

export function checkSources() {
  const steps = [
    ['types', 'tsc', '-p', 'core'],
    ['types', 'tsc', '-p', 'server'],
    ['types', 'tsc', '-p', 'cli'],
    ['types', 'tsc', '-p', 'web'],
    ['types', 'tsc', '-p', 'tsconfig.tests.json'],
    ['lint', 'eslint', '.', '--cache', '--max-warnings', '0'],
    ['format', 'prettier', '--check', '.', '--log-level', 'warn'],
    ['layers', 'depcruise', 'core', 'server', 'cli', 'web', '--output-type', 'err'],
  ]
  return steps.every(([name, command, ...words]) => {
    const done = spawnSync('npx', ['--no-install', command, ...words], { cwd: root, stdio: 'inherit' })
    if (done.status !== 0) console.error(`${name}: ${command} ${words.join(' ')} found something.`)
    return done.status === 0
  })
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) process.exit(checkSources() ? 0 : 1)
