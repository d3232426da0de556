import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { recordPieceBytes as pieceBytes } from '@calm-hand/core/document'
import { packRecord, unpackRecord } from '@calm-hand/core/formats'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { lamplighter } from '../core/tests/demo'
import { asJson, databaseUrl, query, sendPiece, sendRecord, serveApp } from './tests/served'
import type { ServedApp, Told } from './tests/served'

const hashOf = (i: number) => i.toString(16).padStart(32, '0')

/** A record of a trial with as many rows as asked; nine bytes or nine megabytes, it is sent the same way. */
function recordOf(i: number, { trial = 'galleryRise', rows = 20, columns = 2 } = {}): RunRecord {
  const values = (k: number) => Float64Array.from({ length: rows }, (_, j) => Math.sin(i + k + j))
  return {
    ...{ hash: hashOf(i), trial, seed: 1, layers: [], ending: { kind: 'finished' } },
    time: values(0),
    columns: Array.from({ length: columns }, (_, k) => ({
      ...{ name: `signal${k}`, label: '', unit: 'm', role: 'actual' as const },
      values: values(k + 1),
    })),
  }
}

describe.skipIf(databaseUrl === undefined)('runs', () => {
  let app: ServedApp
  beforeAll(async () => {
    app = await serveApp()
    await app.store.addProject('lamplighter', JSON.stringify(lamplighter()), 'Test')
  })
  afterAll(() => app.close())
  const runs = () => `${app.base}/api/projects/lamplighter/runs`
  const send = (record: RunRecord) => sendRecord(app.base, 'lamplighter', record.hash, packRecord(record))
  const wrongOf = async (answer: Response) => ((await answer.json()) as Told).problems[0]!

  it('come in pieces and are given back whole, bit for bit', async () => {
    const record = recordOf(1, { rows: 300_000, columns: 3 })
    const packed = packRecord(record)
    expect(packed.length).toBeGreaterThan(2 * pieceBytes)
    expect(await (await send(record)).json()).toEqual({ complete: true })
    expect(await (await send(record)).json()).toEqual({ complete: true }) // twice is as once
    const back = Buffer.from(await (await fetch(`${runs()}/${record.hash}`)).arrayBuffer())
    expect(back.equals(packed)).toBe(true) // compared as bytes: entry by entry takes too long
    expect(unpackRecord(back).kind).toBe('done')
  })

  it('are not there until the last piece is, in whatever order the others came', async () => {
    const record = recordOf(2, { rows: 300_000, columns: 3 })
    const packed = packRecord(record)
    const piece = (k: number) =>
      sendPiece(app.base, 'lamplighter', record.hash, k, packed.subarray(k * pieceBytes, (k + 1) * pieceBytes))
    expect((await piece(2)).status).toBe(409) // the head comes first
    expect(await (await piece(0)).json()).toEqual({ complete: false })
    expect((await fetch(`${runs()}/${record.hash}`)).status).toBe(404)
    expect(await (await piece(2)).json()).toEqual({ complete: false })
    expect(await (await piece(1)).json()).toEqual({ complete: true })
    expect((await fetch(`${runs()}/${record.hash}`)).status).toBe(200)
  })

  it.each<[string, (packed: Uint8Array) => Promise<Response>, number, RegExp]>([
    ['another hash', (packed) => sendPiece(app.base, 'lamplighter', hashOf(99), 0, packed), 422, /not the one/],
    [
      'half a piece',
      (packed) => sendPiece(app.base, 'lamplighter', hashOf(3), 0, packed.subarray(0, packed.length - 8)),
      422,
      /as long/,
    ],
    ['no record', () => sendPiece(app.base, 'lamplighter', hashOf(3), 0, new Uint8Array(100)), 422, /not a packed record/],
    ['another project', (packed) => sendPiece(app.base, 'nobody', hashOf(3), 0, packed), 404, /no project named nobody/],
    [
      'a piece that unpacks to a gigabyte',
      () =>
        fetch(`${runs()}/${hashOf(3)}/pieces/0`, {
          method: 'PUT',
          headers: { 'Content-Type': 'application/octet-stream' },
          body: gzipSync(Buffer.alloc(64_000_000)),
        }),
      422,
      /no piece of a record/,
    ],
    [
      'another sort of content',
      () => fetch(`${runs()}/${hashOf(3)}/pieces/0`, { method: 'PUT', headers: asJson, body: '{}' }),
      422,
      /no piece/,
    ],
  ])('with %s are refused', async (_what, ask, status, words) => {
    const answer = await ask(packRecord(recordOf(3)))
    expect(answer.status).toBe(status)
    expect((await wrongOf(answer)).what).toMatch(words)
  })

  it('of which nothing was kept say how to get them', async () => {
    const answer = await fetch(`${runs()}/${hashOf(77)}`)
    expect(answer.status).toBe(404)
    expect((await wrongOf(answer)).remedy).toMatch(/Run the trial again/)
  })

  it('are pruned by their rule: never what is pinned, named or the last of its trial', async () => {
    const { store, url } = app
    const pinned = { A: { title: 'pinned', trial: 'galleryRise', run: hashOf(10), loops: {} } }
    await store.putOnTop('lamplighter', JSON.stringify({ ...lamplighter(), tray: pinned }), 'Pin A')
    for (let i = 10; i < 20; i++) await send(recordOf(i))
    await send(recordOf(20, { trial: 'quayCrossing' }))
    await query(
      url,
      `update run set made_at = timestamp '2026-01-01' + ('x' || right(hash, 4))::bit(16)::int * interval '1 minute'`,
    )
    await store.sayOfRun('lamplighter', hashOf(11), { name: 'the good one' })
    await store.pruneRuns('lamplighter', { runs: 3, bytes: 1e12 })
    const kept = (await store.runs('lamplighter')).map(({ hash }) => hash)
    expect(kept.sort()).toEqual([10, 11, 16, 17, 18, 19, 20].map(hashOf))
    // and by bytes; the last of each trial stays whatever its size
    await store.pruneRuns('lamplighter', { runs: 100, bytes: 0 })
    expect((await store.runs('lamplighter')).map(({ hash }) => hash).sort()).toEqual([10, 11, 19, 20].map(hashOf))
  })

  it('have names, and are deleted when one wants', async () => {
    const named = await fetch(`${runs()}/${hashOf(19)}`, {
      method: 'PATCH',
      headers: asJson,
      body: JSON.stringify({ name: 'last' }),
    })
    expect(named.status).toBe(204)
    const list = (await (await fetch(runs())).json()) as { hash: string; name: string | null; length: number }[]
    expect(list.find(({ hash }) => hash === hashOf(19))).toMatchObject({ name: 'last', length: packRecord(recordOf(19)).length })
    expect((await fetch(`${runs()}/${hashOf(19)}`, { method: 'DELETE' })).status).toBe(204)
    expect((await fetch(`${runs()}/${hashOf(19)}`, { method: 'DELETE' })).status).toBe(404)
  })

  it('keep what made them, how their checks came out, and what is said of them', async () => {
    const record = recordOf(40)
    await send(record)
    const at = `${runs()}/${record.hash}`
    expect((await fetch(`${at}/made`)).status).toBe(404)
    const document = lamplighter()
    const verdicts = [{ check: 'near', outcome: 'fails', margin: -0.1 }]
    const put = (body: unknown) => fetch(`${at}/made`, { method: 'PUT', headers: asJson, body: JSON.stringify(body) })
    expect((await put({ document, verdicts })).status).toBe(204)
    expect(await (await fetch(`${at}/made`)).json()).toEqual(document)
    // what made it stays, whoever sends what
    expect((await put({ document: { ...document, title: 'Another' }, verdicts })).status).toBe(204)
    expect(((await (await fetch(`${at}/made`)).json()) as { title: string }).title).toBe(document.title)
    const say = (body: unknown) => fetch(at, { method: 'PATCH', headers: asJson, body: JSON.stringify(body) })
    expect((await say({ tags: 'calm heavy', note: 'First line.\nSecond.' })).status).toBe(204)
    const listed = async () =>
      ((await (await fetch(runs())).json()) as { hash: string }[]).find(({ hash }) => hash === record.hash)
    const told = { tags: 'calm heavy', note: 'First line.\nSecond.', name: null, verdicts, isMade: true }
    expect(await listed()).toMatchObject(told)
    for (const wrong of [{}, { tags: 3 }, { name: 'x'.repeat(101) }, { colour: 'red' }, null])
      expect((await say(wrong)).status, JSON.stringify(wrong)).toBe(400)
    expect((await put({ document, verdicts: [{ check: 'near', outcome: 'perhaps' }] })).status).toBe(400)
    expect((await put({ document: { format: 'calm-hand' }, verdicts })).status).toBe(422)
    expect(await listed()).toMatchObject(told)
    expect(
      (
        await fetch(`${runs()}/${hashOf(98)}/made`, {
          method: 'PUT',
          headers: asJson,
          body: JSON.stringify({ document, verdicts }),
        })
      ).status,
    ).toBe(404)
  })

  it('as kept before they came in pieces are read still', async () => {
    const packed = packRecord(recordOf(30))
    await query(app.url, `insert into run (project_id, hash, trial, length) values ('lamplighter', $1, 'galleryRise', $2)`, [
      hashOf(30),
      packed.length,
    ])
    await query(app.url, `insert into run_piece values ('lamplighter', $1, 0, 'none', $2)`, [hashOf(30), Buffer.from(packed)])
    const back = Buffer.from(await (await fetch(`${runs()}/${hashOf(30)}`)).arrayBuffer())
    expect(back.equals(packed)).toBe(true)
  })
})
