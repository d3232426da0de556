import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { strToU8, zipSync } from 'fflate'
import { contentHash } from '../../core/document'
import {
  documentOfBundle,
  packRecord,
  parseEquations,
  parseLinkTable,
  parseMatrices,
  parseMesh,
  parseNumberRows,
  parseUrdf,
  robotMachine,
  unpackRecord,
  unzipFiles,
} from '../../core/formats'
import { parseDocument } from '../../core'
import { numbersFrom } from '../../core/tests/randomGraph'

const root = join(import.meta.dirname, '../..')
const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes)
const urdf = readFileSync(join(root, 'docs/examples/pendulum.urdf'))

/** A sort of file: right ones to begin from, and what reads it. */
export interface FileSort {
  readonly name: string
  readonly right: readonly Uint8Array[]
  readonly read: (bytes: Uint8Array) => unknown
}

export const fileSorts: readonly FileSort[] = [
  {
    name: 'robot descriptions',
    right: [urdf],
    read: (bytes) => {
      const robot = parseUrdf(text(bytes))
      if (robot.kind === 'done') robotMachine(robot.value, 'free')
      return robot
    },
  },
  {
    name: 'meshes',
    right: [solid(), strToU8('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), gltf(), glb(), binarySolid()],
    read: (bytes) => firstDone(['a.stl', 'a.obj', 'a.gltf'].map((name) => parseMesh(name, bytes))),
  },
  {
    name: 'tables of numbers',
    right: [
      strToU8('time, rise\n0, 0\n1, 2.5\n2, = a\n'),
      strToU8('1 2 3\n4 5 6\n'),
      strToU8('turning 0.4 90 0.1 0\nsliding 0 0 1rad 2'),
    ],
    read: (bytes) => firstDone([parseNumberRows(text(bytes)), parseNumberRows(text(bytes), 2), parseLinkTable(text(bytes))]),
  },
  {
    name: 'matrices',
    right: [
      strToU8('states: speed [m/s], heading\nA\n-1 0\n0 -2\nB\n1\n0\nsample time: 0.02\n'),
      strToU8('{"a":[[-1]],"b":[[1]],"c":[[1]],"d":[[0]],"dt":null,"states":["x"]}'),
    ],
    read: (bytes) => parseMatrices(text(bytes)),
  },
  {
    name: 'equations',
    right: [
      strToU8(
        "speed' = (thrust - drag * speed^2) / mass [m/s]\nspeed(0) = 5\nmass = 12 [kg]\ndrag = 0.3\npower = thrust * speed # out\n",
      ),
    ],
    read: (bytes) => parseEquations(text(bytes)),
  },
  {
    name: 'bundles',
    right: [zipSync({ 'document.json': readFileSync(join(root, 'demo/lens-float.json')), 'a/robot.urdf': urdf })],
    read: (bytes) => {
      const files = unzipFiles(bytes)
      const document = files.kind === 'done' ? documentOfBundle(files.value) : undefined
      return document === undefined ? files : parseDocument(document)
    },
  },
  { name: 'records', right: [record()], read: (bytes) => unpackRecord(bytes) },
]

/** What one of several readers took, or the last refusal. */
function firstDone(outcomes: readonly { readonly kind: string }[]): { readonly kind: string } | undefined {
  return outcomes.find(({ kind }) => kind === 'done') ?? outcomes.at(-1)
}

const tokens = [
  '=',
  '<',
  '>',
  '"',
  '(',
  ')',
  '[',
  ']',
  '{',
  '}',
  '-',
  '1e999',
  'NaN',
  'null',
  '\0',
  '\n',
  ' ',
  ',',
  '&#0;',
  '<!--',
  '__proto__',
  '0',
  '-1',
  '4294967295',
  '/',
  '^',
  ';',
].map((token) => strToU8(token))

/** A right file with some bytes changed, cut, doubled or put elsewhere; the same for the same seed. */
export function mutatedFile({ right }: FileSort, seed: number): Uint8Array {
  const next = numbersFrom(seed)
  for (let i = 0; i < 4; i++) next()
  const below = (most: number) => Math.floor(next() * most)
  let bytes = right[below(right.length)]!
  for (let faults = 1 + below(4); faults > 0; faults--) {
    const [at, length] = [below(bytes.length + 1), 1 + below(next() < 0.2 ? bytes.length : 12)]
    const [before, part, after] = [bytes.subarray(0, at), bytes.subarray(at, at + length), bytes.subarray(at + length)]
    switch (below(6)) {
      case 0:
        bytes = joined(before, after)
        break
      case 1:
        bytes = joined(before, ...Array<Uint8Array>(1 + below(next() < 0.05 ? 5000 : 6)).fill(part), after)
        break
      case 2:
        bytes = joined(before, tokens[below(tokens.length)]!, part, after)
        break
      case 3:
        bytes = joined(
          before,
          ...Array<Uint8Array>(1 + below(next() < 0.05 ? 20_000 : 4)).fill(tokens[below(tokens.length)]!),
          after,
        )
        break
      case 4:
        bytes = joined(
          before,
          Uint8Array.from(part, () => below(256)),
          after,
        )
        break
      default:
        bytes = joined(
          before,
          part.map((byte) => byte ^ (1 << below(8))),
          after,
        )
    }
    if (bytes.length > 300_000) bytes = bytes.subarray(0, 300_000)
  }
  return bytes
}

function joined(...parts: Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return bytes
}

function solid(): Uint8Array {
  return strToU8(
    'solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid s\n',
  )
}

function binarySolid(): Uint8Array {
  const bytes = new Uint8Array(84 + 50 * 4)
  new DataView(bytes.buffer).setUint32(80, 4, true)
  return bytes
}

function scene(inside: boolean): object {
  return {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [
      { mesh: 0, children: [1] },
      { mesh: 0, translation: [1, 2, 3], rotation: [0, 0, 0, 1], scale: [1, 1, -1] },
    ],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3' },
      { bufferView: 1, componentType: 5121, count: 3, type: 'SCALAR' },
    ],
    bufferViews: [
      { buffer: 0, byteLength: 36 },
      { buffer: 0, byteOffset: 36, byteLength: 3 },
    ],
    buffers: [
      {
        byteLength: 40,
        ...(inside ? { uri: `data:application/octet-stream;base64,${Buffer.alloc(40).toString('base64')}` } : {}),
      },
    ],
  }
}

function gltf(): Uint8Array {
  return strToU8(JSON.stringify(scene(true)))
}

function glb(): Uint8Array {
  const json = strToU8(JSON.stringify(scene(false)).padEnd(1000))
  const bytes = new Uint8Array(12 + 8 + json.length + 8 + 40)
  const view = new DataView(bytes.buffer)
  ;[0x46546c67, 2, bytes.length, json.length, 0x4e4f534a].forEach((word, i) => view.setUint32(4 * i, word, true))
  bytes.set(json, 20)
  view.setUint32(20 + json.length, 40, true)
  view.setUint32(24 + json.length, 0x004e4942, true)
  return bytes
}

function record(): Uint8Array {
  return packRecord({
    ...{ hash: contentHash('siege'), trial: 'rise', seed: 1, layers: ['drag'], ending: { kind: 'finished' } },
    time: Float64Array.of(0, 1, 2),
    columns: [{ name: 'boom.angle', label: 'boom', unit: 'rad', role: 'actual', values: Float64Array.of(1, 2, 3) }],
  })
}
