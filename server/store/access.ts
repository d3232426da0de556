import { and, eq, gt, isNotNull, isNull, lt } from 'drizzle-orm'
import type { Connected } from './connection'
import { passphrase, session } from './schema'
import type { Level } from './schema'

/** Passphrases, sessions and tokens: only hashes of them. */
export function accessStore({ db, transaction }: Connected) {
  return {
    async passphrases(): Promise<{ level: Level; hash: string }[]> {
      return db.select({ level: passphrase.level, hash: passphrase.hash }).from(passphrase)
    },

    /** Sets the passphrase of a level, and ends the sessions that the old one opened. */
    async setPassphrase(level: Level, hash: string): Promise<void> {
      await transaction(async (tx) => {
        const setAt = new Date()
        await tx
          .insert(passphrase)
          .values({ level, hash, setAt })
          .onConflictDoUpdate({ target: passphrase.level, set: { hash, setAt } })
        await tx.delete(session).where(and(eq(session.level, level), isNull(session.label)))
      })
    },

    async dropPassphrase(level: Level): Promise<void> {
      await db.delete(passphrase).where(eq(passphrase.level, level))
      await db.delete(session).where(eq(session.level, level))
    },

    async addSession(one: { hash: string; level: Level; label: string | null; expiresAt: Date }): Promise<void> {
      await db.delete(session).where(lt(session.expiresAt, new Date()))
      await db.insert(session).values(one)
    },

    async findSession(hash: string): Promise<Level | undefined> {
      const [found] = await db
        .select({ level: session.level })
        .from(session)
        .where(and(eq(session.hash, hash), gt(session.expiresAt, new Date())))
      return found?.level
    },

    async dropSession(hash: string): Promise<void> {
      await db.delete(session).where(eq(session.hash, hash))
    },

    /** Signs everybody out; tokens go too where `tokens` says so. */
    async dropSessions({ tokens }: { readonly tokens: boolean }): Promise<void> {
      await db.delete(session).where(tokens ? undefined : isNull(session.label))
    },

    async tokens(): Promise<{ label: string; level: Level; expiresAt: Date }[]> {
      const found = await db.select().from(session).where(isNotNull(session.label))
      return found.map(({ label, level, expiresAt }) => ({ label: label!, level, expiresAt }))
    },

    async dropToken(label: string): Promise<boolean> {
      return (await db.delete(session).where(eq(session.label, label)).returning({ hash: session.hash })).length > 0
    },
  }
}
