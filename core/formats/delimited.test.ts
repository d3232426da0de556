import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { DelimitedReader, parseDelimited } from './delimited'
import type { Delimited, DelimitedLook } from './delimited'

const bytesOf = (text: string) => new TextEncoder().encode(text)

function read(text: string, asked: Partial<DelimitedLook> = {}): Delimited {
  const made = parseDelimited('record.csv', bytesOf(text), asked)
  if (made.kind === 'refused') throw new Error(made.problems[0]!.what)
  return made.value
}

/** The same in pieces of a few bytes, as a stream may come. */
function readInPieces(text: string, size: number): Delimited {
  const reader = new DelimitedReader('record.csv', { delimiter: ',', decimal: '.' })
  const all = bytesOf(text)
  for (let at = 0; at < all.length; at += size) reader.push(all.slice(at, at + size))
  const made = reader.end()
  if (made.kind === 'refused') throw new Error(made.problems[0]!.what)
  return made.value
}

/** Rows as the reference has them: null where nothing stands, words as they are. */
function rowsOf({ columns, rows }: Delimited) {
  return Array.from({ length: rows }, (_, k) =>
    columns.map(({ values, texts }) => {
      const place = texts?.places[k] ?? -1
      return place >= 0 ? texts!.words[place]! : Number.isNaN(values[k]!) ? null : values[k]!
    }),
  )
}

interface EdgeFile {
  readonly name: string
  readonly text: string
  readonly delimiter: DelimitedLook['delimiter']
  readonly decimal: DelimitedLook['decimal']
}

/** RFC 4180 and the conventions of the reference file; see shared/reference/README. */
const reference = JSON.parse(readFileSync(join(import.meta.dirname, '../tests/reference/fmt-csv-edge.json'), 'utf8')) as {
  readonly inputs: { readonly files: readonly EdgeFile[] }
  readonly expected: {
    readonly files: readonly { readonly header: string[]; readonly rows: unknown[][]; readonly n_rows: number }[]
  }
}

describe('delimited text', () => {
  it.each(reference.inputs.files.map((file, i) => ({ ...file, expected: reference.expected.files[i]! })))(
    'is read as the reference says: $name',
    ({ text, delimiter, decimal, expected }) => {
      for (const made of [read(text, { delimiter, decimal }), read(text)]) {
        expect(made.columns.map(({ name }) => name)).toEqual(expected.header)
        expect(made.rows).toBe(expected.n_rows)
        expect(rowsOf(made)).toEqual(expected.rows)
        expect([made.delimiter, made.decimal]).toEqual([delimiter, decimal])
      }
    },
  )

  it('is the same in pieces of any size', () => {
    const text = 'a,"b ""c""",d\r\n1,2.5,x\r\n\r\n"3",-4e-3,"y\r\nz"\r\n5,,6'
    const whole = rowsOf(read(text))
    expect(whole).toEqual([
      [1, 2.5, 'x'],
      [3, -0.004, 'y\r\nz'],
      [5, null, 6],
    ])
    for (let size = 1; size < 12; size++) expect(rowsOf(readInPieces(text, size))).toEqual(whole)
  })

  it('gives the nearest double of what is written', () => {
    const written = [
      '0.1',
      '123456789012345678',
      '1e23',
      '4.35',
      '-0.000001234567890123',
      '9007199254740993',
      '5e-324',
      '1e400',
      '.5',
      '7.',
      '-0',
    ]
    const { columns } = read(`v\n${written.join('\n')}\n`)
    written.forEach((text, k) => expect(Object.is(columns[0]!.values[k], Number(text))).toBe(true))
  })

  it('takes a first row of numbers as numbers', () => {
    const made = read('0,1\n0.1,2\n')
    expect([made.hasHeader, made.rows, made.columns.map(({ name }) => name)]).toEqual([false, 2, ['column 1', 'column 2']])
  })

  it('tells of rows that are longer or shorter, and names columns apart', () => {
    const made = read('t,x,x\n1,2,3\n2,3\n3,4,5,6\n')
    expect(made.uneven).toEqual({ count: 2, line: 3 })
    expect(made.columns.map(({ name }) => name)).toEqual(['t', 'x', 'x (2)'])
    expect(rowsOf(made)).toEqual([
      [1, 2, 3],
      [2, 3, null],
      [3, 4, 5],
    ])
  })

  it('keeps every second row, then every fourth, of what is too long to keep', () => {
    const reader = new DelimitedReader('long.csv', {}, 200)
    reader.push(bytesOf(`t,k\n${Array.from({ length: 1000 }, (_, k) => `${k / 10},${k}`).join('\n')}\n`))
    const made = reader.end()
    if (made.kind === 'refused') throw new Error()
    expect(made.value.every).toBe(16)
    expect([...made.value.columns[1]!.values]).toEqual(Array.from({ length: 63 }, (_, k) => 16 * k))
  })

  it.each([
    { text: '', says: 'nothing in this file' },
    { text: '\n \n', says: 'nothing in this file' },
    { text: 'PK\u0003\u0000\u0000', says: 'no text' },
    { text: `a,b\n"${'x'.repeat(1_000_010)}`, says: 'no end', piece: true },
  ])('refuses what it cannot read: $says', ({ text, says, piece }) => {
    const reader = new DelimitedReader('bad.csv')
    reader.push(bytesOf(text))
    if (piece === true) reader.push(bytesOf('y'))
    const made = reader.end()
    expect(made.kind === 'refused' && made.problems[0]!.what).toContain(says)
  })
})
