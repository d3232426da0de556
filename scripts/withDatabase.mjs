// For commands about what is kept: the database that the app uses, whether the app runs or not.
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { startDatabase } from './database.mjs'
import { claimHouse, privateFolder, stopWith } from './prepare.mjs'

/** Runs `work` with the settings that lead to the database; one that this started is ended afterwards, no other. */
export async function withDatabase(work) {
  if (process.env.DATABASE_URL !== undefined) return work({ DATABASE_URL: process.env.DATABASE_URL })
  if (await claimHouse()) {
    const database = await startDatabase()
    process.once('exit', database.stop) // however the command ends
    return work({ DATABASE_FILE: database.addressFile })
  }
  const file = join(privateFolder, 'cluster.address')
  if (!existsSync(file))
    stopWith('Calm Hand is just starting for the first time. Wait until it prints its address, then type the same again.')
  return work({ DATABASE_FILE: file })
}

/** The address itself, for programs that take no file. */
export function addressIn({ DATABASE_URL, DATABASE_FILE }) {
  return DATABASE_URL ?? readFileSync(DATABASE_FILE, 'utf8').trim()
}
