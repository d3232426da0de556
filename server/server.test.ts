import { createHash, randomUUID } from 'node:crypto'
import { request as rawRequest } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { demo, lamplighter } from '../core/tests/demo'
import { WrongSetting, configFrom } from './config'
import { loadDemo, resetDemo } from './demo'
import { NewerSchema } from './store/migrate'
import { databaseTrouble } from './store/trouble'
import { asJson, databaseUrl, query, saveBody, serveApp } from './tests/served'
import type { ServedApp, Told } from './tests/served'
import { startTrouble } from './words'

/** `npm test` starts a database for these; without one there is nothing to test against. */
describe.skipIf(databaseUrl === undefined)('the server', () => {
  let app: ServedApp
  let base = ''

  beforeAll(async () => {
    app = await serveApp()
    base = app.base
    await app.store.addProject('lamplighter', JSON.stringify(lamplighter()), 'Test')
  })
  afterAll(() => app.close())

  const project = () => `${base}/api/projects/lamplighter`
  const put = (body: string, headers: Record<string, string> = {}) =>
    fetch(project(), { method: 'PUT', headers: { ...asJson, ...headers }, body })
  const current = async () => (await (await fetch(project())).json()) as { document: Document; revision: number }
  const problemsOf = async (response: Response) => ((await response.json()) as Told).problems

  it('keeps a document as it was sent, with the order of its parts', async () => {
    const { document } = await current()
    expect(JSON.stringify(document)).toBe(JSON.stringify(lamplighter()))
  })

  it('saves on top of the revision it started from, and refuses a stale one with both at hand', async () => {
    const { document, revision } = await current()
    const changed = replaceAt<Document>(document, 'note', 'Changed')
    expect(await (await put(saveBody(revision, changed, { label: 'Note' }))).json()).toMatchObject({ revision: revision + 1 })
    const stale = await put(saveBody(revision, document))
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
    const answers = await Promise.all(['one', 'two', 'three'].map((label) => put(saveBody(revision, document, { label }))))
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409])
  })

  it('refuses a document with problems, each with its place', async () => {
    const { document, revision } = await current()
    const answer = await put(saveBody(revision, replaceAt(document, 'machines.lamplighter.bodies.hull.mass', -2)))
    expect(answer.status).toBe(422)
    expect((await problemsOf(answer))[0]).toMatchObject({ where: 'machines.lamplighter.bodies.hull.mass' })
  })

  it.each([
    ['what is not JSON', '{"revision": NaN}', 400],
    ['a missing revision', '{"label": "x", "document": {}}', 400],
    ['no body', '', 400],
    ['a list', '[]', 400],
    ['nothing', 'null', 400],
    ['a revision beyond all numbers', saveBody(3e9, lamplighter()), 400],
    ['a label with letters that cannot be kept', saveBody(1, lamplighter(), { label: 'a\u0000b' }), 400],
    ['a save whose id is none', saveBody(1, lamplighter(), { save: 'a b' }), 400],
    ['a text for a document', saveBody(1, 'document'), 400],
    ['a newer version', saveBody(1, { ...lamplighter(), version: 99 }), 422],
    ['5,000 levels', saveBody(1, 0).replace('"document":0', `"document":${'{"a":'.repeat(5000)}1${'}'.repeat(5000)}`), 422],
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
    expect((await problemsOf(answer))[0]!.what).toMatch(/does not close/)
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

  it.each([
    ['another sort of content', () => put(saveBody(1, lamplighter()), { 'Content-Type': 'text/plain' }), 415],
    ['no sort of content', () => fetch(project(), { method: 'PUT', body: new Uint8Array([1]) }), 415],
    ['a letter that is none in an address', () => fetch(`${base}/api/projects/%E0%A4%A`), 400],
    ['a mesh with a name that cannot be kept', () => fetch(`${base}/api/assets?name=a%00.stl`, { method: 'POST' }), 400],
    ['a revision that is no number', () => fetch(`${project()}/revisions/3e9`), 404],
    ['a page of history that is none', () => fetch(`${project()}/revisions?before=x`), 400],
    [
      'a name that is none',
      () => fetch(`${project()}/revisions/1`, { method: 'PATCH', headers: asJson, body: '{"name":7}' }),
      400,
    ],
    ['a body that does not unpack', () => put('x', { 'Content-Encoding': 'gzip' }), 400],
    ['a body packed in an unknown way', () => put('x', { 'Content-Encoding': 'odd' }), 415],
  ])('explains %s as a mistake of who asks', async (_what, ask, status) => {
    const answer = await ask()
    expect(answer.status).toBe(status)
    expect((await problemsOf(answer))[0]?.remedy).not.toBe('')
  })

  it('asks nobody to sign in on loopback', async () => {
    expect(await (await fetch(`${base}/api/session`)).json()).toEqual({ guarded: false, level: 'full' })
  })
})

describe.skipIf(databaseUrl === undefined)('a save', () => {
  let app: ServedApp
  beforeAll(async () => {
    app = await serveApp()
    await app.store.addProject('lamplighter', JSON.stringify(lamplighter()), 'Test')
  })
  afterAll(() => app.close())

  const send = async (revision: number, title: string, more: object = {}) => {
    const body = saveBody(revision, { ...lamplighter(), title }, more)
    const answer = await fetch(`${app.base}/api/projects/lamplighter`, { method: 'PUT', headers: asJson, body })
    return { status: answer.status, ...((await answer.json()) as { revision?: number; current?: { revision: number } }) }
  }

  it('sent twice is one', async () => {
    const save = randomUUID()
    const first = await send(1, 'One', { save })
    expect(await send(1, 'One', { save })).toEqual(first)
    expect(first.revision).toBe(2)
  })

  it('whose answer was lost is followed by the next one of the same work', async () => {
    const [lost, next] = [randomUUID(), randomUUID()]
    await send(2, 'Lost', { save: lost })
    expect(await send(2, 'Next', { save: next, follows: [lost] })).toMatchObject({ status: 200, revision: 4 })
    // and so on, as long as nobody else saved in between
    expect(await send(2, 'After', { follows: [lost, next] })).toMatchObject({ status: 200, revision: 5 })
  })

  it('that somebody else came before is stale, whatever it follows', async () => {
    const lost = randomUUID()
    await send(5, 'Mine', { save: lost })
    await send(6, 'Theirs')
    expect(await send(5, 'Mine again', { follows: [lost] })).toMatchObject({ status: 409, current: { revision: 7 } })
  })

  it('keeps a document of a megabyte', async () => {
    const parameters = Object.fromEntries(
      Array.from({ length: 9000 }, (_, i) => [`p${i}`, { kind: 'parameter', value: i, unit: 'kg', note: 'x'.repeat(80) }]),
    )
    const body = saveBody(7, { ...lamplighter(), parameters })
    expect(body.length).toBeGreaterThan(1_000_000)
    const answer = await fetch(`${app.base}/api/projects/lamplighter`, { method: 'PUT', headers: asJson, body })
    expect(answer.status).toBe(200)
  })
})

describe.skipIf(databaseUrl === undefined)('what is kept', () => {
  let app: ServedApp
  beforeAll(async () => {
    app = await serveApp()
  })
  afterAll(() => app.close())

  const titled = (title: string) => JSON.stringify({ ...lamplighter(), title })
  const titleOf = async (id: string) => (await app.store.findProject(id))?.document.title

  it('is put back to the demo on top of what was there, and nothing else is touched', async () => {
    const { store } = app
    const all = await loadDemo(store)
    expect(await loadDemo(store)).toEqual([])
    await store.addProject('own', titled('My own'), 'Created')
    await store.putOnTop('lamplighter', titled('Changed'), 'Edit')
    await store.binProject('derrick')
    expect((await resetDemo(store)).sort()).toEqual([...all].sort())
    expect(await titleOf('lamplighter')).toBe('Lamplighter')
    expect(await titleOf('derrick')).toBe('Derrick')
    expect(await titleOf('own')).toBe('My own')
    // what it replaced can be brought back
    expect((await store.findRevision('lamplighter', 2))?.title).toBe('Changed')
    expect(await store.revisions('lamplighter', 1e6, 10)).toMatchObject([
      { number: 3, label: 'Put the demo back' },
      { number: 2, label: 'Edit' },
      { number: 1, label: 'Loaded the demo' },
    ])
  })

  it('is thinned by its rule: all of a day, then by hour, then by day, named states always', async () => {
    const { store, url } = app
    await store.addProject('thin', titled('0'), 'Created')
    const ages = ['40 days', '39.9 days', '39 days', '9 days 20 minutes', '9 days 10 minutes', '8 days', '2 hours', '1 hour']
    const now = new Date('2026-03-10T10:45:00Z') // both of day 9 lie within one hour of the clock
    for (const [i] of ages.entries()) await store.putOnTop('thin', titled(String(i + 1)), `Edit ${i + 1}`)
    for (const [i, age] of ages.entries())
      await query(
        url,
        `update revision set saved_at = date_trunc('day', now()) + $1::interval - $2::interval where project_id = 'thin' and number = $3`,
        [`${now.getUTCHours() % 2} hours 45 minutes`, age, i + 2],
      )
    await query(url, `update revision set saved_at = now() - interval '50 days' where project_id = 'thin' and number = 1`)
    await store.nameRevision('thin', 5, 'As flown')
    await store.thinHistory()
    const kept = (await store.revisions('thin', 1e6, 100)).map(({ number }) => number)
    expect(kept).toEqual(expect.arrayContaining([9, 8, 7, 5, 1]))
    const before = kept.length
    await store.thinHistory() // once is enough
    expect((await store.revisions('thin', 1e6, 100)).length).toBe(before)
    expect(await store.forgetHistory('thin')).toBe(before - 2)
    expect((await store.revisions('thin', 1e6, 100)).map(({ number }) => number)).toEqual([9, 5])
  })

  it('goes into the bin and comes back, or goes for good', async () => {
    const { base, store } = app
    await store.addProject('old', titled('Old'), 'Created')
    const ask = (method: string, path: string) => fetch(base + path, { method }).then(({ status }) => status)
    expect(await ask('DELETE', '/api/projects/old')).toBe(204)
    expect(await ask('GET', '/api/projects/old')).toBe(404)
    expect(await (await fetch(`${base}/api/bin`)).json()).toMatchObject([{ id: 'old', title: 'Old' }])
    // its name is not free while it may come back
    const again = await fetch(`${base}/api/projects`, {
      method: 'POST',
      headers: asJson,
      body: JSON.stringify({ id: 'old', document: lamplighter() }),
    })
    expect(again.status).toBe(409)
    expect(((await again.json()) as Told).problems[0]!.remedy).toMatch(/bin/)
    expect(await ask('POST', '/api/bin/old')).toBe(204)
    expect(await titleOf('old')).toBe('Old')
    expect(await ask('DELETE', '/api/bin/old')).toBe(404)
    await ask('DELETE', '/api/projects/old')
    expect(await ask('DELETE', '/api/bin/old')).toBe(204)
    expect(await ask('POST', '/api/bin/old')).toBe(404)
    await query(app.url, `update project set binned_at = now() - interval '31 days' where id = 'own'`)
    expect(await store.emptyOldBin()).toBe(1)
  })

  it('from before documents were packed is read, and packed by housekeeping', async () => {
    const { store, url } = app
    await store.addProject('before', titled('Packed'), 'Created')
    await query(url, `update revision set document = $1, packed = null where project_id = 'before'`, [titled('Plain')])
    expect((await store.findRevision('before', 1))?.title).toBe('Plain')
    await store.keepHouse()
    expect((await store.findRevision('before', 1))?.title).toBe('Plain')
    expect(await query(url, `select document from revision where project_id = 'before'`)).toEqual([{ document: null }])
    const { projects } = await store.sizes()
    expect(projects.find(({ id }) => id === 'before')).toMatchObject({ states: 1, runs: 0 })
  })

  it('in a database of a newer edition is left alone', async () => {
    await query(app.url, `insert into drizzle.__drizzle_migrations (hash, created_at) values ('later', 9999999999999)`)
    const error = await app.store.migrate().catch((found: unknown) => found)
    expect(error).toBeInstanceOf(NewerSchema)
    expect(startTrouble(error)).toMatchObject({
      words: expect.stringMatching(/newer edition.*left as it is/) as string,
      passes: false,
    })
    expect(await titleOf('lamplighter')).toBe('Lamplighter')
  })
})

describe('a database that is away', () => {
  it('is said with a time to come back, and told apart from mistakes', async () => {
    const away = await serveApp({}, 'postgres://calm@127.0.0.1:1/none')
    const answer = await fetch(`${away.base}/api/projects`)
    expect(answer.status).toBe(503)
    expect(Number(answer.headers.get('retry-after'))).toBeGreaterThan(0)
    expect(((await answer.json()) as Told).problems[0]).toMatchObject({ where: 'database' })
    await away.close()
  })

  it.each([
    [{ code: 'ECONNREFUSED' }, 'away'],
    [{ code: '57P01' }, 'away'],
    [{ cause: { code: '08006' } }, 'away'],
    [new Error('Connection terminated unexpectedly'), 'away'],
    [{ code: '53100' }, 'full'],
    [{ code: '22021' }, 'refusedValue'],
    [new TypeError('x is not a function'), undefined],
    [new Error('Something with a timeout of ours'), undefined],
  ])('%j is %s', (error, trouble) => expect(databaseTrouble(error)).toBe(trouble))
})

describe('settings', () => {
  const url = 'postgres://a:b@127.0.0.1:5432/c'

  it('listen on loopback without signing in unless told otherwise', () => {
    expect(configFrom({ DATABASE_URL: url })).toMatchObject({ host: '127.0.0.1', port: 4180, isGuarded: false })
    expect(configFrom({ DATABASE_URL: url, HOST: '0.0.0.0' }).isGuarded).toBe(true)
    // a proxy on the same machine asks loopback for a public name
    expect(configFrom({ DATABASE_URL: url, ALLOWED_HOSTS: 'calm.example' }).isGuarded).toBe(true)
  })

  it.each<[string, Record<string, string>, RegExp]>([
    ['no database', {}, /DATABASE_URL is not set.*npm start/],
    ['an empty address', { DATABASE_URL: '' }, /DATABASE_URL is empty/],
    ['no address at all', { DATABASE_URL: 'calm' }, /no address of a PostgreSQL server/],
    ['another sort of server', { DATABASE_URL: 'mysql://a@b/c' }, /no address of a PostgreSQL server/],
    ['a file that is not there', { DATABASE_FILE: '/nowhere/address' }, /cannot be read/],
    ['a port that is none', { DATABASE_URL: url, PORT: 'abc' }, /PORT is "abc"/],
    ['a port beyond all', { DATABASE_URL: url, PORT: '70000' }, /from 1 to 65535/],
    ['an empty port', { DATABASE_URL: url, PORT: '' }, /PORT is ""/],
    ['a host that is none', { DATABASE_URL: url, HOST: 'a b' }, /HOST is "a b"/],
    ['a short passphrase', { DATABASE_URL: url, PASSPHRASE: 'short' }, /at least 12/],
  ])('with %s are told in one sentence', (_what, environment, words) => {
    expect(() => configFrom(environment)).toThrow(WrongSetting)
    expect(() => configFrom(environment)).toThrow(words)
  })

  it.each([
    [{ code: 'EADDRINUSE', port: 4180 }, /port 4180 is taken.*PORT=4181/],
    [{ code: 'EADDRNOTAVAIL', address: '1.2.3.4' }, /HOST is 1.2.3.4/],
    [{ code: 'EACCES', port: 80 }, /port 80 may not be used/],
    [{ cause: { code: '28P01' } }, /refuses this user or password/],
    [{ code: '3D000' }, /is not there/],
    [{ code: '42501' }, /may not make tables/],
    [{ cause: { code: 'ENOTFOUND' } }, /not known here/],
    [{ code: '53100' }, /disk of the database is full/],
    [{ code: 'ECONNREFUSED' }, /does not answer yet/],
  ])('trouble %j has a sentence with a remedy', (error, words) => expect(startTrouble(error)?.words).toMatch(words))
})
