import { drizzle } from 'drizzle-orm/node-postgres'
import type { NodePgDatabase } from 'drizzle-orm/node-postgres'
import pg from 'pg'
import type { ClientConfig } from 'pg'

/** Where the database is: asked again for each connection, since it may come back on another port. */
export type Address = () => string

/** Connections to the database; more wait for one of these. */
const mostConnections = 8
/** A connection that is not made by then fails; a query that is not answered by then too. */
const connectMs = 8_000
const queryMs = 30_000

export type Database = NodePgDatabase<Record<string, never>>

export interface Connected {
  readonly db: Database
  /** All of it or nothing. A connection that breaks on the way goes out of the pool, wherever it breaks. */
  readonly transaction: <Value>(work: (tx: Database) => Promise<Value>) => Promise<Value>
}

/** A pool of connections that outlives its database: what breaks is replaced at the next query. */
export function connect(address: Address): Connected & { readonly close: () => Promise<void> } {
  class Addressed extends pg.Client {
    constructor(config?: string | ClientConfig) {
      super({ ...(typeof config === 'object' ? config : {}), connectionString: found(address) })
    }
  }
  const pool = new pg.Pool({
    Client: Addressed as never,
    max: mostConnections,
    connectionTimeoutMillis: connectMs,
    query_timeout: queryMs,
    keepAlive: true,
  })
  pool.on('error', () => undefined)
  // a client that is lost while a transaction holds it tells by an event: without a listener it would end the process
  pool.on('connect', (client) => client.on('error', () => undefined))
  const settings = { casing: 'snake_case' } as const
  return {
    db: drizzle(pool, settings),
    // not the library's own, which keeps a connection for ever that is lost at its `begin`
    transaction: async (work) => {
      const client = await pool.connect()
      let broken: Error | undefined
      try {
        await client.query('begin')
        const value = await work(drizzle(client, settings))
        await client.query('commit')
        return value
      } catch (error) {
        await client.query('rollback').catch((found: Error) => (broken = found))
        throw error
      } finally {
        client.release(broken)
      }
    },
    close: () => pool.end(),
  }
}

/** An address that cannot be told is a database that is away. */
function found(address: Address): string {
  try {
    return address()
  } catch (error) {
    throw Object.assign(new Error('The address of the database is not known.', { cause: error }), { code: 'ECONNREFUSED' })
  }
}
