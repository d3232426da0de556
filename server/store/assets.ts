import { eq } from 'drizzle-orm'
import type { Database } from './connection'
import { asset } from './schema'

/** Meshes by the hash of their content. */
export function assetStore(db: Database) {
  return {
    /** Keeps a mesh; one that is already here stays. */
    async keepAsset(hash: string, name: string, content: Uint8Array): Promise<void> {
      await db.insert(asset).values({ hash, name, content }).onConflictDoNothing()
    },

    async findAsset(hash: string): Promise<Uint8Array | undefined> {
      return (await db.select({ content: asset.content }).from(asset).where(eq(asset.hash, hash)))[0]?.content
    },
  }
}
