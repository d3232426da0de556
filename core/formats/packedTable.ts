import { strFromU8, strToU8 } from 'fflate'
import Joi from 'joi'
import { done, mostMeshBytes, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { MeasuredTable } from '../identification'

const magic = 0x43485431 // 'CHT1'
const longestHead = 4_000_000
const ending = '.measured'

/** What a measured record is kept by: the name of its file with this ending. */
export function keptTableName(file: string): string {
  return `${file.slice(-180)}${ending}`
}

export function isKeptTable(name: string): boolean {
  return name.endsWith(ending)
}

const words = (most: number) => Joi.string().max(most).allow('')
const headSchema = Joi.object({
  file: words(300).required(),
  rows: Joi.number().integer().min(0).max(mostMeshBytes).required(),
  every: Joi.number().integer().min(1).required(),
  columns: Joi.array()
    .max(2000)
    .items(Joi.object({ name: words(300).required(), words: Joi.array().max(5000).items(words(1000)) }))
    .required(),
}).required()

interface Head {
  readonly file: string
  readonly rows: number
  readonly every: number
  readonly columns: readonly { readonly name: string; readonly words?: readonly string[] }[]
}

/** As much of a table as may be kept: every second row of a longer one, every fourth, and so on. */
export function thinnedTable(table: MeasuredTable, most = mostMeshBytes - longestHead): MeasuredTable {
  let made = table
  while (sizeOf(made) > most) {
    const rows = Math.ceil(made.rows / 2)
    const columns = made.columns.map(({ name, values, texts }) => ({
      ...{ name, values: halved(values) },
      ...(texts === undefined ? {} : { texts: { ...texts, places: halved(texts.places) } }),
    }))
    made = { ...made, rows, every: 2 * made.every, columns }
  }
  return made
}

function halved<Values extends Float64Array | Int32Array>(values: Values): Values {
  return values.filter((_, k) => k % 2 === 0) as Values
}

function sizeOf({ rows, columns }: MeasuredTable): number {
  return columns.reduce((sum, { texts }) => sum + rows * (texts === undefined ? 8 : 12), 0)
}

/** A table as bytes: the marker, the length of a JSON head, the head padded to 8 bytes, its numbers column by column, then the places of its words. */
export function packTable({ file, rows, every, columns }: MeasuredTable): Uint8Array<ArrayBuffer> {
  const head: Head = {
    ...{ file: file.slice(-300), rows, every },
    columns: columns.map(({ name, texts }) => ({
      name: name.slice(0, 300),
      ...(texts === undefined ? {} : { words: texts.words.map((word) => word.slice(0, 1000)) }),
    })),
  }
  const letters = strToU8(JSON.stringify(head))
  const start = Math.ceil((8 + letters.length) / 8) * 8
  const worded = columns.flatMap(({ texts }) => texts ?? [])
  const bytes = new Uint8Array(start + 8 * rows * columns.length + 4 * rows * worded.length)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, magic)
  view.setUint32(4, letters.length)
  bytes.set(letters, 8)
  const numbers = new Float64Array(bytes.buffer, start, rows * columns.length)
  columns.forEach(({ values }, c) => numbers.set(values, c * rows))
  const places = new Int32Array(bytes.buffer, start + 8 * rows * columns.length)
  worded.forEach((texts, c) => places.set(texts.places, c * rows))
  return bytes
}

export function unpackTable(packed: Uint8Array): Outcome<MeasuredTable> {
  const wrong = (what: string) => refusedFor('record', what, 'Give its file again.')
  if (packed.length < 8) return wrong('This record is empty.')
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength)
  const letters = view.getUint32(4)
  if (view.getUint32(0) !== magic || letters > longestHead || letters > packed.length - 8)
    return wrong('This is no measured record.')
  let value: unknown
  try {
    value = JSON.parse(strFromU8(packed.subarray(8, 8 + letters)))
  } catch {
    return wrong('The head of this record is damaged.')
  }
  const { error } = headSchema.validate(value, { convert: false })
  if (error !== undefined) return wrong(`The head of this record is not as it should be: ${error.message.replaceAll('"', '`')}.`)
  const { file, rows, every, columns } = value as Head
  const start = Math.ceil((8 + letters) / 8) * 8
  const worded = columns.filter((column) => column.words !== undefined)
  if (packed.length !== start + rows * (8 * columns.length + 4 * worded.length)) return wrong('This record is cut short.')
  const own = packed.byteOffset % 8 === 0 ? packed : Uint8Array.from(packed)
  const numbers = new Float64Array(own.buffer, own.byteOffset + start, rows * columns.length)
  const places = new Int32Array(own.buffer, own.byteOffset + start + 8 * rows * columns.length, rows * worded.length)
  return done({
    ...{ file, rows, every },
    columns: columns.map((column, c) => {
      const w = worded.indexOf(column)
      const values = numbers.slice(c * rows, (c + 1) * rows)
      if (column.words === undefined) return { name: column.name, values }
      return { name: column.name, values, texts: { words: column.words, places: places.slice(w * rows, (w + 1) * rows) } }
    }),
  })
}
