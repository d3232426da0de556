import { writeFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { besiege } from './besieged'
import { printed } from './figures'
import type { Figure } from './figures'
import { flood } from './flood'
import { fuzz } from './fuzz'
import { kills } from './kills'
import { pageKills } from './pages'

const { values } = parseArgs({
  options: {
    short: { type: 'boolean', default: false },
    part: { type: 'string', multiple: true },
    kills: { type: 'string' },
    documents: { type: 'string' },
    files: { type: 'string' },
    seconds: { type: 'string' },
    seed: { type: 'string', default: '1' },
    /** Where to leave how many figures hold, for npm test. */
    counts: { type: 'string' },
  },
})

const sizes = values.short
  ? { kills: 3, documents: 400, files: 150, people: 8, seconds: 4, uploads: 4, idle: 200 }
  : { kills: 25, documents: 20_000, files: 10_000, people: 50, seconds: 60, uploads: 250, idle: 10_000 }
const count = (given: string | undefined, otherwise: number) => (given === undefined ? otherwise : Number(given))
const killCount = count(values.kills, sizes.kills)

const parts: Readonly<Record<string, () => Promise<Figure[]>>> = {
  fuzz: () =>
    fuzz({
      documents: count(values.documents, sizes.documents),
      files: count(values.files, sizes.files),
      from: Number(values.seed),
    }),
  server: () => onApp((app) => kills(app, 'server', killCount)),
  database: () => onApp((app) => kills(app, 'database', killCount)),
  flood: () => onApp((app) => flood(app, { ...sizes, seconds: count(values.seconds, sizes.seconds) })),
  page: () => onApp((app) => pageKills(app, killCount)),
}

async function onApp(attack: (app: Awaited<ReturnType<typeof besiege>>) => Promise<Figure[]>): Promise<Figure[]> {
  const app = await besiege()
  try {
    return await attack(app)
  } finally {
    await app.close()
  }
}

// pages are killed in the browser's own tests too: the short part leaves them out
const wanted = values.part ?? Object.keys(parts).filter((part) => !(values.short && part === 'page'))
for (const name of wanted) {
  if (Object.hasOwn(parts, name)) continue
  throw new Error(`There is no part named ${name}. Known: ${Object.keys(parts).join(', ')}.`)
}
let [passed, failed] = [0, 0]

async function attack(name: string): Promise<void> {
  const began = performance.now()
  const found = await parts[name]!()
  // a slow machine fails no test: in the short part times are told only
  const figures = values.short ? found.map((one) => (one.isTimed === true ? { ...one, holds: true } : one)) : found
  console.log(printed(`${name}, ${Math.round((performance.now() - began) / 1000)} s`, figures))
  passed += figures.filter(({ holds }) => holds).length
  failed += figures.filter(({ holds }) => !holds).length
}

// the fuzz takes the processor for itself; each of the others mostly waits, on a cluster of its own
const atOnce = values.short ? wanted.filter((name) => name !== 'fuzz') : []
for (const name of wanted) if (!atOnce.includes(name)) await attack(name)
await Promise.all(atOnce.map(attack))
if (values.counts !== undefined) writeFileSync(values.counts, JSON.stringify({ passed, failed }))
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed === 0 ? 0 : 1)
