// npm test: from a fresh clone, everything that must hold. Tests have a database of their own.
import { spawn } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { installDebian, installPackages, isCommand, privateFolder, root } from './prepare.mjs'

installPackages()
installDebian(['gcc', 'libc6-dev'], () => isCommand('gcc'))
installDebian(['chromium'], () => existsSync('/usr/bin/chromium'))

const { checkSources } = await import('./check.mjs')
const { startTemporaryDatabase } = await import('./database.mjs')
const { shareOfTests } = await import('./share.mjs')

const counted = { passed: 0, failed: 0 }
let good = await checkSources([['build', 'vite', 'build', 'web', '--logLevel', 'error']])
if (!good) counted.failed++

const database = await startTemporaryDatabase()
const environment = { ...process.env, TEST_DATABASE_URL: database.url, NO_COLOR: '1' }
try {
  await run(
    'unit and reference tests',
    'vitest',
    ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${join(privateFolder, 'unit.json')}`],
    () => {
      const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(join(privateFolder, 'unit.json'), 'utf8'))
      return { passed: numPassedTests, failed: numFailedTests }
    },
  )
} finally {
  database.stop()
}
await run('tests in the browser', 'playwright', ['test', '-c', 'e2e/playwright.config.ts'], () => {
  const { stats } = JSON.parse(readFileSync(join(privateFolder, 'e2e.json'), 'utf8'))
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky }
})
// after them: both use the whole machine, and a browser that is starved of it proves nothing
await run(
  'siege, its short part',
  'tsx',
  ['scripts/siege/main.ts', '--short', '--counts', join(privateFolder, 'siege.json')],
  () => JSON.parse(readFileSync(join(privateFolder, 'siege.json'), 'utf8')),
)

const { code, tests, share } = shareOfTests()
console.log(`\nTests are ${(100 * share).toFixed(0)} % of the code (${tests} of ${code + tests} lines).`)
console.log(`${counted.passed} passed, ${counted.failed} failed`)
process.exit(good ? 0 : 1)

/** Runs one step even after another failed, so that one run shows everything. */
async function run(title, command, words, count) {
  console.log(`\n${title}`)
  const running = spawn('npx', ['--no-install', command, ...words], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: environment,
  })
  const status = await new Promise((resolve) => running.on('close', resolve))
  const found = countOrFail(count)
  counted.passed += found.passed
  counted.failed += Math.max(found.failed, status === 0 ? 0 : 1)
  good &&= status === 0
}

/** A step that left no counts has failed. */
function countOrFail(count) {
  try {
    return count()
  } catch {
    return { passed: 0, failed: 1 }
  }
}
