import { lamplighter } from '../../core/tests/demo'
import { openStore } from '../../server/store/store'
import type { Besieged } from './besieged'
import { atMost, none, told } from './figures'
import type { Figure } from './figures'
import { Saver, metNothing } from './saver'

/** People at work meanwhile, and bytes of a run that each uploads now and then. */
const people = 6
const runBytes = 300_000

/** ms until the next kill where nothing comes through. */
const patienceMs = 8_000

function rest(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms))
}

/** Kills server or database so many times in the middle of saves and uploads, and looks at what is left. */
export async function kills(app: Besieged, what: 'server' | 'database', count: number): Promise<Figure[]> {
  const met = metNothing()
  const savers = Array.from({ length: people }, (_, i) => new Saver(app.url, `${what}-kills-${i}`, lamplighter(), met))
  for (const saver of savers) await saver.create()
  let over = false
  const working = savers.map(async (saver, i) => {
    for (let k = 0; !over; k++) {
      await saver.save(() => over)
      if (k % 5 === i % 5) await saver.upload(runBytes, () => over)
    }
  })
  const acknowledged = () => savers.reduce((sum, saver) => sum + saver.acknowledged.length, 0)
  const downMs: number[] = []
  let down = 0
  for (let k = 0; k < count; k++) {
    // once some saves have come through again, at any moment of the next ones
    const wanted = acknowledged() + Math.ceil(8 * Math.random())
    for (let waited = 0; acknowledged() < wanted && waited < patienceMs; waited += 20) await rest(20)
    await rest(150 * Math.random())
    if (what === 'server') app.killServer()
    else app.killDatabase()
    await rest(20) // it has not yet noticed
    const back = await app.back()
    if (back === undefined) down++
    else downMs.push(back)
    if (count >= 100 && k % 100 === 99) console.log(`  ${k + 1} kills of the ${what} ...`)
  }
  over = true
  await Promise.all(working)
  const { saves, runs, lostSaves, lostRuns } = await looked(app, savers)
  return [
    told(`kills of the ${what}`, `${count}, with ${saves} saves and ${runs} runs acknowledged`),
    none('acknowledged saves lost', lostSaves, saves),
    none('acknowledged runs lost', lostRuns, runs),
    none('false conflicts', met.conflicts, saves),
    none('processes that stayed down', down, count),
    atMost('longest time away', Math.max(...downMs) / 1000, 60, ' s'),
  ]
}

/** Every acknowledged state must be in its history as it was, and every acknowledged run whole, bit for bit. */
async function looked(app: Besieged, savers: readonly Saver[]) {
  let [saves, runs, lostSaves, lostRuns] = [0, 0, 0, 0]
  const store = openStore(app.databaseUrl)
  for (const { project, acknowledged, runs: sent } of savers) {
    for (const { revision, title } of acknowledged) {
      saves++
      if ((await store.findRevision(project, revision))?.title !== title) lostSaves++
    }
    const kept = new Set((await store.runs(project)).map(({ hash }) => hash))
    const present = sent.filter(({ hash }, i) => kept.has(hash) || i >= sent.length - 60) // older ones were pruned, by the rule
    for (const { hash, bytes } of present) {
      runs++
      const parts: Uint8Array[] = []
      for await (const piece of store.recordOf(project, hash)) parts.push(piece)
      if (!Buffer.concat(parts).equals(bytes)) lostRuns++
    }
  }
  await store.close()
  return { saves, runs, lostSaves, lostRuns }
}
