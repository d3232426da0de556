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

/**
 * A content hash: 128 bits as 32 hexadecimal digits, from four passes of FNV-1a with different starts
 * (Fowler, Noll and Vo; constants of the 32-bit variant, from memory). For recognising equal content, not for security.
 */
export function contentHash(value: unknown): string {
  const text = canonicalText(value)
  const parts = [0x811c9dc5, 0x9e3779b9, 0x85ebca6b, 0xc2b2ae35].map((start) => {
    let hash = start
    for (let i = 0; i < text.length; i++) {
      hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
      hash ^= hash >>> 15
    }
    return (hash >>> 0).toString(16).padStart(8, '0')
  })
  return parts.join('')
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
