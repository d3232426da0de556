import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseMesh } from '../formats'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import {
  composedProperties,
  looksLikeMillimetres,
  meshProblems,
  meshProperties,
  meshReport,
  scaledMesh,
  shapeProperties,
  shapesProperties,
} from './index'
import type { Mesh } from './index'

interface Solids {
  readonly inputs: { density: number; tetra_vertices: number[][]; tetra_faces: number[][]; tetra_density: number }
  readonly expected: {
    solids: { solid: string; dims: number[]; mass: number; com: number[]; I_com_diag: number[] }[]
    tetra: { volume: number; com: number[]; I_com: number[][] }
  }
}

const { inputs, expected } = reference<Solids['inputs'], Solids['expected']>('rbd-mass-properties')
const placed = { at: [0, 0, 0], turned: [0, 0, 0] }

describe('solids of uniform density', () => {
  // computed by integration, see the file
  const shapes: Record<string, (dims: number[]) => { kind: string; [slot: string]: unknown }> = {
    box: (size) => ({ kind: 'box', ...placed, size }),
    cylinder: ([radius, length]) => ({ kind: 'cylinder', ...placed, radius, length }),
    sphere: ([radius]) => ({ kind: 'sphere', ...placed, radius }),
  }
  it.each(expected.solids.filter(({ solid }) => solid in shapes))(
    'of a $solid agree',
    ({ solid, dims, mass, com, I_com_diag }) => {
      const found = shapeProperties(shapes[solid]!(dims), inputs.density)!
      expect(found.mass).toBeNear(mass, { relative: 1e-14 })
      expect(found.centre).toBeNear(com, { absolute: 1e-15 })
      expect(found.inertia).toBeNear([...I_com_diag, 0, 0, 0], { relative: 1e-13 })
    },
  )

  it('composed from two halves are the whole', () => {
    const half = (x: number) => ({ kind: 'box', at: [x, 0, 0], turned: [0, 0, 0], size: [0.2, 0.3, 0.1] })
    const whole = shapeProperties({ kind: 'box', ...placed, size: [0.4, 0.3, 0.1] }, 700)!
    const two = shapesProperties([half(-0.1), half(0.1)], 700)!
    expect(two.mass).toBeNear(whole.mass, { relative: 1e-14 })
    expect(two.centre).toBeNear([0, 0, 0], { absolute: 1e-15 })
    expect(two.inertia).toBeNear(whole.inertia, { relative: 1e-13 })
  })

  it('turned a quarter exchange two moments', () => {
    const box = (turned: number[]) =>
      shapesProperties([{ kind: 'box', at: [0.1, 0.2, 0.3], turned, size: [0.4, 0.3, 0.1] }], 700)!
    const [straight, turned] = [box([0, 0, 0]), box([0, 0, Math.PI / 2])]
    expect(turned.inertia[0]).toBeNear(straight.inertia[1], { relative: 1e-12 })
    expect(turned.inertia[1]).toBeNear(straight.inertia[0], { relative: 1e-12 })
    expect(turned.centre).toBeNear([0.1, 0.2, 0.3], { relative: 1e-14 })
  })

  it('do not change with the order in which they are composed', () => {
    const part = fc.record({
      mass: fc.double({ min: 0.1, max: 10, noNaN: true }),
      x: fc.double({ min: -1, max: 1, noNaN: true }),
      y: fc.double({ min: -1, max: 1, noNaN: true }),
    })
    fc.assert(
      fc.property(fc.array(part, { minLength: 2, maxLength: 6 }), (parts) => {
        const made = parts.map(({ mass, x, y }) => ({ mass, centre: [x, y, 0] as const, inertia: [1, 1, 1, 0, 0, 0] as const }))
        const [a, b] = [composedProperties(made), composedProperties([...made].reverse())]
        expect(a.inertia).toBeNear(b.inertia, { relative: 1e-11 })
      }),
    )
  })

  it('are nothing for a shape without a formula', () => {
    expect(shapesProperties([{ kind: 'mesh', ...placed, file: 'hull.stl', scale: [1, 1, 1] }], 700)).toBeUndefined()
  })
})

const tetrahedron: Mesh = {
  vertices: Float64Array.from(inputs.tetra_vertices.flat()),
  triangles: Uint32Array.from(inputs.tetra_faces.flat()),
}
const matrix = ([xx, yy, zz, xy, xz, yz]: readonly number[]) => [
  [xx!, xy!, xz!],
  [xy!, yy!, yz!],
  [xz!, yz!, zz!],
]

describe('the solid inside a mesh', () => {
  it('is that of the computed tetrahedron', () => {
    const found = meshProperties(tetrahedron, inputs.tetra_density)
    expect(found.mass).toBeNear(expected.tetra.volume, { relative: 1e-12 })
    expect(found.centre).toBeNear(expected.tetra.com, { relative: 1e-12 })
    expect(matrix(found.inertia)).toBeNear(expected.tetra.I_com, { relative: 1e-11 })
    expect(meshProblems('mesh', tetrahedron)).toEqual([])
  })

  it('mirrored and stretched is the stretched solid, with out still out', () => {
    const [x, y, z] = [-2, 3, 0.5] as const
    const image = scaledMesh(tetrahedron, [x, y, z])
    expect(meshProblems('mesh', image)).toEqual([])
    const [found, plain] = [meshProperties(image, 1), meshProperties(tetrahedron, 1)]
    expect(found.mass).toBeNear(3 * plain.mass, { relative: 1e-12 })
    expect(found.centre).toBeNear(
      plain.centre.map((value, i) => [x, y, z][i]! * value),
      { relative: 1e-12 },
    )
    // integral of x y scales with x y and the volume; its entry is minus the product
    expect(found.inertia[3]).toBeNear(3 * x * y * plain.inertia[3], { relative: 1e-11 })
    const shape = { kind: 'mesh', ...placed, file: 'a.stl', mesh: 'hash', scale: [x, y, z] }
    expect(shapesProperties([shape], 2, () => tetrahedron)!.mass).toBeNear(6 * plain.mass, { relative: 1e-12 })
    expect(shapesProperties([shape], 2)).toBeUndefined()
  })

  it('does not depend on where the origin lies', () => {
    const far = { ...tetrahedron, vertices: tetrahedron.vertices.map((value, i) => value + [3, -2, 5][i % 3]!) }
    const [near, moved] = [meshProperties(tetrahedron, 1), meshProperties(far, 1)]
    expect(moved.inertia).toBeNear(near.inertia, { relative: 1e-9 }) // differences of large numbers cost digits
    expect(moved.centre).toBeNear(
      near.centre.map((value, i) => value + [3, -2, 5][i]!),
      { relative: 1e-12 },
    )
  })
})

describe('mesh files', () => {
  interface Stl {
    readonly inputs: { stl: string; scale_to_m: number; density: number; remove_facet_index: number; flip_facet_index: number }
    readonly expected: {
      volume: number
      centroid: number[]
      mass: number
      inertia_about_centroid: number[][]
      surface_area: number
      bounding_box_min: number[]
      bounding_box_max: number[]
      unmatched_directed_edges_if_facet_removed: number
      unmatched_directed_edges_if_one_facet_flipped: number
    }
  }
  // closed form, see the file
  const stl = reference<Stl['inputs'], Stl['expected']>('fmt-stl-mass')
  const bytes = (text: string) => new TextEncoder().encode(text)
  const mesh = expectDone(parseMesh('part.stl', bytes(stl.inputs.stl)))
  const { scale_to_m: scale } = stl.inputs
  /** The same triangles with one left out or turned over. */
  const changed = (index: number, how: 'removed' | 'flipped'): Mesh => {
    const all = [...mesh.triangles]
    const [a, b, c] = all.slice(3 * index, 3 * index + 3) as [number, number, number]
    all.splice(3 * index, 3, ...(how === 'removed' ? [] : [a, c, b]))
    return { vertices: mesh.vertices, triangles: Uint32Array.from(all) }
  }

  it('in text give the computed mass, centre, inertia and area; stored normals do not count', () => {
    const found = meshProperties(mesh, stl.inputs.density, scale)
    expect(found.mass).toBeNear(stl.expected.mass, { relative: 1e-12 })
    expect(found.centre).toBeNear(stl.expected.centroid, { relative: 1e-12 })
    expect(matrix(found.inertia)).toBeNear(stl.expected.inertia_about_centroid, { relative: 1e-10 })
    const { area, least, most, openEdges } = meshReport(mesh)
    expect(area * scale ** 2).toBeNear(stl.expected.surface_area, { relative: 1e-12 })
    expect(least.map((value) => value * scale)).toBeNear(stl.expected.bounding_box_min, { absolute: 1e-15 })
    expect(most.map((value) => value * scale)).toBeNear(stl.expected.bounding_box_max, { absolute: 1e-15 })
    expect(openEdges).toBe(0)
  })

  it('in binary give the same mesh to single precision', () => {
    const buffer = new Uint8Array(84 + (50 * mesh.triangles.length) / 3)
    const view = new DataView(buffer.buffer)
    buffer.set(bytes('solid not text at all'))
    view.setUint32(80, mesh.triangles.length / 3, true)
    for (let t = 0; t < mesh.triangles.length / 3; t++)
      for (let k = 0; k < 9; k++) view.setFloat32(84 + 50 * t + 12 + 4 * k, mesh.vertices[9 * t + k]!, true)
    const back = expectDone(parseMesh('part.stl', buffer))
    expect(back.vertices).toBeNear(mesh.vertices, { relative: 1e-7 })
  })

  it('as OBJ share vertices, cut faces into triangles and count from the end', () => {
    const cube = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\nv 1 0 1\nv 1 1 1\nv 0 1 1\n'
    const faces = 'f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2/1 3/2 7/3 6/4\nf 3 4 8 7\nf -8 -4 -1 -5\n'
    const found = expectDone(parseMesh('cube.OBJ', bytes(cube + faces)))
    expect(found.triangles).toHaveLength(36)
    expect(meshReport(found)).toMatchObject({ openEdges: 0 })
    const solid = meshProperties(found, 3)
    expect(solid.mass).toBeNear(3, { relative: 1e-14 })
    expect(solid.inertia).toBeNear([0.5, 0.5, 0.5, 0, 0, 0], { absolute: 1e-14 })
  })

  it('that are open or partly turned over are found, with how many edges', () => {
    const { remove_facet_index, flip_facet_index } = stl.inputs
    const open = changed(remove_facet_index, 'removed')
    expect(meshReport(open).openEdges).toBe(stl.expected.unmatched_directed_edges_if_facet_removed)
    expect(meshReport(changed(flip_facet_index, 'flipped')).openEdges).toBe(
      stl.expected.unmatched_directed_edges_if_one_facet_flipped,
    )
    expect(meshProblems('mesh', open)[0]!.what).toMatch(/not closed: 3 edges/)
  })

  it('that are inside out, flat or empty are found', () => {
    const inverted = { vertices: tetrahedron.vertices, triangles: tetrahedron.triangles.slice().reverse() }
    expect(meshProblems('mesh', inverted)[0]!.what).toMatch(/inside out/)
    const flat = { ...tetrahedron, vertices: tetrahedron.vertices.map((value, i) => (i % 3 === 2 ? 0 : value)) }
    expect(meshProblems('mesh', flat)[0]!.what).toMatch(/no volume/)
    expect(meshProblems('mesh', { vertices: new Float64Array(), triangles: new Uint32Array() })[0]!.what).toMatch(/no triangles/)
  })

  it('in millimetres are suspected by their size', () => {
    const large = { ...tetrahedron, vertices: tetrahedron.vertices.map((value) => 1000 * value) }
    expect(looksLikeMillimetres(large)).toBe(true)
    expect(looksLikeMillimetres(tetrahedron)).toBe(false)
  })

  it.each<[what: string, name: string, content: string, words: RegExp]>([
    ['something else', 'a.stl', 'PK\u0003\u0004 not a mesh', /neither a text nor a binary/],
    ['a cut file', 'a.stl', 'solid a\nfacet\nvertex 0 0 0\nvertex 1 0 0\n', /no whole triangles/],
    ['a word for a number', 'a.stl', 'solid a\nvertex 0 0 x\nvertex 1 0 0\nvertex 0 1 0\nendsolid', /not a finite number/],
    ['a face without its vertex', 'a.obj', 'v 0 0 0\nf 1 2 3\n', /Line 2 names a vertex/],
    ['no faces', 'a.obj', 'v 0 0 0\n', /no faces/],
  ])('with %s are refused', (_what, name, content, words) => {
    const outcome = parseMesh(name, bytes(content))
    expect(outcome.kind).toBe('refused')
    if (outcome.kind === 'refused') expect(outcome.problems[0]!.what).toMatch(words)
  })
})
