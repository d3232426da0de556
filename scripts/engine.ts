// npm run engine: names the engine after its sources, and keeps the bits that this version gives to the demo's trials.
import { writeFileSync } from 'node:fs'
import { engineSourceHash, goldenFile, goldenRuns, versionFile } from '../core/tests/engine'
import type { Golden } from '../core/tests/engine'

const version = engineSourceHash()
writeFileSync(
  versionFile,
  `/** Says which engine made a run: a hash of the sources that decide its numbers. Written by \`npm run engine\`, held by a test. */
export const engineVersion = '${version}'
`,
)
const golden: Golden = { version, runs: goldenRuns() }
writeFileSync(goldenFile, `${JSON.stringify(golden, null, 2)}\n`)
console.log(`The engine is ${version}; ${Object.keys(golden.runs).length} runs of the demo are kept in core/tests/golden.json.`)
