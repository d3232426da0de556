import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { Column, Record } from '../simulation'

const magic = 0x43485231 // 'CHR1'

/**
 * A record as bytes, for keeping and sending: the marker, the length of a JSON head, the head padded to 8 bytes, then
 * the columns one after the other as little-endian doubles, time first.
 */
export function packRecord(record: Record): Uint8Array<ArrayBuffer> {
  const { time, columns, ...rest } = record
  const head = JSON.stringify({ ...rest, rows: time.length, columns: columns.map(({ values: _values, ...column }) => column) })
  const letters = utf8(head)
  const start = Math.ceil((8 + letters.length) / 8) * 8
  const bytes = new Uint8Array(start + 8 * time.length * (columns.length + 1))
  const view = new DataView(bytes.buffer)
  view.setUint32(0, magic)
  view.setUint32(4, letters.length)
  bytes.set(letters, 8)
  const numbers = new Float64Array(bytes.buffer, start)
  ;[time, ...columns.map(({ values }) => values)].forEach((values, i) => numbers.set(values, i * time.length))
  return bytes
}

export function unpackRecord(packed: Uint8Array): Outcome<Record> {
  const wrong = (what: string) => refusedFor('record', what, 'Run the trial again.')
  if (packed.length < 8) return wrong('The record is empty.')
  const bytes = Uint8Array.from(packed) // aligned, and ours
  const view = new DataView(bytes.buffer)
  const length = view.getUint32(4)
  if (view.getUint32(0) !== magic || length > bytes.length - 8) return wrong('This is not a packed record.')
  let head: { rows: number; columns: Column[] } & Omit<Record, 'time' | 'columns'>
  try {
    head = JSON.parse(fromUtf8(bytes.subarray(8, 8 + length))) as typeof head
  } catch {
    return wrong('The head of the record is damaged.')
  }
  const { rows, columns, ...rest } = head
  const start = Math.ceil((8 + length) / 8) * 8
  if (
    !Number.isInteger(rows) ||
    rows < 0 ||
    !Array.isArray(columns) ||
    bytes.length !== start + 8 * rows * (columns.length + 1)
  ) {
    return wrong('The record is cut short.')
  }
  const numbers = new Float64Array(bytes.buffer, start)
  const values = (i: number) => numbers.slice(i * rows, (i + 1) * rows)
  return done({ ...rest, time: values(0), columns: columns.map((column, i) => ({ ...column, values: values(i + 1) })) })
}

function utf8(text: string): Uint8Array {
  return Uint8Array.from(unescape(encodeURIComponent(text)), (letter) => letter.charCodeAt(0))
}

function fromUtf8(bytes: Uint8Array): string {
  return decodeURIComponent(escape(String.fromCharCode(...bytes)))
}
