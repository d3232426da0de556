import { createHash } from 'node:crypto'
import { existsSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { transformSync } from 'esbuild'
import ts from 'typescript'
import { compile, start, verdictsOf } from '../simulation'
import { demo, demoNames } from './demo'

const core = join(import.meta.dirname, '..')

/** Where a run is made: what these import decides its numbers. */
const roots = ['simulation/compile.ts', 'simulation/run.ts', 'check/index.ts'].map((file) => join(core, file))

/** The file that names the version is no part of what it names. */
export const versionFile = join(core, 'simulation/engineVersion.ts')

/** A hash of all sources that a run depends on. Comments, types and layout do not count: they change no bit. */
export function engineSourceHash(): string {
  const hash = createHash('sha256')
  for (const file of sources()) {
    const { code } = transformSync(readFileSync(file, 'utf8'), { loader: 'ts', target: 'es2022', minifyWhitespace: true })
    hash.update(relative(core, file)).update('\n').update(code)
  }
  return hash.digest('hex').slice(0, 16)
}

function sources(): string[] {
  const found = new Set(roots)
  for (const file of found) {
    for (const { fileName } of ts.preProcessFile(readFileSync(file, 'utf8')).importedFiles) {
      if (!fileName.startsWith('.')) continue
      const path = resolve(dirname(file), fileName)
      const source = [`${path}.ts`, join(path, 'index.ts')].find((one) => existsSync(one))
      if (source !== undefined && source !== versionFile) found.add(source)
    }
  }
  return [...found].sort()
}

/** What a run of the demo gives: its bits as a hash, and the checks that fail, with spaces between. */
export interface GoldenRun {
  readonly bits: string
  readonly fails: string
}

/** Every run of the demo: project/trial. */
export function goldenRuns(): Record<string, GoldenRun> {
  return Object.fromEntries(
    demoNames.flatMap((name) => Object.keys(demo(name).trials).map((trial) => [`${name}/${trial}`, goldenRun(name, trial)])),
  )
}

function goldenRun(name: string, trial: string): GoldenRun {
  const document = demo(name)
  const program = compile(document, trial)
  if (program.kind === 'refused') throw new Error(`${name}/${trial}: ${program.problems[0]!.what}`)
  const record = start(program.value).run({ trial, layers: [], seed: document.trials[trial]!.seed as number })
  const hash = createHash('sha256')
  for (const values of [record.time, ...record.columns.map((column) => column.values)]) hash.update(values)
  const fails = verdictsOf(document, trial, record).filter(({ outcome }) => outcome === 'fails')
  return { bits: hash.digest('hex').slice(0, 16), fails: fails.map(({ check }) => check).join(' ') }
}

export const goldenFile = join(import.meta.dirname, 'golden.json')

export interface Golden {
  readonly version: string
  readonly runs: Readonly<Record<string, GoldenRun>>
}
