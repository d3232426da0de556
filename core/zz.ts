import { checkDocument } from './check'
import { readFileSync } from 'node:fs'
import type { Document } from './document'
import { compile, start, verdictsOf } from './simulation'
const document = ((checkDocument(JSON.parse(readFileSync('demo/lamplighter.json', 'utf8'))) as never) as { value: { resolved: Document } }).value.resolved
type P = Parameters<typeof start>[0]
const compiled = (one: Document) => ((compile(one, 'galleryDelivery') as never) as { value: P }).value
const run = { trial: 'galleryDelivery', layers: [], seed: 1 }
const time = (n: number, f: () => void) => { let b = Infinity; for (let i = 0; i < n; i++) { const t = performance.now(); f(); b = Math.min(b, performance.now() - t) } return b.toFixed(1) }
const p = compiled(document)
const s = start(p)
let r = s.run(run)
console.log('run', time(12, () => { r = s.run(run) }), 'verdicts', time(12, () => verdictsOf(document, 'galleryDelivery', r)), 'method', p.method, 'ticks', p.ticks, 'cols', p.columns.length)
const t = document.trials.galleryDelivery as never as Record<string, unknown>
const variant = (change: Record<string, unknown>) => ({ ...document, trials: { ...document.trials, galleryDelivery: { ...t, ...change } } }) as never as Document
const cues = t.cues as Record<string, { kind: string; loop?: string }>
console.log(Object.entries(cues).map(([k, c]) => `${k}:${c.kind}`).join(' '))
for (const k of ['', ...Object.keys(cues)]) {
  const rest = Object.fromEntries(Object.entries(cues).filter(([n]) => n !== k))
  try { const q = compiled(variant({ cues: rest, checks: {} })); const z = start(q); z.run(run); console.log('without', k, time(6, () => z.run(run)), q.method, q.ticks) } catch (e) { console.log(k, String(e).slice(0, 80)) }
}
{
  const q = compiled(variant({ checks: {} })); const z = start(q); z.run(run)
  console.log('no checks again', time(8, () => z.run(run)), 'afterwards', q.afterwards !== undefined)
  const { afterwards, ...bare } = p
  const y = start(bare as P); y.run(run)
  console.log('checks, no afterwards', time(8, () => y.run(run)))
  const w = p.afterwards!
  const cols = w.places.map((c) => r.columns[c]!.values)
  console.log('afterwards alone', time(8, () => { for (let k = 0; k < cols[0]!.length; k += w.every) w.at(cols.map((v) => v[k]!)) }), w.every, cols[0]!.length)
  console.log('whole', time(8, () => { s.run(run) }))
}
