import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'

/** JSON with keys in order, so that equal documents have equal text. */
export function canonicalText(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalText).join(',')}]`
  if (typeof value === 'object' && value !== null) {
    const entries = Object.entries(value).filter(([, item]) => item !== undefined)
    entries.sort(([a], [b]) => (a < b ? -1 : 1))
    return `{${entries.map(([key, item]) => `${JSON.stringify(key)}:${canonicalText(item)}`).join(',')}}`
  }
  return JSON.stringify(value) ?? 'null'
}

/** Bytes of a hash that are kept: enough to recognise equal content. */
const hashBytes = 16

/** A content hash: the first 128 bits of SHA-256 (FIPS 180-4) of the canonical text, as 32 hexadecimal digits. */
export function contentHash(value: unknown): string {
  return bytesToHex(sha256(utf8ToBytes(canonicalText(value))).subarray(0, hashBytes))
}

const hashes = new WeakMap<object, string>()

/** The content hash of a part that nobody changes in place: computed once. */
export function partHash(part: object): string {
  const known = hashes.get(part)
  if (known !== undefined) return known
  const hash = contentHash(part)
  hashes.set(part, hash)
  return hash
}
