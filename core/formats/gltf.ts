import { strFromU8 } from 'fflate'
import Joi from 'joi'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { Mesh } from '../machine'
import { mostTriangles } from './meshLimits'

/** Limits of what is read: a part of a machine has far less. */
const mostVertices = 3 * mostTriangles
const mostPrimitives = 50_000
const mostJsonBytes = 20_000_000
const mostNodes = 10_000
const mostDepth = 100

const magic = 0x46546c67 // 'glTF'
const jsonChunk = 0x4e4f534a
const binaryChunk = 0x004e4942

interface Node {
  readonly mesh?: number
  readonly children?: readonly number[]
  readonly matrix?: readonly number[]
  readonly translation?: readonly number[]
  readonly rotation?: readonly number[]
  readonly scale?: readonly number[]
}

interface Accessor {
  readonly bufferView?: number
  readonly byteOffset?: number
  readonly componentType: number
  readonly count: number
  readonly type: string
}

interface Scene {
  readonly scene?: number
  readonly scenes?: readonly { readonly nodes?: readonly number[] }[]
  readonly nodes?: readonly Node[]
  readonly meshes?: readonly {
    readonly primitives: readonly {
      readonly mode?: number
      readonly indices?: number
      readonly attributes: { readonly POSITION?: number }
    }[]
  }[]
  readonly accessors?: readonly Accessor[]
  readonly bufferViews?: readonly {
    readonly buffer: number
    readonly byteOffset?: number
    readonly byteLength: number
    readonly byteStride?: number
  }[]
  readonly buffers?: readonly { readonly uri?: string; readonly byteLength: number }[]
}

const whole = Joi.number().integer().min(0)
const numbers = (count: number) => Joi.array().items(Joi.number()).length(count)
const schema = Joi.object({
  scene: whole,
  scenes: Joi.array().items(Joi.object({ nodes: Joi.array().items(whole) }).unknown(true)),
  nodes: Joi.array()
    .max(mostNodes)
    .items(
      Joi.object({
        mesh: whole,
        children: Joi.array().items(whole),
        matrix: numbers(16),
        translation: numbers(3),
        rotation: numbers(4),
        scale: numbers(3),
      }).unknown(true),
    ),
  meshes: Joi.array().items(
    Joi.object({
      primitives: Joi.array()
        .items(
          Joi.object({
            mode: whole,
            indices: whole,
            attributes: Joi.object({ POSITION: whole }).unknown(true).required(),
          }).unknown(true),
        )
        .required(),
    }).unknown(true),
  ),
  accessors: Joi.array().items(
    Joi.object({
      bufferView: whole,
      byteOffset: whole,
      componentType: whole.required(),
      count: whole.required(),
      type: Joi.string().required(),
    }).unknown(true),
  ),
  bufferViews: Joi.array().items(
    Joi.object({ buffer: whole.required(), byteOffset: whole, byteLength: whole.required(), byteStride: whole }).unknown(true),
  ),
  buffers: Joi.array().items(Joi.object({ uri: Joi.string(), byteLength: whole.required() }).unknown(true)),
}).unknown(true)

export function isGlb(bytes: Uint8Array): boolean {
  return bytes.length >= 12 && view(bytes).getUint32(0, true) === magic
}

/**
 * The triangles of a glTF 2.0 scene, binary or as text with its data inside (Khronos Group, glTF 2.0 Specification, 2021):
 * nodes with their transforms, turned from the file's y up to our z up. Other files are never read; points and lines are
 * left out.
 */
export function parseGltf(bytes: Uint8Array, onShare: (share: number) => void): Outcome<Mesh> {
  const parts = isGlb(bytes) ? chunksOf(bytes) : { json: bytes, binary: undefined }
  if (parts === undefined) return bad('The binary glTF file is cut off.')
  if (parts.json.length > mostJsonBytes && isGlb(bytes))
    return bad(`The description in the glTF file has more than ${mostJsonBytes / 1e6} MB.`)
  let value: unknown
  try {
    value = JSON.parse(strFromU8(parts.json))
  } catch {
    return bad('The description in the glTF file is no JSON.')
  }
  const checked = schema.validate(value, { convert: false })
  if (checked.error !== undefined)
    return bad(`The glTF file is not as it should be: ${checked.error.message.replaceAll('"', '`')}.`)
  try {
    return meshOf(checked.value as Scene, parts.binary, onShare)
  } catch (error) {
    if (error instanceof BadScene) return bad(error.message)
    throw error
  }
}

/** Found deep inside; the door turns it into a problem. */
class BadScene extends Error {}

/** One primitive where a node has it. */
interface Placed {
  readonly own: readonly number[]
  readonly position: number
  readonly indices: number | undefined
}

function meshOf(scene: Scene, binary: Uint8Array | undefined, onShare: (share: number) => void): Outcome<Mesh> {
  const buffers = (scene.buffers ?? []).map(({ uri }) => (uri === undefined ? binary : dataOf(uri)))
  const placed = placedPrimitives(scene)
  // what is to be made is known from the counts, and refused before anything is made
  let [pointCount, cornerCount] = [0, 0]
  let triangleCount = 0
  for (const { position, indices } of placed) {
    const points = at(scene.accessors, position, 'accessor').count
    pointCount += points
    if (pointCount > mostVertices) throw new BadScene(`The glTF file has more than ${mostVertices} vertices.`)
    const corners = indices === undefined ? points : at(scene.accessors, indices, 'accessor').count
    cornerCount += corners
    if (cornerCount > 3 * mostTriangles) throw new BadScene(`The glTF file has more than ${mostTriangles} triangles.`)
    triangleCount += Math.floor(corners / 3)
  }
  const values = new Map<string, Float64Array>()
  const read = (index: number, type: 'VEC3' | 'SCALAR') => {
    const found = values.get(`${type} ${index}`) ?? valuesAt(scene, buffers, index, type)
    values.set(`${type} ${index}`, found)
    return found
  }
  const vertices = new Float64Array(3 * pointCount)
  const triangles = new Uint32Array(3 * triangleCount)
  let [first, filled] = [0, 0]
  for (const [i, { own, position, indices }] of placed.entries()) {
    const points = read(position, 'VEC3')
    const count = points.length / 3
    for (let k = 0; k < count; k++) moveInto(vertices, 3 * (first + k), own, points, 3 * k)
    const corners = indices === undefined ? undefined : read(indices, 'SCALAR')
    const corner = (k: number) => (corners === undefined ? k : corners[k]!)
    const isMirrored = determinant(own) < 0
    for (let k = 0; k + 2 < (corners?.length ?? count); k += 3) {
      const [a, b, c] = [corner(k), corner(k + 1), corner(k + 2)]
      if (Math.max(a, b, c) >= count) throw new BadScene('A triangle of the glTF file names a vertex that is not there.')
      triangles[filled++] = first + a
      triangles[filled++] = first + (isMirrored ? c : b)
      triangles[filled++] = first + (isMirrored ? b : c)
    }
    first += count
    onShare((i + 1) / placed.length)
  }
  if (filled === 0) return bad('The glTF file has no triangles.')
  if (!vertices.every(Number.isFinite)) return bad('A coordinate of the mesh is not a finite number.')
  return done({ vertices, triangles })
}

/** The primitives made of triangles, in the order of the nodes that have them. */
function placedPrimitives(scene: Scene): Placed[] {
  const placed: Placed[] = []
  let visits = 0
  const visit = (index: number, above: readonly number[], depth: number): void => {
    const node = at(scene.nodes, index, 'node')
    visits++
    if (depth > mostDepth || visits > mostNodes)
      throw new BadScene('The nodes of the glTF file hang on one another in a circle, or are too many.')
    const own = times(above, matrixOf(node))
    if (node.mesh !== undefined)
      for (const { mode = 4, indices, attributes } of at(scene.meshes, node.mesh, 'mesh').primitives) {
        if (mode !== 4 || attributes.POSITION === undefined) continue
        if (placed.push({ own, position: attributes.POSITION, indices }) > mostPrimitives)
          throw new BadScene(`The glTF file has more than ${mostPrimitives} pieces.`)
      }
    for (const child of node.children ?? []) visit(child, own, depth + 1)
  }
  const roots =
    scene.scenes === undefined ? (scene.nodes ?? []).map((_, i) => i) : (at(scene.scenes, scene.scene ?? 0, 'scene').nodes ?? [])
  for (const root of roots) visit(root, upright, 0)
  return placed
}

function chunksOf(bytes: Uint8Array): { json: Uint8Array; binary: Uint8Array | undefined } | undefined {
  const data = view(bytes)
  let [json, binary]: (Uint8Array | undefined)[] = []
  for (let from = 12; from + 8 <= bytes.length;) {
    const [length, sort] = [data.getUint32(from, true), data.getUint32(from + 4, true)]
    if (from + 8 + length > bytes.length) return undefined
    const chunk = bytes.subarray(from + 8, from + 8 + length)
    if (sort === jsonChunk) json = chunk
    if (sort === binaryChunk) binary = chunk
    from += 8 + length
  }
  return json === undefined ? undefined : { json, binary }
}

/** Data inside the file; addresses of other files are not followed. */
function dataOf(uri: string): Uint8Array {
  const comma = uri.indexOf(',')
  if (!uri.startsWith('data:') || !uri.slice(0, Math.max(comma, 0)).endsWith(';base64'))
    throw new BadScene('The glTF file keeps its data in another file. Export it as one binary file (.glb).')
  const bytes = fromBase64(uri.slice(comma + 1))
  if (bytes === undefined) throw new BadScene('The data inside the glTF file cannot be read.')
  return bytes
}

const base64Letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'
const base64Values = Int8Array.from({ length: 128 }, (_, code) => base64Letters.indexOf(String.fromCharCode(code)))

/** RFC 4648, section 4; nothing where another letter stands. */
function fromBase64(text: string): Uint8Array | undefined {
  const letters = text.trimEnd().replace(/={1,2}$/, '')
  const bytes = new Uint8Array(Math.floor((letters.length * 3) / 4))
  let [bits, held, at] = [0, 0, 0]
  for (let i = 0; i < letters.length; i++) {
    const value = base64Values[letters.charCodeAt(i)] ?? -1
    if (value < 0) return undefined
    bits = ((bits << 6) | value) & 0xffffff
    held += 6
    if (held < 8) continue
    held -= 8
    bytes[at++] = (bits >> held) & 0xff
  }
  return bytes
}

const readers: Readonly<Record<number, { readonly size: number; readonly read: (data: DataView, at: number) => number }>> = {
  5121: { size: 1, read: (data, at) => data.getUint8(at) },
  5123: { size: 2, read: (data, at) => data.getUint16(at, true) },
  5125: { size: 4, read: (data, at) => data.getUint32(at, true) },
  5126: { size: 4, read: (data, at) => data.getFloat32(at, true) },
}

function valuesAt(
  scene: Scene,
  buffers: readonly (Uint8Array | undefined)[],
  index: number,
  type: 'VEC3' | 'SCALAR',
): Float64Array {
  const accessor = at(scene.accessors, index, 'accessor')
  const reader = readers[accessor.componentType]
  if (accessor.type !== type || reader === undefined || (type === 'VEC3' && accessor.componentType !== 5126))
    throw new BadScene('The glTF file stores its mesh in a way that is not read.')
  const place = at(scene.bufferViews, accessor.bufferView ?? -1, 'buffer view')
  const buffer = buffers[place.buffer]
  const width = type === 'VEC3' ? 3 : 1
  const stride = place.byteStride ?? width * reader.size
  // a stride below the size of an entry would make millions of entries of a few bytes
  if (stride < width * reader.size) throw new BadScene('Entries in the glTF file lie over one another.')
  const start = (place.byteOffset ?? 0) + (accessor.byteOffset ?? 0)
  const end = start + (accessor.count - 1) * stride + width * reader.size
  if (buffer === undefined || (accessor.count > 0 && end > buffer.length))
    throw new BadScene('The data of the glTF file is shorter than it says.')
  const data = view(buffer)
  const found = new Float64Array(accessor.count * width)
  for (let k = 0; k < accessor.count; k++)
    for (let j = 0; j < width; j++) found[k * width + j] = reader.read(data, start + k * stride + j * reader.size)
  return found
}

function at<Value>(list: readonly Value[] | undefined, index: number, what: string): Value {
  const found = list?.[index]
  if (found === undefined) throw new BadScene(`The glTF file names a ${what} that is not there.`)
  return found
}

/** Column-major, as the format has it. */
// x stays, y (up in the file) becomes z, z becomes -y
const upright: readonly number[] = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1]

function matrixOf({ matrix, translation = [0, 0, 0], rotation = [0, 0, 0, 1], scale = [1, 1, 1] }: Node): readonly number[] {
  if (matrix !== undefined) return matrix
  const [x, y, z, w] = rotation as [number, number, number, number]
  const [sx, sy, sz] = scale as [number, number, number]
  const rows = [
    [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
    [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
    [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
  ]
  const column = (k: number, size: number) => [rows[0]![k]! * size, rows[1]![k]! * size, rows[2]![k]! * size, 0]
  return [...column(0, sx), ...column(1, sy), ...column(2, sz), ...translation, 1]
}

function times(a: readonly number[], b: readonly number[]): number[] {
  return Array.from({ length: 16 }, (_, k) => {
    const [row, column] = [k % 4, Math.floor(k / 4)]
    return [0, 1, 2, 3].reduce((sum, i) => sum + a[row + 4 * i]! * b[i + 4 * column]!, 0)
  })
}

/** Writes a point of `points` into `vertices`, moved by `m`. */
function moveInto(vertices: Float64Array, to: number, m: readonly number[], points: Float64Array, from: number): void {
  const [x, y, z] = [points[from]!, points[from + 1]!, points[from + 2]!]
  for (let row = 0; row < 3; row++) vertices[to + row] = m[row]! * x + m[row + 4]! * y + m[row + 8]! * z + m[row + 12]!
}

function determinant(m: readonly number[]): number {
  const [a, b, c, d, e, f, g, h, i] = [m[0]!, m[4]!, m[8]!, m[1]!, m[5]!, m[9]!, m[2]!, m[6]!, m[10]!]
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g)
}

function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
}

function bad(what: string): Outcome<Mesh> {
  return refusedFor('mesh', what, 'Export the mesh again as one binary file (.glb), or as STL.')
}
