import { describe, expect, it } from 'vitest'
import { meshReport } from '../machine'
import { expectDone } from '../tests/expectDone'
import { parseMesh } from './index'

/** A cube of side 2 about the origin, wound outward. */
const corners = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z) => [x, y, z]))).flat()
const sides = [0, 1, 3, 0, 3, 2, 4, 6, 7, 4, 7, 5, 0, 4, 5, 0, 5, 1, 2, 3, 7, 2, 7, 6, 0, 2, 6, 0, 6, 4, 1, 5, 7, 1, 7, 3]

function sceneOf(nodes: readonly object[]) {
  return {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes,
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 8, type: 'VEC3' },
      { bufferView: 1, componentType: 5123, count: 36, type: 'SCALAR' },
    ],
    bufferViews: [
      { buffer: 0, byteLength: 96 },
      { buffer: 0, byteOffset: 96, byteLength: 72 },
    ],
    buffers: [{ byteLength: 168 }] as object[],
  }
}

function dataBytes(): Uint8Array {
  const bytes = new Uint8Array(168)
  const view = new DataView(bytes.buffer)
  corners.forEach((value, i) => view.setFloat32(4 * i, value, true))
  sides.forEach((value, i) => view.setUint16(96 + 2 * i, value, true))
  return bytes
}

/** A binary glTF file after its specification, section 4. */
function glb(scene: object, binary = dataBytes()): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(scene))
  const json = new Uint8Array(Math.ceil(text.length / 4) * 4).fill(0x20)
  json.set(text)
  const bytes = new Uint8Array(12 + 8 + json.length + 8 + binary.length)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, 0x46546c67, true)
  view.setUint32(4, 2, true)
  view.setUint32(8, bytes.length, true)
  view.setUint32(12, json.length, true)
  view.setUint32(16, 0x4e4f534a, true)
  bytes.set(json, 20)
  view.setUint32(20 + json.length, binary.length, true)
  view.setUint32(24 + json.length, 0x004e4942, true)
  bytes.set(binary, 28 + json.length)
  return bytes
}

const quarterAboutZ = [0, 0, Math.SQRT1_2, Math.SQRT1_2]
const quarterAboutY = [0, Math.SQRT1_2, 0, Math.SQRT1_2]

describe('a glTF file', () => {
  it('gives its triangles, closed and outward', () => {
    const report = meshReport(expectDone(parseMesh('cube.glb', glb(sceneOf([{ mesh: 0 }])))))
    expect(report).toMatchObject({ openEdges: 0, least: [-1, -1, -1], most: [1, 1, 1] })
    expect(report.volume).toBeNear(8, { relative: 1e-12 })
  })

  it('moves them by its nodes: scaled, then turned, then moved, node on node', () => {
    const nodes = [
      { children: [1], translation: [10, 0, 0], rotation: quarterAboutZ },
      { mesh: 0, scale: [2, 1, 1], translation: [0, 5, 0] },
    ]
    const report = meshReport(expectDone(parseMesh('cube.glb', glb(sceneOf(nodes)))))
    // x to y, y to -x: the long side lies along y, the place 5 along y becomes -5 along x
    // and the file's y is up: our z
    expect(report.least).toBeNear([10 - 5 - 1, -1, -2], { absolute: 1e-12 })
    expect(report.most).toBeNear([10 - 5 + 1, 1, 2], { absolute: 1e-12 })
    expect(report.volume).toBeNear(16, { relative: 1e-12 })
  })

  it('stays outward where a node mirrors it', () => {
    expect(meshReport(expectDone(parseMesh('cube.glb', glb(sceneOf([{ mesh: 0, scale: [-1, 1, 1] }]))))).volume).toBeNear(8, {
      relative: 1e-12,
    })
  })

  it('stays outward where a node mirrors it and turns it', () => {
    // quarter turns, a third of a turn about the diagonal, and one askew
    for (const rotation of [quarterAboutY, quarterAboutZ, [0.5, 0.5, 0.5, 0.5], [0.1, -0.7, 0.5, 0.5]])
      for (const scale of [
        [-1, 2, 3],
        [1, -2, 3],
        [-1, -2, -3],
      ])
        // prettier-ignore
        expect(
          meshReport(expectDone(parseMesh('cube.glb', glb(sceneOf([{ mesh: 0, scale, rotation }]))))).volume,
        ).toBeNear(48, { relative: 1e-12 })
  })

  it('is read as text with its data inside', () => {
    const scene = {
      ...sceneOf([{ mesh: 0 }]),
      buffers: [{ byteLength: 168, uri: `data:application/octet-stream;base64,${Buffer.from(dataBytes()).toString('base64')}` }],
    }
    expect(meshReport(expectDone(parseMesh('cube.gltf', new TextEncoder().encode(JSON.stringify(scene))))).volume).toBeNear(8, {
      relative: 1e-12,
    })
  })

  const text = (value: object) => new TextEncoder().encode(JSON.stringify(value))
  it.each<[string, Uint8Array, RegExp]>([
    ['cut off', glb(sceneOf([{ mesh: 0 }])).subarray(0, 200), /cut off/],
    ['not JSON', text([]).subarray(0, 1), /no JSON/],
    [
      'in two files',
      text({ ...sceneOf([{ mesh: 0 }]), buffers: [{ byteLength: 168, uri: '../../secret.bin' }] }),
      /in another file/,
    ],
    ['with a byte too little', glb(sceneOf([{ mesh: 0 }]), dataBytes().subarray(0, 167)), /shorter than it says/],
    ['with too little data', glb(sceneOf([{ mesh: 0 }]), dataBytes().subarray(0, 100)), /shorter than it says/],
    ['whose nodes go round', glb(sceneOf([{ mesh: 0, children: [0] }])), /in a circle/],
    [
      'whose nodes branch without end',
      glb(sceneOf(Array.from({ length: 60 }, (_, i) => ({ children: i < 59 ? [i + 1, i + 1] : [] })))),
      /too many/,
    ],
    [
      'with broken data inside',
      text({ ...sceneOf([{ mesh: 0 }]), buffers: [{ byteLength: 168, uri: 'data:;base64,%%%%' }] }),
      /cannot be read/,
    ],
    ['with a mesh that is not there', glb(sceneOf([{ mesh: 7 }])), /names a mesh that is not there/],
    [
      'of lines',
      glb({ ...sceneOf([{ mesh: 0 }]), meshes: [{ primitives: [{ mode: 1, attributes: { POSITION: 0 } }] }] }),
      /no triangles/,
    ],
    ['with words for numbers', text({ ...sceneOf([{ mesh: 'first' }]) }), /not as it should be/],
    [
      'with billions of points',
      glb({ ...sceneOf([{ mesh: 0 }]), accessors: [{ bufferView: 0, componentType: 5126, count: 4e9, type: 'VEC3' }] }),
      /more than/,
    ],
  ])('%s is refused with a remedy', (_, bytes, what) => {
    const outcome = parseMesh(bytes[0] === 0x67 ? 'part.glb' : 'part.gltf', bytes)
    if (outcome.kind === 'done') throw new Error('It should be refused.')
    expect(outcome.problems[0]!.what).toMatch(what)
    expect(outcome.problems[0]!.remedy).toMatch(/\.glb/)
  })
})
