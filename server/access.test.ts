import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { lamplighter } from '../core/tests/demo'
import { isPassphrase, newPassphrase, newToken, slowHash, tokenHash } from './access/secrets'
import { asJson, databaseUrl, query, saveBody, serveApp } from './tests/served'
import type { ServedApp } from './tests/served'

describe('a passphrase', () => {
  it('is known by a slow hash that is another each time', async () => {
    const [one, two] = [await slowHash('a quiet harbour'), await slowHash('a quiet harbour')]
    expect(one).not.toBe(two)
    expect(await isPassphrase('a quiet harbour', one)).toBe(true)
    expect(await isPassphrase('a quiet harbor', one)).toBe(false)
    expect(await isPassphrase('a quiet harbour', 'damaged')).toBe(false)
  })

  it('that is made has four groups of five letters that look like no others', () => {
    expect(newPassphrase()).toMatch(/^([a-hjkmnp-z2-9]{5}-){3}[a-hjkmnp-z2-9]{5}$/)
    expect(newPassphrase()).not.toBe(newPassphrase())
  })

  it('is derived as the standard says', async () => {
    // RFC 7914, section 12: scrypt ("pleaseletmein", "SodiumChloride", N 16384, r 8, p 1), its first 32 bytes
    const salt = Buffer.from('SodiumChloride').toString('base64')
    const hash = Buffer.from('7023bdcb3afd7348461c06cd81fd38ebfda8fbba904f8e3ea9b543f6545da1f2', 'hex').toString('base64')
    expect(await isPassphrase('pleaseletmein', `scrypt$16384$8$1$${salt}$${hash}`)).toBe(true)
  })
})

describe.skipIf(databaseUrl === undefined)('a server that others may reach', () => {
  let app: ServedApp
  beforeAll(async () => {
    app = await serveApp({ SIGN_IN: 'on', TRUST_PROXY: '1' })
    await app.store.addProject('lamplighter', JSON.stringify(lamplighter()), 'Test')
    await app.store.setPassphrase('full', await slowHash('a quiet harbour'))
    await app.store.setPassphrase('read', await slowHash('only looking on'))
  })
  afterAll(() => app.close())
  beforeEach(async () => void (await query(app.url, 'delete from session')))

  let visitor = 0
  /** Each from an address of its own, as a proxy tells it: tries are limited for each. */
  const signIn = (passphrase: unknown, headers: Record<string, string> = { 'X-Forwarded-For': `10.0.0.${++visitor}` }) =>
    fetch(`${app.base}/api/session`, { method: 'POST', headers: { ...asJson, ...headers }, body: JSON.stringify({ passphrase }) })
  const cookieOf = (answer: Response) => answer.headers.get('set-cookie')!.split(';')[0]!
  const projects = (headers: Record<string, string>) =>
    fetch(`${app.base}/api/projects`, { headers }).then(({ status }) => status)
  const save = (headers: Record<string, string>) =>
    fetch(`${app.base}/api/projects/lamplighter`, {
      method: 'PUT',
      headers: { ...asJson, ...headers },
      body: saveBody(1, lamplighter()),
    }).then(({ status }) => status)

  it('gives nothing to who has not signed in', async () => {
    for (const path of ['/api/projects', '/api/projects/lamplighter', '/api/assets/x', '/api/bin', '/api/nothing'])
      expect((await fetch(app.base + path)).status).toBe(401)
    expect(await save({})).toBe(401)
    expect(await projects({ Cookie: `calm-hand-session=${newToken()}` })).toBe(401)
    expect(await projects({ Authorization: `Bearer ${newToken()}` })).toBe(401)
    expect(await (await fetch(`${app.base}/api/session`)).json()).toEqual({ guarded: true, level: null })
  })

  it('lets in with the passphrase, by a cookie that pages cannot read', async () => {
    const answer = await signIn('a quiet harbour')
    expect(answer.status).toBe(200)
    expect(answer.headers.get('set-cookie')).toMatch(/HttpOnly/i)
    expect(answer.headers.get('set-cookie')).toMatch(/SameSite=Strict/i)
    expect(answer.headers.get('set-cookie')).not.toMatch(/Secure/i) // plain HTTP here
    const Cookie = cookieOf(answer)
    expect(await projects({ Cookie })).toBe(200)
    expect(await save({ Cookie })).toBe(200)
    // what is kept is no key
    const [kept] = await query(app.url, 'select hash from session')
    expect(Cookie).not.toContain(kept!.hash as string)
  })

  it('marks the cookie as secure behind HTTPS', async () => {
    const answer = await signIn('a quiet harbour', { 'X-Forwarded-Proto': 'https', 'X-Forwarded-For': '10.9.9.9' })
    expect(answer.headers.get('set-cookie')).toMatch(/Secure/i)
  })

  it('lets the reader look and change nothing', async () => {
    const Cookie = cookieOf(await signIn('only looking on'))
    expect(await projects({ Cookie })).toBe(200)
    expect(await save({ Cookie })).toBe(403)
    expect((await fetch(`${app.base}/api/session/all`, { method: 'DELETE', headers: { Cookie } })).status).toBe(401)
  })

  it.each([['not it at all'], [''], [undefined], [{ a: 1 }], ['x'.repeat(2000)]])('refuses %j', async (passphrase) => {
    expect([400, 401]).toContain((await signIn(passphrase)).status)
  })

  it('lets nobody try for ever', async () => {
    const from = { 'X-Forwarded-For': '10.1.1.1' }
    const answers = []
    for (let i = 0; i < 12; i++) answers.push((await signIn(`try number ${i}`, from)).status)
    expect(answers.slice(0, 10).every((status) => status === 401)).toBe(true)
    expect(answers.slice(10)).toEqual([429, 429])
    expect((await signIn('a quiet harbour', from)).status).toBe(429)
    expect((await signIn('a quiet harbour')).status).toBe(200) // others are not shut out
  })

  it('signs out here, and everywhere', async () => {
    const [one, two] = [cookieOf(await signIn('a quiet harbour')), cookieOf(await signIn('a quiet harbour'))]
    await fetch(`${app.base}/api/session`, { method: 'DELETE', headers: { Cookie: one } })
    expect([await projects({ Cookie: one }), await projects({ Cookie: two })]).toEqual([401, 200])
    const three = cookieOf(await signIn('only looking on'))
    await fetch(`${app.base}/api/session/all`, { method: 'DELETE', headers: { Cookie: two } })
    expect([await projects({ Cookie: two }), await projects({ Cookie: three })]).toEqual([401, 401])
  })

  it('takes tokens of scripts until they end', async () => {
    const token = newToken()
    const add = (expiresAt: Date) => app.store.addSession({ hash: tokenHash(token), level: 'read', label: 'nightly', expiresAt })
    const headers = { Authorization: `Bearer ${token}` }
    await add(new Date(Date.now() + 60_000))
    expect(await projects(headers)).toBe(200)
    expect(await save(headers)).toBe(403)
    await app.store.dropSessions({ tokens: false }) // signing out everywhere ends no script
    expect(await projects(headers)).toBe(200)
    expect(await app.store.tokens()).toMatchObject([{ label: 'nightly', level: 'read' }])
    expect(await app.store.dropToken('nightly')).toBe(true)
    expect(await projects(headers)).toBe(401)
    await add(new Date(Date.now() - 1))
    expect(await projects(headers)).toBe(401)
  })

  it('ends the sessions of a passphrase that is changed', async () => {
    const Cookie = cookieOf(await signIn('only looking on'))
    await app.store.setPassphrase('read', await slowHash('looking from afar'))
    expect(await projects({ Cookie })).toBe(401)
    expect((await signIn('only looking on')).status).toBe(401)
    expect((await signIn('looking from afar')).status).toBe(200)
  })
})
