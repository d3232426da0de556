// Types, lint, format and layer rules, two at a time. Gives whether all hold.
import { spawn } from 'node:child_process'
import { pathToFileURL } from 'node:url'
import { root } from './prepare.mjs'

/** The compiler that is quick; the linter needs its forerunner, which has the same name for a command. */
const typesOf = ['node', 'node_modules/typescript-native/bin/tsc', '-p']

/** The longest first. The core alone knows neither a browser nor Node, so its types are looked at by themselves too. */
const steps = [
  ['lint', 'eslint', '.', '--cache', '--max-warnings', '0'],
  ['format', 'prettier', '--check', '.', '--log-level', 'warn'],
  ['types', ...typesOf, '.'],
  ['types of the core', ...typesOf, 'core'],
  ['layers', 'depcruise', 'core', 'server', 'cli', 'web', '--output-type', 'err'],
]

/** `more` are steps that wait for nothing either. */
export async function checkSources(more = []) {
  const waiting = [...steps, ...more]
  const held = await Promise.all([waiting, waiting].map(inTurn))
  return held.every(Boolean)
}

/** Takes one step after the other off the list. Gives whether all of them hold. */
async function inTurn(waiting) {
  let all = true
  for (let step = waiting.shift(); step !== undefined; step = waiting.shift()) {
    const [name, command, ...words] = step
    if (await holds(command, words)) continue
    console.error(`${name}: ${command} ${words.join(' ')} found something.`)
    all = false
  }
  return all
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
