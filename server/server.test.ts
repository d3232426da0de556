import { createHash } from 'node:crypto'
import { createServer, request as rawRequest } from 'node:http'
import type { Server } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { packRecord } from '@calm-hand/core/formats'
import { compile, start } from '@calm-hand/core/simulation'
import { demo, lamplighter } from '../core/tests/demo'
import { createApp } from './app'
import { configFrom } from './config'
import { openStore } from './store/store'
import type { Store } from './store/store'

const databaseUrl = process.env.TEST_DATABASE_URL

/** `npm test` starts a database for these; without one there is nothing to test against. */
describe.skipIf(databaseUrl === undefined)('the server', () => {
  let store: Store
  let server: Server
  let base = ''

  beforeAll(async () => {
    store = openStore(databaseUrl!)
    await store.migrate()
    await store.clear()
    await store.addProject('lamplighter', lamplighter(), 'Test')
    server = createServer(createApp(configFrom({ DATABASE_URL: databaseUrl, LOG_LEVEL: 'silent' }), store))
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    base = `http://127.0.0.1:${(server.address() as { port: number }).port}`
  })
  afterAll(async () => {
    server.close()
    await store.close()
  })

  const project = () => `${base}/api/projects/lamplighter`
  const put = (body: string | object, headers: Record<string, string> = {}) =>
    fetch(project(), {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', ...headers },
      body: typeof body === 'string' ? body : JSON.stringify(body),
    })
  const current = async () => (await (await fetch(project())).json()) as { document: Document; revision: number }
  const problemsOf = async (response: Response) =>
    ((await response.json()) as { problems: { where: string; what: string; remedy: string }[] }).problems

  it('keeps a document as it was sent, with the order of its parts', async () => {
    const { document } = await current()
    expect(JSON.stringify(document)).toBe(JSON.stringify(lamplighter()))
  })

  it('saves on top of the revision it started from, and refuses a stale one with both at hand', async () => {
    const { document, revision } = await current()
    const changed = replaceAt<Document>(document, 'note', 'Changed')
    expect(await (await put({ revision, label: 'Note', document: changed })).json()).toMatchObject({ revision: revision + 1 })
    const stale = await put({ revision, label: 'Late', document })
    expect(stale.status).toBe(409)
    expect(await stale.json()).toMatchObject({
      problems: [{ where: 'revision' }],
      current: { revision: revision + 1, document: { note: 'Changed' } },
    })
    const history = (await (await fetch(`${project()}/revisions`)).json()) as { number: number; label: string }[]
    expect(history[0]).toMatchObject({ number: revision + 1, label: 'Note' })
    expect(await (await fetch(`${project()}/revisions/${revision}`)).json()).toMatchObject({ title: 'Lamplighter' })
  })

  it('lets just one of two saves at once through', async () => {
    const { document, revision } = await current()
    const answers = await Promise.all(['one', 'two', 'three'].map((label) => put({ revision, label, document })))
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409])
  })

  it('refuses a document with problems, each with its place', async () => {
    const { document, revision } = await current()
    const answer = await put({
      revision,
      label: 'Bad',
      document: replaceAt(document, 'machines.lamplighter.bodies.hull.mass', -2),
    })
    expect(answer.status).toBe(422)
    expect((await problemsOf(answer))[0]).toMatchObject({ where: 'machines.lamplighter.bodies.hull.mass' })
  })

  it.each([
    ['what is not JSON', '{"revision": NaN}', 400],
    ['a missing revision', '{"label": "x", "document": {}}', 400],
    ['a newer version', JSON.stringify({ revision: 1, label: 'x', document: { ...lamplighter(), version: 99 } }), 422],
  ])('refuses %s', async (_what, body, status) => {
    const answer = await put(body)
    expect(answer.status).toBe(status)
    expect((await problemsOf(answer))[0]?.remedy).not.toBe('')
  })

  const post = (id: string, document: unknown) =>
    fetch(`${base}/api/projects`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ id, document }),
    })

  it('adds a project, once, and lists it', async () => {
    expect((await post('derrick', demo('derrick'))).status).toBe(201)
    const again = await post('derrick', demo('derrick'))
    expect(again.status).toBe(409)
    expect((await problemsOf(again))[0]).toMatchObject({ where: 'id' })
    const list = (await (await fetch(`${base}/api/projects`)).json()) as { id: string }[]
    expect(list.map(({ id }) => id)).toContain('derrick')
  })

  it.each([
    ['an address that cannot be one', 'No Good', 400],
    ['an address that is a number', '12', 400],
  ])('refuses %s', async (_what, id, status) => {
    expect((await post(id, demo('derrick'))).status).toBe(status)
  })

  it('keeps formulas as they were written', async () => {
    const written = {
      ...demo('lens-float'),
      parameters: { lensMass: { kind: 'parameter', value: '= 0.3 + 0.01', unit: 'kg' } },
      machines: replaceAt(demo('lens-float').machines, 'lensFloat.bodies.lens.mass', '= lensMass'),
    }
    expect((await post('float', written)).status).toBe(201)
    const { document } = (await (await fetch(`${base}/api/projects/float`)).json()) as { document: object }
    expect(document).toEqual(written)
  })

  it('refuses a formula that has no value, with its place', async () => {
    const written = { ...demo('lens-float'), parameters: { half: { kind: 'parameter', value: '= 1 / 0', unit: '' } } }
    const answer = await post('broken', written)
    expect(answer.status).toBe(422)
    expect((await problemsOf(answer))[0]).toMatchObject({ where: 'parameters.half.value' })
    expect((await fetch(`${base}/api/projects/broken`)).status).toBe(404)
  })

  it('refuses a mechanism whose chain cannot close', async () => {
    const open = replaceAt(demo('boarding-ramp'), 'machines.ramp.chains.parallelogram.fromAt', [9, 0, 0])
    const answer = await post('open-ramp', open)
    expect(answer.status).toBe(422)
    expect((await problemsOf(answer))[0]!.what).toMatch(/cannot close/)
  })

  it('refuses an upload of 200 MB before reading it', async () => {
    const status = await new Promise<number | undefined>((resolve, reject) => {
      const sending = rawRequest(
        project(),
        { method: 'PUT', headers: { 'Content-Type': 'application/json', 'Content-Length': 200_000_000 } },
        (answer) => {
          resolve(answer.statusCode)
          sending.destroy()
        },
      )
      sending.on('error', reject)
      sending.write('{')
    })
    expect(status).toBe(413)
  })

  it('keeps a run by its hash and gives the same bytes back', async () => {
    const program = compile(lamplighter(), 'galleryRise')
    if (program.kind === 'refused') throw new Error('The demo compiles.')
    const record = start(program.value).run({ trial: 'galleryRise', layers: [], seed: 1 })
    const packed = packRecord(record)
    const send = (hash: string, body: Uint8Array<ArrayBuffer>) =>
      fetch(`${project()}/runs/${hash}`, { method: 'PUT', headers: { 'Content-Type': 'application/octet-stream' }, body })
    expect((await send(record.hash, packed)).status).toBe(204)
    expect((await send(record.hash, packed)).status).toBe(204) // twice is as once
    const back = Buffer.from(await (await fetch(`${project()}/runs/${record.hash}`)).arrayBuffer())
    expect(back.equals(packed)).toBe(true) // compared as bytes: entry by entry takes longer than an idle connection lives
    expect((await send('0'.repeat(32), packed)).status).toBe(422)
    expect((await send(record.hash, packed.slice(0, 1000))).status).toBe(422)
    expect((await fetch(`${project()}/runs/${'1'.repeat(32)}`)).status).toBe(404)
    expect(await (await fetch(`${project()}/runs`)).json()).toHaveLength(1)
  })

  it('keeps meshes by their content, and nothing that is no mesh', async () => {
    const send = (name: string, body: string) =>
      fetch(`${base}/api/assets?name=${name}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/octet-stream' },
        body,
      })
    const solid =
      'solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid s\n'
    const kept = (await (await send('one.stl', solid)).json()) as { hash: string }
    expect(kept.hash).toBe(createHash('sha256').update(solid).digest('hex'))
    expect(await (await send('again.stl', solid)).json()).toEqual(kept)
    expect(await (await fetch(`${base}/api/assets/${kept.hash}`)).text()).toBe(solid)
    const text = await send('note.stl', 'not a mesh')
    expect(text.status).toBe(422)
    expect((await problemsOf(text))[0]).toMatchObject({ where: 'note.stl', remedy: expect.stringMatching(/STL or OBJ/) })
    expect((await fetch(`${base}/api/assets?name=`, { method: 'POST' })).status).toBe(400)
    expect((await fetch(`${base}/api/assets/${'0'.repeat(64)}`)).status).toBe(404)
    expect((await fetch(`${base}/api/assets/..%2Fx`)).status).toBe(404)
  })

  it('answers only to its own name and pages', async () => {
    const asked = (headers: Record<string, string>) =>
      new Promise<number | undefined>((resolve, reject) =>
        rawRequest(project(), { headers }, (answer) => resolve(answer.resume().statusCode))
          .on('error', reject)
          .end(),
      )
    expect(await asked({ Host: 'evil.invalid' })).toBe(403)
    expect(await asked({ Origin: 'http://evil.invalid' })).toBe(403)
    expect(await asked({})).toBe(200)
  })

  it('sends the headers that keep pages apart', async () => {
    const { headers } = await fetch(project())
    expect(headers.get('content-security-policy')).toContain("default-src 'self'")
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin')
    expect(headers.get('x-content-type-options')).toBe('nosniff')
  })

  it.each([
    ['/api/projects/nobody', 404],
    ['/api/projects/Not%20a%20name', 400],
    ['/api/nothing', 404],
    ['/api/projects/lamplighter/runs/xyz', 400],
    ['/api/projects/lamplighter/revisions/999', 404],
  ])('explains %s', async (path, status) => {
    const answer = await fetch(base + path)
    expect(answer.status).toBe(status)
    expect((await problemsOf(answer))[0]?.what).not.toBe('')
  })

  it('says so when the database is away', async () => {
    const away = openStore('postgres://calm@127.0.0.1:1/none')
    const alone = createServer(createApp(configFrom({ DATABASE_URL: 'x', LOG_LEVEL: 'silent' }), away))
    await new Promise<void>((resolve) => alone.listen(0, '127.0.0.1', resolve))
    const answer = await fetch(`http://127.0.0.1:${(alone.address() as { port: number }).port}/api/projects`)
    expect(answer.status).toBe(503)
    expect((await problemsOf(answer))[0]).toMatchObject({ where: 'database' })
    alone.close()
    await away.close()
  })
})

describe('settings', () => {
  it('need a database, and listen on loopback unless told otherwise', () => {
    expect(() => configFrom({})).toThrow('DATABASE_URL')
    expect(configFrom({ DATABASE_URL: 'x' }).host).toBe('127.0.0.1')
  })
})
