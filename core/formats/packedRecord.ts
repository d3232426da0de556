import { strFromU8, strToU8 } from 'fflate'
import Joi from 'joi'
import { columnsNow, done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { columnHead, mostRecordBytes } from '../simulation'
import type { Column, Record } from '../simulation'

const magic = 0x43485231 // 'CHR1'

/** Bytes of the head: names and units of thousands of columns. */
const longestHead = 4_000_000

/** What stands before the numbers of a packed record. */
export interface RecordHead extends Omit<Record, 'time' | 'columns' | 'rows'> {
  readonly rows: number
  readonly columns: readonly Column[]
}

export interface ReadHead {
  readonly head: RecordHead
  /** Where the numbers begin, and how long the whole record is, in bytes. */
  readonly start: number
  readonly length: number
}

const words = (most: number) => Joi.string().max(most).allow('')
const headSchema = Joi.object({
  hash: Joi.string().hex().length(32).required(),
  trial: Joi.string().max(40).required(),
  seed: Joi.number().required(),
  layers: Joi.array().items(words(60)).max(100).required(),
  rows: Joi.number().integer().min(0).max(mostRecordBytes).required(),
  columns: Joi.array()
    .max(10_000)
    .items(
      Joi.object({
        name: words(200).required(),
        label: words(300).required(),
        unit: words(60).required(),
        role: Joi.string().valid('reference', 'actual', 'measured', 'estimate', 'command', 'term').required(),
        angle: words(40),
        family: Joi.object({
          name: words(200).required(),
          label: words(300).required(),
          over: words(60).required(),
          at: Joi.alternatives(Joi.number(), words(300)).required(),
        }).unknown(true),
        every: Joi.number().positive(),
      }).unknown(true),
    )
    .required(),
  ending: Joi.alternatives(
    Joi.object({ kind: Joi.string().valid('finished', 'stopped').required() }).unknown(true),
    Joi.object({
      kind: Joi.string().valid('ended').required(),
      at: Joi.number().required(),
      check: words(60).required(),
    }).unknown(true),
    Joi.object({
      kind: Joi.string().valid('diverged').required(),
      at: Joi.number().required(),
      state: words(200).required(),
      value: Joi.number().allow(null).required(), // what is no number is null in JSON
      why: words(600),
    }).unknown(true),
  ).required(),
  cues: Joi.array()
    .max(10_000)
    .items(Joi.object({ cue: words(60).required(), began: Joi.number(), over: Joi.number() }).unknown(true)),
  accuracy: Joi.object({
    share: Joi.number().min(0).max(1).required(),
    column: words(200).required(),
    label: words(300).required(),
  }).unknown(true),
  limits: Joi.array()
    .max(10_000)
    .items(
      Joi.object({
        sort: Joi.string().valid('stop', 'drive', 'ground', 'touch', 'unbalanced').required(),
        name: words(200).required(),
        label: words(300).required(),
        unit: words(60).required(),
        ...Object.fromEntries(['at', 'during', 'limit', 'farthest'].map((slot) => [slot, Joi.number().required()])),
      }).unknown(true),
    ),
}).unknown(true)

/**
 * A record as bytes, for keeping and sending: the marker, the length of a JSON head, the head padded to 8 bytes, then
 * the columns one after the other as little-endian doubles, time first.
 */
export function packRecord(record: Record): Uint8Array<ArrayBuffer> {
  const { time, columns, rows: _rows, ...rest } = record
  const head = JSON.stringify({ ...rest, rows: time.length, columns: columns.map(columnHead) })
  const letters = strToU8(head)
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

/** Reads the head from the first bytes of a packed record, checked like a document. */
export function readRecordHead(bytes: Uint8Array): Outcome<ReadHead> {
  if (bytes.length < 8) return wrong('The record is empty.')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const letters = view.getUint32(4)
  if (view.getUint32(0) !== magic || letters > longestHead || letters > bytes.length - 8)
    return wrong('This is not a packed record.')
  let value: unknown
  try {
    value = JSON.parse(strFromU8(bytes.subarray(8, 8 + letters)))
  } catch {
    return wrong('The head of the record is damaged.')
  }
  const { error } = headSchema.validate(value, { convert: false })
  if (error !== undefined) return wrong(`The head of the record is not as it should be: ${error.message.replaceAll('"', '`')}.`)
  const head = value as RecordHead
  const start = Math.ceil((8 + letters) / 8) * 8
  const length = start + 8 * head.rows * (head.columns.length + 1)
  if (length > mostRecordBytes) return wrong(`The record has more than ${mostRecordBytes / 1e6} MB.`)
  return done({ head, start, length })
}

export function unpackRecord(packed: Uint8Array): Outcome<Record> {
  const read = readRecordHead(packed)
  if (read.kind === 'refused') return read
  const { head, start, length } = read.value
  if (packed.length !== length) return wrong('The record is cut short.')
  const { rows, columns, ending, ...rest } = head
  const numbers = new Float64Array(Uint8Array.from(packed).buffer, start) // a copy: aligned, and ours
  const values = (i: number) => numbers.slice(i * rows, (i + 1) * rows)
  const names = columnsNow(columns.map(({ name }) => name))
  const ended = ending.kind === 'diverged' ? { ...ending, value: ending.value ?? NaN } : ending
  return done({
    ...rest,
    ending: ended,
    time: values(0),
    columns: columns.map((column, i) => ({ ...column, name: names[i]!, values: values(i + 1) })),
  })
}

function wrong(what: string): Outcome<never> {
  return refusedFor('record', what, 'Run the trial again.')
}
