// Types, lint, format and layer rules, two at a time. Gives whether all hold.
import { spawn } from 'node:child_process'
import { pathToFileURL } from 'node:url'
import { root } from './prepare.mjs'

// the core alone knows neither a browser nor Node
const types = ['core', '.'].map((project) => ['types', 'tsc', '-p', project])
const others = [
  ['lint', 'eslint', '.', '--cache', '--max-warnings', '0'],
  ['format', 'prettier', '--check', '.', '--log-level', 'warn'],
  ['layers', 'depcruise', 'core', 'server', 'cli', 'web', '--output-type', 'err'],
]

export async function checkSources() {
  const held = await Promise.all([types, others].map(inOrder))
  return held.every(Boolean)
}

/** One step after the other, up to the first that finds something. */
async function inOrder(steps) {
  for (const [name, command, ...words] of steps) {
    if (await holds(command, words)) continue
    console.error(`${name}: ${command} ${words.join(' ')} found something.`)
    return false
  }
  return true
}

/** What a step says is shown whole once it is done: two run at a time. */
function holds(command, words) {
  return new Promise((resolve) => {
    const running = spawn('npx', ['--no-install', command, ...words], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] })
    let said = ''
    for (const stream of [running.stdout, running.stderr]) stream.on('data', (part) => (said += part))
    running.on('close', (status) => {
      process.stdout.write(said)
      resolve(status === 0)
    })
  })
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) process.exit((await checkSources()) ? 0 : 1)
