import { strFromU8 } from 'fflate'
import { done, mostMeshBytes, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { Mesh } from '../machine'
import { isGlb, parseGltf } from './gltf'
import { Growing } from './growing'
import { mostTriangles } from './meshLimits'

export interface MeshReading {
  /** Told now and then how much has been read, 0 to 1. */
  readonly onShare?: (share: number) => void
}

/** Reads a mesh by its content: STL of either sort, OBJ, or glTF. Time and memory grow with the file, and both are bounded. */
export function parseMesh(name: string, bytes: Uint8Array, { onShare = () => undefined }: MeshReading = {}): Outcome<Mesh> {
  if (bytes.length > mostMeshBytes) {
    const what = `The file has ${Math.round(bytes.length / 1e6)} MB; at most ${mostMeshBytes / 1e6} MB are read.`
    return refusedFor('mesh', what, 'Export a coarser one.')
  }
  if (isGlb(bytes) || /\.gltf$/i.test(name)) return parseGltf(bytes, onShare)
  // numbers and keywords are ASCII; names in other letters do not matter
  if (/\.obj$/i.test(name)) return parseObj(strFromU8(bytes, true), onShare)
  return isBinaryStl(bytes) ? parseBinaryStl(bytes, onShare) : parseTextStl(strFromU8(bytes, true), onShare)
}

/** 80 bytes of anything, a count, and 50 bytes a triangle: a file of just that length is binary, whatever its first word. */
function isBinaryStl(bytes: Uint8Array): boolean {
  if (bytes.length < 84) return false
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true)
  return bytes.length === 84 + 50 * count
}

type OnShare = (share: number) => void
/** Steps between two reports. */
const reportEvery = 1 << 16

function parseBinaryStl(bytes: Uint8Array, onShare: OnShare): Outcome<Mesh> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = view.getUint32(80, true)
  if (count > mostTriangles) return tooMany(count)
  const vertices = new Float64Array(9 * count)
  for (let t = 0; t < count; t++) {
    for (let k = 0; k < 9; k++) vertices[9 * t + k] = view.getFloat32(84 + 50 * t + 12 + 4 * k, true)
    if (t % reportEvery === 0) onShare(t / count)
  }
  return faces(vertices)
}

function parseTextStl(text: string, onShare: OnShare): Outcome<Mesh> {
  if (!/^\s{0,200}solid\b/.test(text))
    return refusedFor(
      'mesh',
      'This is neither a text nor a binary STL file: its length does not fit its count.',
      'Export the mesh again as STL or OBJ.',
    )
  const numbers = new Growing()
  const words = new Words(text, 0, text.length)
  for (let at = nextVertex(text, 0), step = 0; at >= 0; at = nextVertex(text, words.at)) {
    words.at = at + vertexWord.length
    for (let k = 0; k < 3; k++) numbers.push(words.number())
    if (numbers.length > 9 * mostTriangles) return tooMany(numbers.length / 9)
    if (++step % reportEvery === 0) onShare(at / text.length)
  }
  if (numbers.length === 0 || numbers.length % 9 !== 0)
    return refusedFor(
      'mesh',
      `The file has ${numbers.length / 3} vertices, which make no whole triangles.`,
      'Export the mesh again; the file may have been cut off.',
    )
  return faces(numbers.values())
}

const vertexWord = 'vertex'

/** Where the word stands alone next, or -1. */
function nextVertex(text: string, from: number): number {
  for (let at = text.indexOf(vertexWord, from); at >= 0; at = text.indexOf(vertexWord, at + 1))
    if (isBlank(text.charCodeAt(at - 1)) && isBlank(text.charCodeAt(at + vertexWord.length))) return at
  return -1
}

/** Wavefront OBJ: v and f lines; faces of more corners are cut into fans, negative numbers count from the end. */
function parseObj(text: string, onShare: OnShare): Outcome<Mesh> {
  const vertices = new Growing()
  const triangles = new Growing()
  for (let start = 0, line = 1; start < text.length; line++) {
    const found = text.indexOf('\n', start)
    const end = found < 0 ? text.length : found
    const words = new Words(text, start, end)
    const word = words.next()
    if (word === 'v') for (let k = 0; k < 3; k++) vertices.push(words.number())
    if (vertices.length > 9 * mostTriangles) return tooMany(vertices.length / 9)
    if (word === 'f') {
      const count = vertices.length / 3
      const corner = () => {
        const given = words.next()
        if (given === '') return undefined
        const index = Number.parseInt(given, 10)
        return index < 0 ? count + index : index - 1
      }
      let [first, before]: (number | undefined)[] = []
      for (let one = corner(); one !== undefined; one = corner()) {
        if (!(one >= 0 && one < count))
          return refusedFor('mesh', `Line ${line} names a vertex that is not there.`, 'Export the mesh again.')
        if (first !== undefined && before !== undefined) for (const k of [first, before, one]) triangles.push(k)
        if (first === undefined) first = one
        else before = one
        if (triangles.length > 3 * mostTriangles) return tooMany(triangles.length / 3)
      }
    }
    start = end + 1
    if (line % reportEvery === 0) onShare(start / text.length)
  }
  if (triangles.length === 0) return refusedFor('mesh', 'The file has no faces.', 'Export the mesh again as a surface.')
  const corners = vertices.values()
  if (!corners.every(Number.isFinite)) return notFinite()
  return done({ vertices: corners, triangles: Uint32Array.from(triangles.values()) })
}

/** Words between blanks, one after the other, without a list of them. */
class Words {
  constructor(
    private readonly text: string,
    public at: number,
    private readonly end: number,
  ) {}

  /** The next word; '' at the end. */
  next(): string {
    const { text, end } = this
    while (this.at < end && isBlank(text.charCodeAt(this.at))) this.at++
    const start = this.at
    while (this.at < end && !isBlank(text.charCodeAt(this.at))) this.at++
    return text.slice(start, this.at)
  }

  /** The next word as a number; not a number where it is none. */
  number(): number {
    const word = this.next()
    return word === '' ? NaN : Number(word)
  }
}

function isBlank(code: number): boolean {
  return code <= 32 || Number.isNaN(code)
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
