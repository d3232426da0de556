import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { Mesh } from '../machine'
import { isGlb, parseGltf } from './gltf'

/** More triangles than this are refused: nothing could draw them fluently, and no mass needs them. */
const mostTriangles = 2_000_000

/** Reads a mesh by its content: STL of either sort, OBJ, or glTF. */
export function parseMesh(name: string, bytes: Uint8Array): Outcome<Mesh> {
  if (isGlb(bytes) || /\.gltf$/i.test(name)) return parseGltf(bytes)
  if (/\.obj$/i.test(name)) return parseObj(letters(bytes))
  return isBinaryStl(bytes) ? parseBinaryStl(bytes) : parseTextStl(letters(bytes))
}

/** Numbers and keywords are ASCII; names in other letters do not matter. */
function letters(bytes: Uint8Array): string {
  let text = ''
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192))
  return text
}

/** 80 bytes of anything, a count, and 50 bytes a triangle: a file of just that length is binary, whatever its first word. */
function isBinaryStl(bytes: Uint8Array): boolean {
  if (bytes.length < 84) return false
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true)
  return bytes.length === 84 + 50 * count
}

function parseBinaryStl(bytes: Uint8Array): Outcome<Mesh> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = view.getUint32(80, true)
  if (count > mostTriangles) return tooMany(count)
  const vertices = new Float64Array(9 * count)
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 9; k++) vertices[9 * t + k] = view.getFloat32(84 + 50 * t + 12 + 4 * k, true)
  return faces(vertices)
}

function parseTextStl(text: string): Outcome<Mesh> {
  if (!/^\s*solid\b/.test(text))
    return refusedFor(
      'mesh',
      'This is neither a text nor a binary STL file: its length does not fit its count.',
      'Export the mesh again as STL or OBJ.',
    )
  const numbers: number[] = []
  for (const [, x, y, z] of text.matchAll(/\bvertex\s+(\S+)\s+(\S+)\s+(\S+)/g)) numbers.push(Number(x), Number(y), Number(z))
  if (numbers.length > 9 * mostTriangles) return tooMany(numbers.length / 9)
  if (numbers.length === 0 || numbers.length % 9 !== 0)
    return refusedFor(
      'mesh',
      `The file has ${numbers.length / 3} vertices, which make no whole triangles.`,
      'Export the mesh again; the file may have been cut off.',
    )
  return faces(Float64Array.from(numbers))
}

/** Wavefront OBJ: v and f lines; faces of more corners are cut into fans, negative numbers count from the end. */
function parseObj(text: string): Outcome<Mesh> {
  const vertices: number[] = []
  const triangles: number[] = []
  const lines = text.split(/\r?\n/)
  for (let i = 0; i < lines.length; i++) {
    const [word, ...rest] = lines[i]!.trim().split(/\s+/)
    if (word === 'v') vertices.push(...rest.slice(0, 3).map(Number))
    if (word !== 'f') continue
    const corners = rest.map((one) => {
      const index = Number.parseInt(one, 10)
      return index < 0 ? vertices.length / 3 + index : index - 1
    })
    if (corners.some((corner) => !(corner >= 0 && corner < vertices.length / 3)))
      return refusedFor('mesh', `Line ${i + 1} names a vertex that is not there.`, 'Export the mesh again.')
    for (let k = 2; k < corners.length; k++) triangles.push(corners[0]!, corners[k - 1]!, corners[k]!)
    if (triangles.length > 3 * mostTriangles) return tooMany(triangles.length / 3)
  }
  if (triangles.length === 0) return refusedFor('mesh', 'The file has no faces.', 'Export the mesh again as a surface.')
  if (!vertices.every(Number.isFinite)) return notFinite()
  return done({ vertices: Float64Array.from(vertices), triangles: Uint32Array.from(triangles) })
}

function faces(vertices: Float64Array): Outcome<Mesh> {
  if (!vertices.every(Number.isFinite)) return notFinite()
  return done({ vertices, triangles: Uint32Array.from({ length: vertices.length / 3 }, (_, i) => i) })
}

function notFinite(): Outcome<Mesh> {
  return refusedFor('mesh', 'A coordinate of the mesh is not a finite number.', 'Export the mesh again.')
}

function tooMany(count: number): Outcome<Mesh> {
  return refusedFor(
    'mesh',
    `The mesh has ${Math.round(count)} triangles; at most ${mostTriangles} are read.`,
    'Export a coarser one.',
  )
}
