import type { Problem } from '../document'
import type { SolidProperties } from './solidProperties'
import { edgesOf, faceNormal, welded } from './welded'
import type { Mesh } from './welded'

export type { Mesh } from './welded'

export interface MeshReport {
  /** m³, negative where the surface is inside out */
  readonly volume: number
  /** m² */
  readonly area: number
  /** Edges, by direction, that no equal number of neighbours runs the other way. */
  readonly openEdges: number
  readonly least: readonly number[]
  readonly most: readonly number[]
}

/** Volume, area, extent and how closed a mesh is; its winding by the right-hand rule says which side is out. */
export function meshReport(mesh: Mesh): MeshReport {
  const { corners, triangles } = welded(mesh)
  let [volume, area] = [0, 0]
  const least = [Infinity, Infinity, Infinity]
  const most = [-Infinity, -Infinity, -Infinity]
  for (let t = 0; t < triangles.length; t += 3) {
    const a = triangles[t]!
    const [x, y, z] = faceNormal(corners, a, triangles[t + 1]!, triangles[t + 2]!)
    // a tetrahedron down to the origin
    volume += (x * corners[3 * a]! + y * corners[3 * a + 1]! + z * corners[3 * a + 2]!) / 6
    area += 0.5 * Math.sqrt(x * x + y * y + z * z)
    for (let k = 0; k < 3; k++) {
      for (let i = 0; i < 3; i++) {
        const value = corners[3 * triangles[t + k]! + i]!
        if (value < least[i]!) least[i] = value
        if (value > most[i]!) most[i] = value
      }
    }
  }
  const edges = edgesOf(triangles, corners.length / 3)
  let openEdges = 0
  triangles.forEach((from, at) => {
    const to = edges.next(at)
    if (edges.find(from, to) === at && edges.count(from, to) !== edges.count(to, from)) openEdges++
  })
  return { volume, area, openEdges, least, most }
}

/** What makes a mesh unfit for mass properties, or odd: open, inside out, flat, in millimetres. */
export function meshProblems(where: string, mesh: Mesh): Problem[] {
  const { volume, openEdges, least, most } = meshReport(mesh)
  const size = Math.max(...most.map((value, i) => value - least[i]!))
  if (mesh.triangles.length === 0 || !Number.isFinite(size))
    return [{ where, what: 'The mesh has no triangles.', remedy: 'Export it again as a surface.' }]
  const problems: Problem[] = []
  if (openEdges > 0) {
    const what = `The mesh is not closed: ${openEdges} edges have no neighbour that runs the other way.`
    problems.push({ where, what, remedy: 'Close its holes and let all faces look outward, or give mass and inertia as numbers.' })
  } else if (volume < 0) {
    problems.push({
      where,
      what: 'The mesh is inside out: its faces look inward.',
      remedy: 'Flip its faces, or mirror it with all faces flipped.',
    })
  } else if (volume < 1e-9 * size ** 3) {
    problems.push({ where, what: 'The mesh encloses no volume.', remedy: 'Give it a thickness.' })
  }
  return problems
}

/** A mesh scaled along its axes; where that mirrors it, its faces are turned so that out stays out. */
export function scaledMesh({ vertices, triangles }: Mesh, [x, y, z]: readonly [number, number, number]): Mesh {
  const scaled = vertices.map((value, i) => value * [x, y, z][i % 3]!)
  const isMirrored = [x, y, z].filter((factor) => factor < 0).length % 2 === 1
  // corners 0, 2, 1 instead of 0, 1, 2
  const turned = (i: number) => (i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1)
  return { vertices: scaled, triangles: isMirrored ? triangles.map((_, i) => triangles[turned(i)]!) : triangles }
}

/** A mesh larger than this is most likely in millimetres. */
const largestMetres = 50

/** An odd size, worth a caution. */
export function looksLikeMillimetres(mesh: Mesh): boolean {
  const { least, most } = meshReport(mesh)
  return Math.max(...most.map((value, i) => value - least[i]!)) > largestMetres
}

/**
 * Mass properties of the solid inside a closed mesh, by volume integrals over signed tetrahedra from the origin
 * (Tonon, Journal of Mathematics and Statistics 1, 2005, from memory). `scale` turns its units into metres.
 */
export function meshProperties({ vertices, triangles }: Mesh, density: number, scale = 1): SolidProperties {
  let volume = 0
  const first = [0, 0, 0]
  const second = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ]
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [0, 1, 2].map((k) => {
      const v = triangles[t + k]!
      return [scale * vertices[3 * v]!, scale * vertices[3 * v + 1]!, scale * vertices[3 * v + 2]!]
    }) as [number[], number[], number[]]
    const sixfold = determinant(...corners)
    volume += sixfold / 6
    const total = [0, 1, 2].map((i) => corners[0][i]! + corners[1][i]! + corners[2][i]!)
    for (let i = 0; i < 3; i++) {
      first[i]! += (sixfold / 24) * total[i]!
      // integral of x_i x_j over a tetrahedron with one corner at the origin
      for (let j = 0; j < 3; j++) {
        const own = corners.reduce((sum, corner) => sum + corner[i]! * corner[j]!, 0)
        second[i]![j]! += (sixfold / 120) * (own + total[i]! * total[j]!)
      }
    }
  }
  const mass = density * volume
  const centre = first.map((value) => value / volume) as [number, number, number]
  const about = second.map((row, i) => row.map((value, j) => density * value - mass * centre[i]! * centre[j]!))
  const [xx, yy, zz] = [about[0]![0]!, about[1]![1]!, about[2]![2]!]
  return { mass, centre, inertia: [yy + zz, xx + zz, xx + yy, -about[0]![1]!, -about[0]![2]!, -about[1]![2]!] }
}

function determinant(a: number[], b: number[], c: number[]): number {
  const [x, y, z] = crossOf(b, c) as [number, number, number]
  return a[0]! * x + a[1]! * y + a[2]! * z
}

function crossOf(a: number[], b: number[]): number[] {
  return [a[1]! * b[2]! - a[2]! * b[1]!, a[2]! * b[0]! - a[0]! * b[2]!, a[0]! * b[1]! - a[1]! * b[0]!]
}
