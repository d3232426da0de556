import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { done, refusedFor } from '../document'
import type { Document, Outcome } from '../document'
import { meshPlaces, missingMeshes, withMeshContent } from '../machine'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { documentOfBundle, keepBundleMeshes, packBundle, robotOfFiles, unzipFiles, withMeshes } from './index'
import type { Files } from './index'

const shape = (file: string, mesh?: string) => ({
  kind: 'mesh',
  at: [0, 0, 0],
  turned: [0, 0, 0],
  file,
  scale: [1, 1, 1],
  ...(mesh === undefined ? {} : { mesh }),
})

function documentWith(...shapes: ReturnType<typeof shape>[]): Document {
  const body = {
    ...bodyPart(1, [0.1, 0, 0], [0.01, 0.02, 0.02], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1] })),
    shapes: Object.fromEntries(shapes.map((one, i) => [`shape${i + 1}`, one])),
  }
  const empty = { machines: { arm: mechanismPart({ body }) }, loops: {}, estimators: {}, trials: {}, tray: {} }
  return { format: 'calm-hand', version: 2, title: 'Arm', about: '', note: '', up: '+z', ...empty } as unknown as Document
}

const files = (entries: Record<string, string>): Files =>
  new Map(Object.entries(entries).map(([path, text]) => [path, strToU8(text)]))
/** Keeps under a hash that tells the content. */
const keep = (_name: string, bytes: Uint8Array): Promise<Outcome<string>> => Promise.resolve(done(`hash${bytes.length}`))

describe('a bundle', () => {
  it('holds the document and its meshes, and gives them back', async () => {
    const document = documentWith(shape('parts/cone.stl', 'hash5'), shape('cone.stl', 'hash7'), shape('lost.stl'))
    const packed = packBundle(
      document,
      new Map([
        ['hash5', strToU8('12345')],
        ['hash7', strToU8('1234567')],
      ]),
    )
    const back = expectDone(unzipFiles(packed))
    expect(JSON.parse(documentOfBundle(back)!)).toEqual(document)
    expect([...back.keys()].sort()).toEqual(['document.json', 'meshes/hash5/cone.stl', 'meshes/hash7/cone.stl'])
    expect(await keepBundleMeshes(document, back, keep)).toEqual({ kind: 'done', value: undefined })
  })

  it('is refused where a mesh is missing or another one', async () => {
    const document = documentWith(shape('cone.stl', 'hash5'))
    const bare = await keepBundleMeshes(document, new Map(), keep)
    expect(bare).toMatchObject({ kind: 'refused', problems: [{ where: 'meshes/hash5', what: /lacks a mesh/ }] })
    const other = await keepBundleMeshes(document, files({ 'meshes/hash5/cone.stl': '1234' }), keep)
    expect(other).toMatchObject({ kind: 'refused', problems: [{ what: /not the one that was saved/ }] })
  })

  it('refuses what is no zip, and a zip that would fill the memory, before unpacking it', () => {
    expect(unzipFiles(strToU8('not a zip'))).toMatchObject({ kind: 'refused', problems: [{ where: 'bundle' }] })
    const many = Object.fromEntries(Array.from({ length: 5002 }, (_, i) => [`f${i}`, new Uint8Array(0)]))
    expect(unzipFiles(zipSync(many))).toMatchObject({ kind: 'refused', problems: [{ what: /5001 files/ }] })
    const zeros = zipSync({ 'a.stl': new Uint8Array(1000) }, { level: 9 })
    // its directory announces 2 GB
    const lie = zeros.slice()
    const at = lie.findIndex((_, i) => lie[i] === 0x50 && lie[i + 1] === 0x4b && lie[i + 2] === 1 && lie[i + 3] === 2)
    new DataView(lie.buffer).setUint32(at + 24, 2_000_000_000, true)
    expect(unzipFiles(lie)).toMatchObject({ kind: 'refused', problems: [{ what: /2000 MB/ }] })
  })

  it('leaves out folders and what systems put beside files', () => {
    const packed = zipSync({ 'a/b.urdf': strToU8('<robot/>'), '__MACOSX/a/b.urdf': strToU8('x'), 'a/.hidden': strToU8('x') })
    expect([...expectDone(unzipFiles(packed)).keys()]).toEqual(['a/b.urdf'])
  })
})

describe('a robot description among files', () => {
  it('is the one .urdf; none, several, or a xacro are explained', () => {
    expect(expectDone(robotOfFiles(files({ 'r/arm.urdf': '<robot/>', 'r/arm.stl': '' })))).toBe('<robot/>')
    expect(robotOfFiles(files({ 'a.txt': '' }))).toMatchObject({ problems: [{ what: /neither a robot description/ }] })
    expect(robotOfFiles(files({ 'a.urdf': '', 'b.urdf': '' }))).toMatchObject({ problems: [{ what: /a\.urdf, b\.urdf/ }] })
    expect(robotOfFiles(files({ 'a.urdf.xacro': '' }))).toMatchObject({ problems: [{ remedy: /Expand it first/ }] })
  })

  it('finds its meshes by as much of the path as agrees', async () => {
    const document = documentWith(
      shape('package://arm/meshes/visual/link.stl'),
      shape('package://arm/meshes/collision/link.stl'),
      shape('../meshes/hand.v2.dae'),
      shape('gone.obj'),
    )
    const given = files({
      'arm/meshes/collision/link.stl': '123',
      'arm/meshes/visual/link.stl': '12345',
      'arm/meshes/hand.v2.dae': '<COLLADA/>',
    })
    const { hashes, problems } = await withMeshes(document, given, keep)
    const found = withMeshContent(document, hashes)
    expect(meshPlaces(found).map(({ mesh }) => mesh)).toEqual(['hash5', 'hash3', undefined, undefined])
    expect(problems).toEqual([
      { where: '../meshes/hand.v2.dae', what: 'Meshes of the sort .dae cannot be read.', remedy: expect.stringMatching(/STL/) },
      { where: 'gone.obj', what: expect.stringMatching(/not among the files/), remedy: expect.stringMatching(/gone\.obj/) },
    ])
    expect(missingMeshes(found)[0]!.what).toBe('2 meshes are not here and not drawn: hand.v2.dae, gone.obj.')
    expect(expectDone(checkDocument(found)).cautions).toHaveLength(1)
  })

  it('tells a mesh that cannot be read once, however many shapes show it', async () => {
    const broken = () =>
      Promise.resolve(refusedFor('link.stl', 'This is neither a text nor a binary STL file.', 'Export it again.'))
    const { hashes, problems } = await withMeshes(
      documentWith(shape('link.stl'), shape('link.stl')),
      files({ 'link.stl': 'x' }),
      broken,
    )
    expect([hashes.size, problems.length]).toEqual([0, 1])
  })
})
