import { fork, spawn } from 'node:child_process'
import type { ChildProcess } from 'node:child_process'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { demoNames, lamplighter } from '../core/tests/demo'
import { serverBuild } from '../scripts/serverBuild.mjs'
import { asJson, databaseUrl, freshDatabase, query, saveBody } from './tests/served'

const root = join(import.meta.dirname, '..')
const built = await serverBuild()

interface Ended {
  readonly code: number | null
  readonly said: string
}

/** Starts the server as a process; `listening` gives its port, `ended` what it said once it is over. */
function startServer(settings: Record<string, string>): {
  child: ChildProcess
  listening: Promise<number>
  ended: Promise<Ended>
} {
  const child = fork(join(built, 'main.mjs'), [], {
    cwd: root,
    execArgv: [],
    silent: true,
    env: { PATH: process.env.PATH, LOG_LEVEL: 'fatal', PORT: '0', ...settings },
  })
  let said = ''
  for (const stream of [child.stdout!, child.stderr!]) stream.on('data', (part: Buffer) => (said += part.toString()))
  return {
    child,
    listening: new Promise((resolve) => child.on('message', ({ listening }: { listening: number }) => resolve(listening))),
    ended: new Promise((resolve) => child.on('close', (code) => resolve({ code, said }))),
  }
}

/** One sentence or a few, and no stack. */
function isPlain(said: string): boolean {
  return !/\n\s+at /.test(said) && said.trim().length > 20 && said.length < 600
}

describe('a start that cannot be', () => {
  it.each<[string, Record<string, string>, RegExp]>([
    ['without a database', {}, /DATABASE_URL is not set/],
    ['with an address that is none', { DATABASE_URL: 'here' }, /no address of a PostgreSQL server/],
    ['with a port that is none', { DATABASE_URL: 'postgres://a@b/c', PORT: 'x' }, /PORT is "x"/],
    ['on an address of another machine', { DATABASE_URL: 'postgres://a@127.0.0.1:1/c', HOST: '192.0.2.1' }, /HOST is 192.0.2.1/],
  ])('%s ends with one sentence', async (_what, settings, words) => {
    const { code, said } = await startServer(settings).ended
    expect(said).toMatch(words)
    expect(isPlain(said)).toBe(true)
    expect(code).toBe(1)
  })

  it('on a taken port names another', async () => {
    const taken = createServer()
    await new Promise<void>((resolve) => taken.listen(0, '127.0.0.1', resolve))
    const { port } = taken.address() as { port: number }
    const { code, said } = await startServer({ DATABASE_URL: 'postgres://a@127.0.0.1:1/c', PORT: String(port) }).ended
    taken.close()
    expect(said).toContain(`The port ${port} is taken`)
    expect(isPlain(said)).toBe(true)
    expect(code).toBe(1)
  })
})

describe.skipIf(databaseUrl === undefined)('a server as a process', () => {
  it('waits for a database that does not answer, says so, and answers "not now" meanwhile', async () => {
    const port = await new Promise<number>((resolve) => {
      const probe = createServer().listen(0, '127.0.0.1', () => {
        const { port: free } = probe.address() as { port: number }
        probe.close(() => resolve(free))
      })
    })
    const server = startServer({ DATABASE_URL: 'postgres://a@127.0.0.1:1/c', PORT: String(port) })
    const said = await new Promise<string>((resolve) =>
      server.child.stderr!.once('data', (part: Buffer) => resolve(part.toString())),
    )
    expect(said).toMatch(/does not answer yet.*DATABASE_URL/)
    const answer = await fetch(`http://127.0.0.1:${port}/api/projects`)
    expect([answer.status, Number(answer.headers.get('retry-after')) > 0]).toEqual([503, true])
    server.child.kill('SIGTERM')
    expect((await server.ended).code).toBe(0)
  })

  it('goes on when its database drops every connection in the middle of the work', async () => {
    const url = await freshDatabase()
    const server = startServer({ DATABASE_URL: url })
    const port = await server.listening
    const ask = () => fetch(`http://127.0.0.1:${port}/api/projects`).then(({ status }) => status)
    let revision = 1
    const save = () =>
      fetch(`http://127.0.0.1:${port}/api/projects/lamplighter`, {
        ...{ method: 'PUT', headers: asJson, body: saveBody(revision, lamplighter()) },
      }).then(({ status }) => status)
    /** Asked again where even that connection was one of the lost. */
    const present = async (): Promise<number> => {
      const answer = await fetch(`http://127.0.0.1:${port}/api/projects/lamplighter`)
      return answer.ok ? ((await answer.json()) as { revision: number }).revision : present()
    }
    // more often than there are connections: one that is lost for each would be the end of it
    for (let round = 0; round < 12; round++) {
      const asked = Promise.all([...Array.from({ length: 10 }, ask), ...Array.from({ length: 10 }, save)])
      await query(
        url,
        `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`,
      )
      for (const status of await asked) expect([200, 409, 503]).toContain(status)
      revision = await present()
    }
    expect(await ask()).toBe(200)
    server.child.kill('SIGTERM')
    expect((await server.ended).code).toBe(0)
  })

  it('ends within 5 s when it is told to, with what was acknowledged kept', async () => {
    const url = await freshDatabase()
    const server = startServer({ DATABASE_URL: url })
    const port = await server.listening
    const idle = fetch(`http://127.0.0.1:${port}/api/health`) // a connection that stays open
    await idle
    const body = JSON.stringify({ name: 'Kept' })
    const named = await fetch(`http://127.0.0.1:${port}/api/projects/lamplighter/revisions/1`, {
      ...{ method: 'PATCH', body, headers: { 'Content-Type': 'application/json' } },
    })
    expect(named.status).toBe(204)
    // a request that never ends does not hold it up
    const slow = spawn('node', [
      '-e',
      `require('net').connect(${port}, '127.0.0.1').write('PUT /api/projects/x HTTP/1.1\\r\\nHost: 127.0.0.1\\r\\nContent-Length: 99\\r\\n\\r\\n')`,
    ])
    await new Promise((resolve) => setTimeout(resolve, 300))
    const began = performance.now()
    server.child.kill('SIGTERM')
    const { code } = await server.ended
    slow.kill()
    expect(code).toBe(0)
    expect(performance.now() - began).toBeLessThan(60_000) // 5 s, with a very slow machine in mind
    expect(await query(url, `select name from revision where project_id = 'lamplighter'`)).toEqual([{ name: 'Kept' }])
  })

  it('makes a passphrase where others may come, prints it once, and lets in with it', async () => {
    const url = await freshDatabase()
    const first = startServer({ DATABASE_URL: url, SIGN_IN: 'on' })
    const port = await first.listening
    const base = `http://127.0.0.1:${port}`
    expect((await fetch(`${base}/api/projects`)).status).toBe(401)
    first.child.kill('SIGTERM')
    const { said } = await first.ended
    const passphrase = /\n\s{4}(\S+)\n/.exec(said)![1]!
    const second = startServer({ DATABASE_URL: url, SIGN_IN: 'on' })
    const again = `http://127.0.0.1:${await second.listening}`
    const answer = await fetch(`${again}/api/session`, {
      ...{ method: 'POST', body: JSON.stringify({ passphrase }), headers: { 'Content-Type': 'application/json' } },
    })
    expect(answer.status).toBe(200)
    second.child.kill('SIGTERM')
    expect((await second.ended).said).not.toContain(passphrase)
  })
})

describe.skipIf(databaseUrl === undefined)('commands about what is kept', () => {
  const manage = (url: string, ...words: string[]) =>
    new Promise<Ended>((resolve) => {
      const child = spawn('node', [join(built, 'manage.mjs'), ...words], {
        cwd: root,
        env: { PATH: process.env.PATH, DATABASE_URL: url },
      })
      let said = ''
      for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => (said += part.toString()))
      child.on('close', (code) => resolve({ code, said }))
    })

  it('put the demo back, tell sizes, make tokens, and explain themselves', async () => {
    const url = await freshDatabase()
    expect((await manage(url, 'reset-demo')).said).toMatch(/first state: \d+ projects.*nothing else was touched/)
    expect((await manage(url, 'storage')).said).toMatch(/lamplighter\s+[\d.]+ kB\s+1\s/)
    expect((await manage(url, 'token', 'nightly', 'read')).said).toMatch(/The token nightly for reading only/)
    expect((await manage(url, 'tokens')).said).toMatch(/nightly {2}read {2}until/)
    expect((await manage(url, 'passphrase', 'full', 'short')).code).toBe(1)
    const unknown = await manage(url, 'nonsense')
    expect([unknown.code, unknown.said]).toEqual([1, expect.stringContaining('npm run access -- COMMAND')])
    expect((await manage('nowhere', 'storage')).said).toMatch(/no address of a PostgreSQL server/)
  })

  it('write a backup and bring it back, or change nothing', async () => {
    const [from, to] = [await freshDatabase(), await freshDatabase()]
    await manage(from, 'reset-demo')
    await query(from, `update revision set name = 'As flown' where project_id = 'derrick'`)
    const file = `/tmp/calm-hand-${process.pid}.backup`
    const backup = (url: string, action: string, path: string) =>
      new Promise<Ended>((resolve) => {
        const child = spawn('node', [join(root, 'scripts/backup.mjs'), action, path], {
          cwd: root,
          env: { ...process.env, DATABASE_URL: url },
        })
        let said = ''
        for (const stream of [child.stdout, child.stderr]) stream.on('data', (part: Buffer) => (said += part.toString()))
        child.on('close', (code) => resolve({ code, said }))
      })
    expect((await backup(from, 'backup', file)).said).toMatch(/Everything is in/)
    expect((await backup(to, 'restore', file)).said).toMatch(/is back/)
    expect(await query(to, `select name from revision where project_id = 'derrick'`)).toEqual([{ name: 'As flown' }])
    // what is no backup is refused before anything is touched
    const wrong = await backup(to, 'restore', join(root, 'package.json'))
    expect([wrong.code, wrong.said]).toEqual([1, expect.stringMatching(/is no backup of Calm Hand/)])
    expect(await query(to, 'select count(*)::int as count from project')).toEqual([{ count: demoNames.length }])
    expect((await backup(to, 'restore', '/nowhere')).said).toMatch(/There is no file/)
  })
})
