// npm run mutants: small, seeded mistakes in core/, one at a time against the tests that reach their line. What no test
// notices is listed, with its reason where docs/mutants.md gives one. Options: --count 300, --seed 1, --list, --only ID,ID; --from ID goes
// on with a run that was broken off.
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { appendFileSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { parseArgs } from 'node:util'
import { transformSync } from 'esbuild'
import { createVitest } from 'vitest/node'
import { sitesOf, sorts } from './mutants/sites'
import type { Site } from './mutants/sites'

const { values: options } = parseArgs({
  options: {
    count: { type: 'string' },
    seed: { type: 'string' },
    list: { type: 'boolean' },
    only: { type: 'string' },
    from: { type: 'string' },
    folder: { type: 'string' },
  },
})
const root = join(import.meta.dirname, '..')
const folder = options.folder ?? join(root, 'node_modules/.cache/mutants')
const [count, seed] = [Number(options.count ?? 300), Number(options.seed ?? 1)]

/** Words, and the file that holds nothing but a hash of the sources. */
const leftAlone =
  /\.test\.ts$|^core\/tests\/|index\.ts$|engineVersion\.ts$|jsonSchema\.ts$|Problems?\.ts$|problems\.ts$|words\.ts$/
/** Compares bits of runs of the demo with those of a commit before: no statement of what is right. */
const isGolden = (file: string) => file.endsWith('engineVersion.test.ts')

const mutants = chosen()
if (options.list === true) {
  for (const [id, site] of mutants.entries()) process.stdout.write(`${inWords(id, site)}\n`)
  process.exit(0)
}

const goesOn = options.from !== undefined
if (!goesOn) rmSync(folder, { recursive: true, force: true })
mkdirSync(folder, { recursive: true })
process.env.MUTANTS_FOLDER = folder

type Vitest = Awaited<ReturnType<typeof createVitest>>

/** Files that share what they import are quicker by half; which of them reaches a line is only known where they do not. */
const start = (isolate: boolean): Promise<Vitest> =>
  createVitest(
    'test',
    {
      config: false,
      watch: false,
      reporters: [{}],
      isolate,
      bail: isolate ? 0 : 1,
      maxWorkers: isolate ? 2 : 1,
      testTimeout: 180_000,
      include: ['core/**/*.test.ts'],
      setupFiles: [join(import.meta.dirname, 'mutants/setup.ts'), join(root, 'core/tests/matchers.ts')],
      silent: true,
      root,
    },
    { plugins: [{ name: 'mutants', enforce: 'pre', transform: (code: string, id: string) => withMistakes(code, id) }] },
  )

interface Reach {
  readonly file: string
  readonly reached: readonly number[]
  readonly ms: number
}

let vitest = await start(!goesOn)
if (!goesOn) {
  const red = await withMistake(-1, await specifications(() => true))
  // what is red by itself would notice everything
  if (red !== undefined) throw new Error(`Without a mistake a test is red: ${red}. Run npm test first.`)
  await vitest.close()
  vitest = await start(false)
}
const reach = readFileSync(join(folder, 'reached'), 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as Reach)
const results: { site: Site; id: number; by?: string }[] = []
for (const [id, site] of mutants.entries()) {
  if (options.only !== undefined && !options.only.split(',').includes(String(id))) continue
  if (id < Number(options.from ?? 0)) continue
  const by = await noticedBy(id, site)
  results.push({ site, id, ...(by === undefined ? {} : { by }) })
  const line = `${by === undefined ? 'SURVIVES' : 'noticed '} ${inWords(id, site)}${by === undefined ? '' : `  (${by})`}`
  process.stdout.write(`${line}\n`)
  appendFileSync(join(folder, 'results'), `${line}\n`)
}
const survivors = results.filter(({ by }) => by === undefined)
const reasons = readFileSync(join(root, 'docs/mutants.md'), 'utf8')
const withoutReason = survivors.filter(({ site }) => !reasons.includes(`${site.file}\` · \`${oneLine(site.text)}`))
process.stdout.write(
  `${results.length} mistakes, ${survivors.length} noticed by no test (${((100 * survivors.length) / results.length).toFixed(1)} %), ${withoutReason.length} of them without a reason in docs/mutants.md.\n`,
)
await vitest.close()
process.exit(withoutReason.length === 0 && survivors.length <= 0.05 * results.length ? 0 : 1)

function inWords(id: number, { file, line, sort, text, mistake }: Site): string {
  return `${id} ${file}:${line} ${sort}: ${oneLine(text)} -> ${oneLine(mistake)}`
}

/** As many of each sort, spread over all files by chance, none inside another. What is chosen hangs on its own words alone,
 * so that a change elsewhere leaves it in the list. */
function chosen(): Site[] {
  const files = readdirSync(join(root, 'core'), { recursive: true, encoding: 'utf8' })
    .map((file) => `core/${file}`)
    .filter((file) => /^(?!.*node_modules).*\.ts$/.test(file) && !file.endsWith('.d.ts') && !leftAlone.test(file))
  const seen = new Map<string, number>()
  const all = files
    .flatMap((file) => sitesOf(root, file))
    .map((site) => {
      const words = [seed, site.file, site.sort, site.text, site.mistake].join('\n')
      const before = seen.get(words) ?? 0
      seen.set(words, before + 1)
      return { site, order: createHash('sha256').update(`${words}\n${before}`).digest('hex') }
    })
    .sort((a, b) => (a.order < b.order ? -1 : 1))
  const taken: Site[] = []
  for (const sort of sorts) {
    let left = Math.round(count / sorts.length)
    for (const { site } of all.filter(({ site }) => site.sort === sort)) {
      if (left === 0) break
      if (!canBeRead(site)) continue
      if (taken.some(({ file, from, to }) => file === site.file && from < site.to && site.from < to)) continue
      taken.push(site)
      left--
    }
  }
  return taken
}

/** Whether the mistake leaves a source that runs at all. */
function canBeRead({ file, from, to, mistake }: Site): boolean {
  const code = readFileSync(join(root, file), 'utf8')
  try {
    transformSync(`${code.slice(0, from)}(true ? (${mistake}) : 0)${code.slice(to)}`, { loader: 'ts' })
    return true
  } catch {
    return false
  }
}

/** The source with all its mistakes in it, each asleep until its number is called; loops tell that they are alive. */
function withMistakes(code: string, id: string): string | undefined {
  const file = relative(root, id.split('?')[0]!)
  if (!file.startsWith('core/') || leftAlone.test(file)) return undefined
  let text = code
  const here = mutants.map((site, number) => ({ ...site, number })).filter((site) => site.file === file)
  for (const { number, from, to, text: original, mistake } of here.sort((a, b) => b.from - a.from))
    text = `${text.slice(0, from)}($mutant(${number}) ? (${mistake}) : (${original}))${text.slice(to)}`
  text = text
    .replace(/\bwhile \(/g, 'while ($alive() && ')
    .replace(/(\bfor \(let (?:(?! of )[^;\n])*; )(?=[^;])/g, '$1$alive() && ')
  if (!/\$(neg|twice|max|min)\(/.test(text)) return text
  const expression = join(root, 'core/expression/index.ts')
  return `import { neg as $neg, mul as $mul, max as $max, min as $min } from '${expression}'; const $twice = (x) => $mul(2, x);${text}`
}

async function specifications(wanted: (file: string) => boolean) {
  const all = await vitest.globTestSpecifications()
  return all.filter(({ moduleId }) => !isGolden(moduleId) && wanted(moduleId))
}

/** Whether a test failed: which. */
async function withMistake(
  id: number,
  specs: Awaited<ReturnType<typeof specifications>>,
  patienceMs = Infinity,
): Promise<string | undefined> {
  // a loop of the engine may go on for hours: its process is ended, which is an error
  const ending = Number.isFinite(patienceMs) ? setTimeout(endWorkers, patienceMs) : undefined
  writeFileSync(join(folder, 'active'), String(id))
  const before = vitest.state.getUnhandledErrors().length
  const { testModules } = await vitest.runTestSpecifications(specs)
  clearTimeout(ending)
  // it tells of all that ever ran
  const asked = new Set(specs.map(({ moduleId }) => moduleId))
  const found = testModules.find((module) => asked.has(module.moduleId) && !module.ok())
  if (found === undefined) return vitest.state.getUnhandledErrors().length > before ? 'an error' : undefined
  const test = [...found.children.allTests('failed')][0]
  const why = test?.result().errors?.[0]?.message ?? found.errors()[0]?.message ?? ''
  return `${relative(root, found.moduleId)} > ${test?.name ?? ''}: ${oneLine(why).slice(0, 120)}`
}

/** Tests that reach it: its neighbours first, then the quick ones; few at a time, as most mistakes are noticed at once. */
async function noticedBy(id: number, { file }: Site): Promise<string | undefined> {
  const place = file.split('/').slice(0, -1).join('/')
  const near = (test: string) =>
    relative(root, test).startsWith(file.replace(/\.ts$/, '')) ? 0 : relative(root, test).startsWith(place) ? 1 : 2
  const order = reach.filter(({ reached }) => reached.includes(id)).sort((a, b) => near(a.file) - near(b.file) || a.ms - b.ms)
  for (let at = 0, batch = 3; at < order.length; at += batch, batch *= 5) {
    const some = order.slice(at, at + batch)
    const files = new Set(some.map((one) => one.file))
    const usualMs = some.reduce((sum, one) => sum + one.ms, 0)
    const by = await withMistake(id, await specifications((moduleId) => files.has(moduleId)), 60_000 + 6 * usualMs)
    if (by !== undefined) return by
  }
  return undefined
}

function endWorkers(): void {
  spawnSync('pkill', ['-9', '-P', String(process.pid), '-f', 'workers/forks'])
}

function oneLine(text: string): string {
  return text.replace(/\s+/g, ' ')
}
