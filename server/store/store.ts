import { sql } from 'drizzle-orm'
import { accessStore } from './access'
import { assetStore } from './assets'
import { connect } from './connection'
import type { Address } from './connection'
import { migrateDatabase } from './migrate'
import { projectStore } from './projects'
import { runStore } from './runs'
import { sizesOf } from './sizes'

export type Store = ReturnType<typeof openStore>

/** States of old that are packed in one round of housekeeping. */
const packedARound = 200

/** All that is kept, behind named functions. Throws what the driver throws when the database does not answer. */
export function openStore(address: Address | string) {
  const { close, ...connected } = connect(typeof address === 'string' ? () => address : address)
  const { db } = connected
  const projects = projectStore(connected)
  const runs = runStore(connected)
  return {
    close,
    migrate: () => migrateDatabase(db),
    sizes: () => sizesOf(db),
    async answers(): Promise<void> {
      await db.execute(sql`select 1`)
    },
    ...projects,
    ...runs,
    ...assetStore(db),
    ...accessStore(connected),

    /** What is to be done now and then so that nothing grows without end; see `docs/running.md` for the rules. */
    async keepHouse(): Promise<void> {
      while ((await projects.packOldRevisions(packedARound)) === packedARound);
      await projects.thinHistory()
      await projects.emptyOldBin()
      await runs.dropUnfinished()
    },
  }
}
