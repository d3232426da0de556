/** Sorts of trouble with the database that are not a mistake of ours. */
export type Trouble = 'away' | 'full' | 'refusedValue'

/**
 * What is wrong with the database, by the codes of Node and of PostgreSQL (its documentation, appendix A): classes 08
 * (connection), 57P (operator intervention), 53300 (too many connections), 53100 (disk full), 22 (data), 40 and 55 (to be tried again).
 */
export function databaseTrouble(error: unknown): Trouble | undefined {
  const { code, cause, message } = error as { code?: unknown; cause?: unknown; message?: unknown }
  if (typeof code === 'string') {
    if (/^(ECONNREFUSED|ECONNRESET|ENOTFOUND|EAI_AGAIN|ETIMEDOUT|EHOSTUNREACH|EPIPE|08|57P|53300|53400|40|55)/.test(code))
      return 'away'
    if (/^(53100|ENOSPC)/.test(code)) return 'full'
    if (code.startsWith('22')) return 'refusedValue'
  }
  if (cause !== undefined && cause !== error) return databaseTrouble(cause)
  // the driver's own ends of a connection carry no code
  const isDrivers = typeof message === 'string' && error instanceof Error && code === undefined
  if (
    isDrivers &&
    /^(Connection terminated|timeout exceeded when trying to connect|timeout expired|Query read timeout|Client has encountered a connection error|Client was closed)/i.test(
      message,
    )
  )
    return 'away'
  return undefined
}
