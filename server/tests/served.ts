import { randomUUID } from 'node:crypto'
import { createServer } from 'node:http'
import { gzipSync } from 'node:zlib'
import pg from 'pg'
import { recordPieceBytes as pieceBytes } from '@calm-hand/core/document'
import { serverBuild } from '../../scripts/serverBuild.mjs'
import { createApp } from '../app'
import { configFrom } from '../config'
import { openStore } from '../store/store'
import type { Store } from '../store/store'
import { startReaders } from '../workers/pools'

export const databaseUrl = process.env.TEST_DATABASE_URL

/** A database of its own on the tests' cluster, so that files do not meet. */
export async function freshDatabase(): Promise<string> {
  const name = `test_${randomUUID().replaceAll('-', '')}`
  await query(databaseUrl!, `create database ${name}`)
  const url = new URL(databaseUrl!)
  url.pathname = `/${name}`
  return url.href
}

/** Rows of a statement that no function of the store says. */
export async function query(url: string, text: string, values: unknown[] = []): Promise<Record<string, unknown>[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    return (await client.query<Record<string, unknown>>(text, values)).rows
  } finally {
    await client.end()
  }
}

export interface ServedApp {
  readonly url: string
  readonly base: string
  readonly store: Store
  readonly close: () => Promise<void>
}

/** The app on a free port over a fresh database. */
export async function serveApp(environment: Record<string, string> = {}, address?: string): Promise<ServedApp> {
  const url = address ?? (await freshDatabase())
  const store = openStore(url)
  if (address === undefined) await store.migrate()
  const readers = startReaders(undefined, await serverBuild())
  const config = configFrom({ DATABASE_URL: url, LOG_LEVEL: 'silent', ...environment })
  const server = createServer(createApp(config, store, readers))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    ...{ url, store },
    base: `http://127.0.0.1:${(server.address() as { port: number }).port}`,
    close: async () => {
      server.close()
      server.closeAllConnections()
      await Promise.all([store.close(), readers.close()])
    },
  }
}

export interface Told {
  readonly problems: readonly { readonly where: string; readonly what: string; readonly remedy: string }[]
}

/** A save as the page sends it. */
export function saveBody(revision: number, document: unknown, more: object = {}): string {
  return JSON.stringify({ revision, label: 'Edit', save: randomUUID(), follows: [], document, ...more })
}

export const asJson = { 'Content-Type': 'application/json' }

/** Sends a record in pieces, as the page does; the last answer. */
export async function sendRecord(base: string, project: string, hash: string, packed: Uint8Array): Promise<Response> {
  let answer: Response | undefined
  for (let number = 0; number * pieceBytes < packed.length; number++) {
    answer = await sendPiece(base, project, hash, number, packed.subarray(number * pieceBytes, (number + 1) * pieceBytes))
    if (!answer.ok) return answer
  }
  return answer!
}

export function sendPiece(base: string, project: string, hash: string, number: number, piece: Uint8Array): Promise<Response> {
  return fetch(`${base}/api/projects/${project}/runs/${hash}/pieces/${number}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: gzipSync(piece),
  })
}
