import { describe, expect, it } from 'vitest'
import type { Outcome } from '../document'
import type { Record } from '../simulation'
import {
  packRecord,
  parseEquations,
  parseLinkTable,
  parseMatrices,
  parseMesh,
  parseNumberRows,
  parseUrdf,
  readRecordHead,
  unpackRecord,
  unzipFiles,
} from './index'

const letters = (text: string) => new TextEncoder().encode(text)
const robot = (inside: string) => parseUrdf(`<robot name="a"><link name="a"/>${inside}</robot>`)
const many = (count: number, one: (i: number) => string) => Array.from({ length: count }, (_, i) => one(i)).join('')

/** Three corners, and as many primitives and nodes as asked; 604 bytes suffice to ask for gigabytes. */
function gltf(change: { count?: number; stride?: number; primitives?: number; nodes?: number } = {}): Uint8Array {
  const { count = 3, stride, primitives = 1, nodes = 1 } = change
  const uri = `data:application/octet-stream;base64,${btoa('\0'.repeat(36))}`
  const scene = {
    buffers: [{ uri, byteLength: 36 }],
    bufferViews: [{ buffer: 0, byteLength: 36, ...(stride === undefined ? {} : { byteStride: stride }) }],
    accessors: [{ bufferView: 0, componentType: 5126, count, type: 'VEC3' }],
    meshes: [{ primitives: Array<object>(primitives).fill({ attributes: { POSITION: 0 } }) }],
    nodes: Array<object>(nodes).fill({ mesh: 0 }),
  }
  return letters(JSON.stringify(scene))
}

describe('hostile files', () => {
  it.each<[what: string, read: () => Outcome<unknown>, words: RegExp]>([
    ['100,000 joints', () => robot('<joint/>'.repeat(100_000)), /more than 100000 elements/],
    ['3,000 joints without names', () => robot('<joint/>'.repeat(3000)), /3000 joints; at most 2000/],
    [
      'joints on links that are not there',
      () => robot(many(1900, (i) => `<joint name="j${i}" type="fixd"><parent link="b${i}"/><child link="c${i}"/></joint>`)),
      /not one of the standard's/,
    ],
    ['names of 100,000 letters', () => robot(`<joint name="j" type="${'y'.repeat(100_000)}"/>`), /not one of the standard's/],
    ['an instruction that does not end', () => parseUrdf('<robot name="a"/><?'), /not XML/],
    ['elements that do not end', () => parseUrdf('<'.repeat(100_000)), /not XML/],
    ['10,000 elements in one another', () => parseUrdf('<a>'.repeat(10_000)), /40 deep/],
    ['a document type', () => parseUrdf('<!DOCTYPE robot [<!ENTITY a "b">]><robot/>'), /document type/],
    ['100,000 attributes', () => parseUrdf(`<robot ${many(100_000, (i) => `a${i}="1" `)}/>`), /50 attributes/],
    ['a root that is none', () => parseUrdf('<sdf/>'), /sdf, not robot/],
    ['100,000 brackets', () => parseEquations("x' = 1" + '('.repeat(100_000)), /at most 2500/],
    ['100,000 brackets of a unit', () => parseEquations("x' = 1 " + '['.repeat(100_000)), /at most 2500/],
    [
      'a matrix of 600 columns',
      () => parseMatrices(`A\n${`${'1 '.repeat(600)}\n`.repeat(3)}B\n1`),
      /more than 400 rows or columns/,
    ],
    ['a matrix of 500 rows as JSON', () => parseMatrices(JSON.stringify({ a: Array(500).fill([1]), b: [[1]] })), /more than 400/],
    ['20,000 rows of links', () => parseLinkTable('turning 0 0 0 0\n'.repeat(20_000)), /more than 200 rows/],
    ['a table of a megabyte', () => parseNumberRows('1,'.repeat(500_000)), /more than 500000/],
    [
      'a mesh whose entries lie over one another',
      () => parseMesh('a.gltf', gltf({ count: 1_900_000, stride: 0 })),
      /over one another/,
    ],
    [
      'a mesh of 6 million points in 604 bytes',
      () => parseMesh('a.gltf', gltf({ count: 6_500_000 })),
      /more than 6000000 vertices/,
    ],
    ['a mesh drawn by 9,999 nodes', () => parseMesh('a.gltf', gltf({ primitives: 100, nodes: 9999 })), /50000 pieces/],
    ['vertices without numbers', () => parseMesh('a.stl', letters(`solid ${'vertex '.repeat(120_000)}`)), /finite/],
    [
      'a face of 2 million corners',
      () => parseMesh('a.obj', letters(`v 0 0 0\nf ${'1 '.repeat(2_100_000)}`)),
      /triangles; at most/,
    ],
    ['what is no zip', () => unzipFiles(letters(`PK${'x'.repeat(100_000)}`)), /cannot be unpacked/],
  ])('with %s are refused in one sentence', (_what, read, words) => {
    const outcome = read()
    if (outcome.kind === 'done') throw new Error('It should be refused.')
    expect(outcome.problems[0]!.what).toMatch(words)
    expect(outcome.problems[0]!.what.length).toBeLessThan(700)
    expect(outcome.problems[0]!.remedy).not.toBe('')
  })

  it('with names of the language are read as names', () => {
    const read = robot('<__proto__ name="x"/><constructor/>')
    expect(read).toMatchObject({ kind: 'done', value: { links: [{ name: 'a' }] } })
    expect(({} as { name?: string }).name).toBeUndefined()
  })

  it('do not hide a good mesh', () => {
    expect(parseMesh('a.gltf', gltf())).toMatchObject({ kind: 'done' })
    const shares: number[] = []
    expect(parseMesh('a.gltf', gltf({ nodes: 4 }), { onShare: (share) => shares.push(share) }).kind).toBe('done')
    expect(shares).toEqual([0.25, 0.5, 0.75, 1])
  })
})

describe('a packed record', () => {
  const record = (columns: Partial<Record['columns'][number]>[] = [{}]): Record => ({
    ...{ hash: 'ab'.repeat(16), trial: 'rise', seed: 1, layers: ['rotorLag'] },
    time: Float64Array.of(0, 1),
    columns: columns.map((one) => ({
      ...{ name: 'boom.angle', label: 'boom', unit: 'rad', role: 'actual' as const, values: Float64Array.of(2, 3) },
      ...one,
    })),
    ending: { kind: 'finished' },
  })
  /** The bytes of a record with its head changed, told as long as it is. */
  const changed = (change: (head: { columns: unknown[]; [field: string]: unknown }) => object) => {
    const packed = packRecord(record())
    const length = new DataView(packed.buffer).getUint32(4)
    const head = JSON.parse(new TextDecoder().decode(packed.subarray(8, 8 + length))) as { columns: unknown[] }
    const next = letters(JSON.stringify(change(head)))
    const start = Math.ceil((8 + next.length) / 8) * 8
    const bytes = new Uint8Array(start + packed.length - Math.ceil((8 + length) / 8) * 8)
    bytes.set(packed.subarray(0, 4))
    new DataView(bytes.buffer).setUint32(4, next.length)
    bytes.set(next, 8)
    bytes.set(packed.subarray(Math.ceil((8 + length) / 8) * 8), start)
    return bytes
  }

  it('with thousands of columns is read back', () => {
    const large = record(
      Array.from({ length: 3000 }, (_, i) => ({ name: `machine.signal${i}`, label: `signal ${i} §`.repeat(3) })),
    )
    expect(unpackRecord(packRecord(large))).toEqual({ kind: 'done', value: large })
  })

  it('that diverged to what is no number is read back', () => {
    const grown = { ...record(), ending: { kind: 'diverged' as const, at: 1, state: 'boom.rate', value: NaN } }
    expect(unpackRecord(packRecord(grown))).toEqual({ kind: 'done', value: grown })
  })

  it.each<[what: string, bytes: Uint8Array]>([
    ['nothing for a column', changed((head) => ({ ...head, columns: [null] }))],
    ['a name that is none', changed((head) => ({ ...head, columns: [{ ...(head.columns[0] as object), name: 7 }] }))],
    ['a role that is none', changed((head) => ({ ...head, columns: [{ ...(head.columns[0] as object), role: 'boss' }] }))],
    ['no ending', changed(({ ending: _ending, ...head }) => head)],
    ['a list of rows', changed((head) => ({ ...head, rows: [2] }))],
    ['more rows than there are', changed((head) => ({ ...head, rows: 3 }))],
    ['a billion rows', changed((head) => ({ ...head, rows: 1_000_000_000 }))],
    ['a text for its head', changed(() => 'head' as never)],
    ['a head of 4 GB', Uint8Array.of(0x43, 0x48, 0x52, 0x31, 255, 255, 255, 255, 0)],
    ['nothing in it', new Uint8Array()],
  ])('with %s is refused', (_what, bytes) => {
    expect(unpackRecord(bytes)).toMatchObject({ kind: 'refused', problems: [{ where: 'record' }] })
  })

  it('tells from its head alone how long it is', () => {
    const packed = packRecord(record())
    const read = readRecordHead(packed.subarray(0, packed.length - 20))
    expect(read).toMatchObject({ kind: 'done', value: { length: packed.length, head: { rows: 2, trial: 'rise' } } })
  })
})
