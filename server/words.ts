import { NewerSchema } from './store/migrate'
import { databaseTrouble } from './store/trouble'

/** What keeps the server from starting, in one sentence with its remedy; nothing where it is a mistake of ours. */
export function startTrouble(error: unknown): { readonly words: string; readonly passes: boolean } | undefined {
  const lasting = (words: string) => ({ words, passes: false })
  const { code, cause, address, port } = error as { code?: string; cause?: unknown; address?: string; port?: number }
  if (error instanceof NewerSchema)
    return lasting(
      'The database was written by a newer edition of Calm Hand and is left as it is. Start that edition, or restore a backup into another database.',
    )
  switch (code) {
    case 'EADDRINUSE':
      return lasting(`The port ${port} is taken by another program. Choose another: PORT=${(port ?? 4180) + 1} npm start`)
    case 'EADDRNOTAVAIL':
      return lasting(`HOST is ${address}, which is no address of this machine. Leave HOST out, or give one of its addresses.`)
    case 'EACCES':
      return lasting(`The port ${port} may not be used by this user. Choose one above 1023: PORT=4180 npm start`)
    case '28P01':
    case '28000':
      return lasting('The database refuses this user or password. Correct them in DATABASE_URL.')
    case '3D000':
      return lasting('The database that DATABASE_URL names is not there. Make it first: createdb calm_hand')
    case '42501':
      return lasting('The user in DATABASE_URL may not make tables in its database. Give it that right, or make it the owner.')
    case 'ENOTFOUND':
      return lasting('The machine that DATABASE_URL names is not known here. Correct its name.')
  }
  if (cause !== undefined && cause !== error) return startTrouble(cause)
  switch (databaseTrouble(error)) {
    case 'full':
      return lasting('The disk of the database is full. Make room on it, then start again; nothing was changed.')
    case 'away':
      return {
        words: 'The database does not answer yet. Start it, or correct DATABASE_URL; this server waits for it.',
        passes: true,
      }
  }
  return undefined
}
