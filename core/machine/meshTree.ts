import type { Mesh } from './mesh'
import { edgesOf, faceNormal, welded } from './welded'

/** A mesh as a tree of boxes that hold boxes, in flat lists, so that a program finds the nearest of many triangles quickly. */
export interface MeshTree {
  /** Three coordinates a corner, equal ones once. */
  readonly corners: Float64Array
  /** Three corners a triangle, in the order in which boxes hold them. */
  readonly triangles: Float64Array
  /** The triangle beyond each edge: from the first corner to the second, from there to the third, and back. */
  readonly beyond: Float64Array
  /** Directions of corners: those of the faces around, by the angles that these have there. Not of length 1. */
  readonly leaning: Float64Array
  /** Six bounds a box: least x, y, z, then most. */
  readonly bounds: Float64Array
  /** The box that comes next where this one is not entered; its first triangle; how many: 0 where it holds boxes. */
  readonly skips: Float64Array
  readonly firsts: Float64Array
  readonly counts: Float64Array
}

/** A box of no more triangles than this is not divided again. */
const fewTriangles = 2

/**
 * The tree of a closed mesh, divided at the middle one along the longest side. Directions of corners as in Baerentzen & Aanaes,
 * IEEE Transactions on Visualization and Computer Graphics 11 (2005), from memory: they say on which side of the mesh a point
 * lies whose nearest one is a corner; at an edge the sum of its two faces does.
 */
export function meshTree(mesh: Mesh): MeshTree {
  const { corners, triangles: all } = welded(mesh)
  const triangles = withArea(corners, all)
  const count = triangles.length / 3
  const order = Uint32Array.from({ length: count }, (_, t) => t)
  const boxes = new Boxes(corners, triangles, order)
  const ordered = new Uint32Array(3 * count)
  order.forEach((t, at) => ordered.set(triangles.subarray(3 * t, 3 * t + 3), 3 * at))
  return {
    corners,
    triangles: Float64Array.from(ordered),
    beyond: neighbours(ordered, corners.length / 3),
    leaning: leaningOf(corners, ordered),
    ...boxes.lists(),
  }
}

/** What is flat to a line has no side: its neighbours have them. */
function withArea(corners: Float64Array, triangles: Uint32Array): Uint32Array {
  const kept: number[] = []
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!]
    const [x, y, z] = faceNormal(corners, a, b, c)
    if (x !== 0 || y !== 0 || z !== 0) kept.push(a, b, c)
  }
  return Uint32Array.from(kept)
}

/** By edge, its triangle's own number where nothing lies beyond. */
function neighbours(triangles: Uint32Array, corners: number): Float64Array {
  const edges = edgesOf(triangles, corners)
  const beyond = new Float64Array(triangles.length)
  for (let at = 0; at < triangles.length; at++) {
    const back = edges.find(edges.next(at), triangles[at]!)
    beyond[at] = Math.floor((back ?? at) / 3)
  }
  return beyond
}

function leaningOf(corners: Float64Array, triangles: Uint32Array): Float64Array {
  const leaning = new Float64Array(corners.length)
  for (let t = 0; t < triangles.length; t += 3) {
    const normal = faceNormal(corners, triangles[t]!, triangles[t + 1]!, triangles[t + 2]!)
    const long = Math.sqrt(normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2])
    for (let k = 0; k < 3; k++) {
      const corner = 3 * triangles[t + k]!
      const weight = angleAt(corners, corner, 3 * triangles[t + ((k + 1) % 3)]!, 3 * triangles[t + ((k + 2) % 3)]!, long) / long
      for (let i = 0; i < 3; i++) leaning[corner + i]! += weight * normal[i]!
    }
  }
  return leaning
}

/** rad: of a triangle at its first corner; corners by their first coordinate, `across` is twice its area, m². */
function angleAt(corners: Float64Array, at: number, one: number, other: number, across: number): number {
  let along = 0
  for (let k = 0; k < 3; k++) along += (corners[one + k]! - corners[at + k]!) * (corners[other + k]! - corners[at + k]!)
  return angleOf(across, along)
}

/**
 * rad, 0 to pi: of a point that is not below the axis, to 2e-8, which is enough for a weight (Abramowitz & Stegun, Handbook of
 * Mathematical Functions, 1964, 4.4.49, from memory).
 */
function angleOf(y: number, x: number): number {
  const [low, high] = [Math.min(y, Math.abs(x)), Math.max(y, Math.abs(x))]
  if (high === 0) return 0
  const part = low / high
  const square = part * part
  let sum = 0
  for (const coefficient of arctangent) sum = sum * square + coefficient
  const steep = part * sum
  const acute = y > Math.abs(x) ? Math.PI / 2 - steep : steep
  return x < 0 ? Math.PI - acute : acute
}

/** The highest power first. */
const arctangent = [
  0.0028662257, -0.0161657367, 0.0429096138, -0.07528964, 0.1065626393, -0.1420889944, 0.1999355085, -0.3333314528, 1,
]

/** Divides triangles into boxes, each before those that it holds. */
class Boxes {
  private readonly extents: Float64Array
  private readonly bounds: Float64Array
  private readonly skips: Float64Array
  private readonly firsts: Float64Array
  private readonly counts: Float64Array
  private made = 0

  constructor(
    corners: Float64Array,
    triangles: Uint32Array,
    private readonly order: Uint32Array,
  ) {
    const most = 2 * order.length
    this.bounds = new Float64Array(6 * most)
    ;[this.skips, this.firsts, this.counts] = [new Float64Array(most), new Float64Array(most), new Float64Array(most)]
    this.extents = new Float64Array(6 * order.length)
    for (let t = 0; t < order.length; t++)
      for (let k = 0; k < 3; k++) {
        const a = corners[3 * triangles[3 * t]! + k]!
        const b = corners[3 * triangles[3 * t + 1]! + k]!
        const c = corners[3 * triangles[3 * t + 2]! + k]!
        this.extents[6 * t + k] = Math.min(a, b, c)
        this.extents[6 * t + 3 + k] = Math.max(a, b, c)
      }
    this.divide(0, order.length, this.around(0, order.length))
  }

  lists(): Pick<MeshTree, 'bounds' | 'skips' | 'firsts' | 'counts'> {
    const { bounds, skips, firsts, counts, made } = this
    return {
      bounds: bounds.slice(0, 6 * made),
      ...{ skips: skips.slice(0, made), firsts: firsts.slice(0, made), counts: counts.slice(0, made) },
    }
  }

  /** `rough`: bounds that hold it, by which it is divided. */
  private divide(from: number, to: number, rough: readonly number[]): void {
    const box = this.made++
    this.firsts[box] = from
    if (to - from <= fewTriangles) {
      this.counts[box] = to - from
      this.bounds.set(this.around(from, to), 6 * box)
      this.skips[box] = this.made
      return
    }
    const sides = [rough[3]! - rough[0]!, rough[4]! - rough[1]!, rough[5]! - rough[2]!]
    const axis = sides.indexOf(Math.max(...sides))
    const middle = (from + to) >> 1
    this.sortAbout(middle, from, to, axis)
    const there = this.place(middle, axis) / 2
    this.divide(
      from,
      middle,
      rough.map((bound, k) => (k === axis + 3 ? there : bound)),
    )
    const second = this.made
    this.divide(
      middle,
      to,
      rough.map((bound, k) => (k === axis ? there : bound)),
    )
    this.skips[box] = this.made
    for (let k = 0; k < 3; k++) {
      this.bounds[6 * box + k] = Math.min(this.bounds[6 * (box + 1) + k]!, this.bounds[6 * second + k]!)
      this.bounds[6 * box + 3 + k] = Math.max(this.bounds[6 * (box + 1) + 3 + k]!, this.bounds[6 * second + 3 + k]!)
    }
  }

  private around(from: number, to: number): number[] {
    const bounds = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    for (let i = from; i < to; i++) {
      const at = 6 * this.order[i]!
      for (let k = 0; k < 3; k++) {
        if (this.extents[at + k]! < bounds[k]!) bounds[k] = this.extents[at + k]!
        if (this.extents[at + 3 + k]! > bounds[3 + k]!) bounds[3 + k] = this.extents[at + 3 + k]!
      }
    }
    return bounds
  }

  /** Twice the middle of a triangle along an axis. */
  private place(i: number, axis: number): number {
    const at = 6 * this.order[i]! + axis
    return this.extents[at]! + this.extents[at + 3]!
  }

  /** Puts what would stand at `middle` there, and before it nothing that lies farther along `axis` (Hoare's selection). */
  private sortAbout(middle: number, from: number, to: number, axis: number): void {
    const { order } = this
    const place = (i: number) => this.place(i, axis)
    let [low, high] = [from, to - 1]
    while (low < high) {
      const pivot = place((low + high) >> 1)
      let [i, j] = [low, high]
      while (i <= j) {
        while (place(i) < pivot) i++
        while (place(j) > pivot) j--
        if (i > j) break
        const kept = order[i]!
        order[i++] = order[j]!
        order[j--] = kept
      }
      if (middle <= j) high = j
      else if (middle >= i) low = i
      else return
    }
  }
}
