import { createHash, randomBytes, randomInt, scrypt, timingSafeEqual } from 'node:crypto'
import { promisify } from 'node:util'

const derive = promisify<string, Buffer, number, { N: number; r: number; p: number; maxmem: number }, Buffer>(scrypt)

/** Cost of one try: about a tenth of a second (RFC 7914; its parameters are kept with each hash). */
const cost = { N: 32_768, r: 8, p: 1 }
const hashBytes = 32

/** A passphrase as it is kept: `scrypt$N$r$p$salt$hash`. */
export async function slowHash(passphrase: string): Promise<string> {
  const salt = randomBytes(16)
  const hash = await derived(passphrase, salt, cost)
  return ['scrypt', cost.N, cost.r, cost.p, salt.toString('base64'), hash.toString('base64')].join('$')
}

export async function isPassphrase(given: string, kept: string): Promise<boolean> {
  const [sort, n, r, p, salt, hash] = kept.split('$')
  if (sort !== 'scrypt' || hash === undefined) return false
  const expected = Buffer.from(hash, 'base64')
  const found = await derived(given, Buffer.from(salt ?? '', 'base64'), { N: Number(n), r: Number(r), p: Number(p) })
  return expected.length === found.length && timingSafeEqual(expected, found)
}

function derived(passphrase: string, salt: Buffer, { N, r, p }: typeof cost): Promise<Buffer> {
  return derive(passphrase.normalize('NFC'), salt, hashBytes, { N, r, p, maxmem: 256 * N * r })
}

/** What a session or token carries: 32 bytes that nobody can guess. */
export function newToken(): string {
  return randomBytes(32).toString('base64url')
}

/** How a token is kept: it is random, so a fast hash is enough. */
export function tokenHash(token: string): string {
  return createHash('sha256').update(token).digest('hex')
}

// letters and digits that cannot be taken for one another
const letters = 'abcdefghjkmnpqrstuvwxyz23456789'

/** Four groups of five: 99 bits. */
export function newPassphrase(): string {
  const group = () => Array.from({ length: 5 }, () => letters[randomInt(letters.length)]).join('')
  return [group(), group(), group(), group()].join('-')
}

/** Letters of a passphrase that a person chooses. */
export const leastPassphrase = 12
