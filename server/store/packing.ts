import { gunzip, gzip } from 'node:zlib'
import { promisify } from 'node:util'

const [zip, unzip] = [promisify(gzip), promisify(gunzip)]

/** Compressed (RFC 1952), away from the main thread. */
export async function packed(text: string): Promise<Uint8Array> {
  return zip(text)
}

/** The text again; refused beyond `most` bytes, whatever the packed form says of itself. */
export async function unpackedText(content: Uint8Array, most: number): Promise<string> {
  return (await unzip(content, { maxOutputLength: most })).toString('utf8')
}

/** The bytes of a compressed piece, or nothing where it is damaged or longer than `most`. */
export async function unpackedBytes(content: Uint8Array, most: number): Promise<Uint8Array | undefined> {
  try {
    return await unzip(content, { maxOutputLength: most })
  } catch {
    return undefined
  }
}
