/** A surface of triangles: three coordinates a vertex, three vertices a triangle. */
export interface Mesh {
  readonly vertices: Float64Array
  readonly triangles: Uint32Array
}

/** Equal corners as one, without triangles that have one twice. */
export function welded({ vertices, triangles }: Mesh): { readonly corners: Float64Array; readonly triangles: Uint32Array } {
  const count = vertices.length / 3
  let size = 2
  while (size < 2 * count + 2) size *= 2
  const table = new Int32Array(size).fill(-1)
  const bits = new Uint32Array(new Float64Array(vertices.map((value) => value + 0)).buffer) // no -0
  const corners = new Float64Array(vertices.length)
  const own = new Uint32Array(count)
  let kept = 0
  for (let v = 0; v < count; v++) {
    let hash = 0
    for (let k = 6 * v; k < 6 * v + 6; k++) hash = Math.imul(hash ^ bits[k]!, 0x9e3779b1) + (hash >>> 15)
    let at = (hash ^ (hash >>> 16)) & (size - 1)
    const x = vertices[3 * v]!
    const y = vertices[3 * v + 1]!
    const z = vertices[3 * v + 2]!
    for (; table[at] !== -1; at = (at + 1) & (size - 1)) {
      const c = 3 * table[at]!
      if (corners[c] === x && corners[c + 1] === y && corners[c + 2] === z) break
    }
    if (table[at] === -1) {
      table[at] = kept
      corners[3 * kept] = x
      corners[3 * kept + 1] = y
      corners[3 * kept + 2] = z
      kept++
    }
    own[v] = table[at]!
  }
  const whole = new Uint32Array(triangles.length)
  let length = 0
  for (let t = 0; t < triangles.length; t += 3) {
    const a = own[triangles[t]!]!
    const b = own[triangles[t + 1]!]!
    const c = own[triangles[t + 2]!]!
    if (a === b || b === c || c === a) continue
    whole[length++] = a
    whole[length++] = b
    whole[length++] = c
  }
  return { corners: corners.slice(0, 3 * kept), triangles: whole.slice(0, length) }
}

/** Across a triangle, twice its area long. */
export function faceNormal(corners: Float64Array, a: number, b: number, c: number): readonly [number, number, number] {
  const ux = corners[3 * b]! - corners[3 * a]!
  const uy = corners[3 * b + 1]! - corners[3 * a + 1]!
  const uz = corners[3 * b + 2]! - corners[3 * a + 2]!
  const vx = corners[3 * c]! - corners[3 * a]!
  const vy = corners[3 * c + 1]! - corners[3 * a + 1]!
  const vz = corners[3 * c + 2]! - corners[3 * a + 2]!
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
}

/** Edges of triangles, each by the place of the corner that it leaves in their list. */
export function edgesOf(triangles: Uint32Array, corners: number) {
  const first = new Uint32Array(corners + 1)
  for (const corner of triangles) first[corner + 1]!++
  for (let c = 0; c < corners; c++) first[c + 1]! += first[c]!
  const filled = first.slice(0, corners)
  const leaving = new Uint32Array(triangles.length)
  for (let at = 0; at < triangles.length; at++) leaving[filled[triangles[at]!]!++] = at
  /** The corner that an edge goes to. */
  const next = (at: number) => triangles[at % 3 === 2 ? at - 2 : at + 1]!
  return {
    next,
    count: (from: number, to: number) => {
      let count = 0
      for (let i = first[from]!; i < first[from + 1]!; i++) if (next(leaving[i]!) === to) count++
      return count
    },
    find: (from: number, to: number) => {
      for (let i = first[from]!; i < first[from + 1]!; i++) if (next(leaving[i]!) === to) return leaving[i]
      return undefined
    },
  }
}
