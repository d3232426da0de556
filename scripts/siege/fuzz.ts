import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { atMost, none, told } from './figures'
import type { Figure } from './figures'
import { fileSorts } from './files'
import type { FuzzFound, FuzzShare } from './fuzzWorker'

/** What one document or file may take, and what reading any of them may need. */
const longestMs = 2_000
const mostMegabytes = 1_000

/** Threads, and documents or files that one of them takes at a time. */
const threads = 2
const portion = 20_000
/** Between two words about how far it is. */
const everySoMany = 20_000

/** Mutated documents, and files of each sort: none may throw, none may take long. `from` is the first seed. */
export async function fuzz({ documents, files, from }: { documents: number; files: number; from: number }): Promise<Figure[]> {
  const figures: Figure[] = []
  // a thread reads all of the core when it starts: one pool for all sorts
  const pool = new Piscina({
    filename: fileURLToPath(new URL('fuzzWorker.ts', import.meta.url)),
    execArgv: ['--import', 'tsx'],
    ...{ minThreads: 1, maxThreads: threads, idleTimeout: 60_000 },
    resourceLimits: { maxOldGenerationSizeMb: mostMegabytes },
  })
  const kinds = [{ name: 'documents', count: documents }, ...fileSorts.map(({ name }) => ({ name, count: files }))]
  for (const { name, count } of kinds) {
    const shares = Array.from({ length: Math.ceil(count / portion) }, (_, k) => ({
      sort: name,
      from: from + k * portion,
      count: Math.min(portion, count - k * portion),
    }))
    const found = await inThreads(pool, shares)
    const exceptions = found.flatMap((one) => one.exceptions)
    for (const { seed, message } of exceptions.slice(0, 5)) console.log(`  ${name}, seed ${seed}: ${message}`)
    const longest = found.reduce((a, b) => (b.longestMs > a.longestMs ? b : a))
    const taken = found.reduce((sum, one) => sum + one.taken, 0)
    figures.push(
      told(`mutated ${name}`, `${count}, of which ${taken} are still right`),
      none('  exceptions', exceptions.length, count),
      atMost(`  longest check (seed ${longest.longestSeed})`, longest.longestMs, longestMs, ' ms'),
    )
  }
  await pool.destroy()
  figures.push(atMost('most memory of the siege', process.resourceUsage().maxRSS / 1e3, mostMegabytes, ' MB'))
  return figures
}

function inThreads(pool: Piscina, shares: readonly FuzzShare[]): Promise<FuzzFound[]> {
  let [done, failed] = [0, 0]
  return Promise.all(
    shares.map(async (share) => {
      const one = (await pool.run(share)) as FuzzFound
      done += share.count
      failed += one.exceptions.length
      if (done % everySoMany === 0) console.log(`  ${done} ${share.sort}, ${failed} exceptions ...`)
      return one
    }),
  )
}
