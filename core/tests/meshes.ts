import type { Mesh } from '../machine'

type Point = readonly [number, number, number]

/** A closed mesh of quadrilaterals, each seen from outside anticlockwise. */
function ofQuads(points: readonly Point[], quads: readonly (readonly [number, number, number, number])[]): Mesh {
  return {
    vertices: Float64Array.from(points.flat()),
    triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
  }
}

/** A block about the origin. */
export function blockMesh([x, y, z]: Point): Mesh {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i): Point => [(i & 1 ? x : -x) / 2, (i & 2 ? y : -y) / 2, (i & 4 ? z : -z) / 2])
  return ofQuads(corners, [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ])
}

/** A block of `cells` by `cells` cells, `size` m wide, whose top follows heights over x and y; its bottom lies at `low`, m. */
export function landMesh(cells: number, size: number, low: number, height: (x: number, y: number) => number): Mesh {
  const points: Point[] = []
  const at = (i: number, j: number) => 2 * (i * (cells + 1) + j)
  for (let i = 0; i <= cells; i++)
    for (let j = 0; j <= cells; j++) {
      const [x, y] = [(i / cells - 0.5) * size, (j / cells - 0.5) * size]
      points.push([x, y, height(x, y)], [x, y, low])
    }
  const quads: [number, number, number, number][] = []
  for (let i = 0; i < cells; i++) {
    for (let j = 0; j < cells; j++) {
      const [a, b, c, d] = [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)]
      quads.push([a, b, c, d], [a + 1, d + 1, c + 1, b + 1])
    }
    const wall = (p: number, q: number) => quads.push([p, p + 1, q + 1, q])
    wall(at(i, 0), at(i + 1, 0))
    wall(at(i + 1, cells), at(i, cells))
    wall(at(0, i + 1), at(0, i))
    wall(at(cells, i), at(cells, i + 1))
  }
  return ofQuads(points, quads)
}

/** Binary STL: 80 bytes, a count, and a normal, three corners and two bytes a triangle; without the last `open` of them. */
export function stlOf({ vertices, triangles }: Mesh, open = 0): Uint8Array {
  const count = triangles.length / 3 - open
  const bytes = new Uint8Array(84 + 50 * count)
  const view = new DataView(bytes.buffer)
  view.setUint32(80, count, true)
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 9; k++) {
      const value = vertices[3 * triangles[3 * t + Math.floor(k / 3)]! + (k % 3)]!
      view.setFloat32(84 + 50 * t + 12 + 4 * k, value, true)
    }
  return bytes
}
