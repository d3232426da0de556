import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { MeasuredTable, TableColumn } from '../identification'

export interface DelimitedLook {
  readonly delimiter: Delimiter
  readonly decimal: '.' | ','
}

export type Delimiter = ',' | ';' | '\t' | ' '

/** What was read of a file, and what was odd about it. */
export interface Delimited extends MeasuredTable, DelimitedLook {
  /** Whether its first row was names. */
  readonly hasHeader: boolean
  /** Rows with more or fewer fields than the first, and which line the first of them is. */
  readonly uneven: { readonly count: number; readonly line: number } | undefined
}

/** Numbers that are kept of a file: of a longer one every second row, every fourth, and so on. */
const mostNumbers = 40_000_000
const mostColumns = 2000
/** Words that differ in one column; more are notes, not states. */
const mostWords = 4096
/** Bytes of one row: longer, a quote was never closed. */
const longestRow = 1_000_000
/** Bytes of a file by which delimiter and decimal sign are judged. */
const judgedBytes = 65_536

const [lineFeed, carriageReturn, quote, space, tab, minus, plus, zero, nine] = [10, 13, 34, 32, 9, 45, 43, 48, 57]
const [smallE, largeE] = [101, 69]

/**
 * Reads delimited text as it comes, byte after byte: RFC 4180, with byte-order marks, semicolons or tabs as delimiters, decimal
 * commas, blank lines and any line ends. Numbers are the nearest doubles of what is written.
 */
export class DelimitedReader {
  private look: DelimitedLook | undefined
  private header: readonly string[] | undefined
  private hasHeader = true
  private columns: GrowingColumn[] = []
  private rest: Uint8Array = new Uint8Array(0)
  private seen = 0
  private rows = 0
  private every = 1
  private line = 1
  private uneven: { count: number; line: number } | undefined
  private stuck: Outcome<never> | undefined
  private point = 46

  constructor(
    private readonly file: string,
    private readonly asked: Partial<DelimitedLook> = {},
    private readonly most = mostNumbers,
  ) {}

  /** Takes the next bytes of the file; whether more are wanted. */
  push(bytes: Uint8Array): boolean {
    const all = this.rest.length === 0 ? bytes : joined(this.rest, bytes)
    if (this.look === undefined && all.length < judgedBytes) {
      this.rest = all
      return true
    }
    this.read(all, false)
    return this.stuck === undefined
  }

  end(): Outcome<Delimited> {
    this.read(this.rest, true)
    if (this.stuck !== undefined) return this.stuck
    if (this.header === undefined)
      return refusedFor(this.file, 'There is nothing in this file.', 'Give a file whose first line names its columns.')
    const columns = this.columns.map((column, c): TableColumn => ({ name: this.header![c]!, ...column.taken(this.rows) }))
    return done({
      ...{ file: this.file, rows: this.rows, every: this.every, columns, ...this.look! },
      ...{ hasHeader: this.hasHeader, uneven: this.uneven },
    })
  }

  private read(given: Uint8Array, isLast: boolean): void {
    const bytes = this.look === undefined ? this.begun(given) : given
    let at = 0
    while (at < bytes.length && this.stuck === undefined) {
      const next = this.row(bytes, at, isLast)
      if (next === undefined) {
        // it comes again with what follows
        this.columns.forEach((column) => column.cutTo(this.rows))
        break
      }
      at = next
    }
    this.rest = bytes.slice(at)
    if (this.rest.length > longestRow && this.stuck === undefined)
      this.stuck = refusedFor(
        `line ${this.line}`,
        'A row begins there that has no end: is a quote not closed?',
        'Close it, or leave that row out.',
      )
  }

  private begun(given: Uint8Array): Uint8Array {
    const bytes = given[0] === 0xef && given[1] === 0xbb && given[2] === 0xbf ? given.subarray(3) : given
    if (bytes.subarray(0, judgedBytes).includes(0))
      this.stuck = refusedFor(this.file, 'This is no text.', 'Export the record as delimited text (CSV), in UTF-8.')
    const judged = lookOf(new TextDecoder().decode(bytes.subarray(0, judgedBytes)))
    this.look = { ...judged, ...this.asked }
    this.point = this.look.decimal === ',' ? 44 : 46
    return bytes
  }

  /** Reads one row; gives where the next begins, or nothing where it is not all here. */
  private row(bytes: Uint8Array, start: number, isLast: boolean): number | undefined {
    const { delimiter } = this.look!
    const separator = delimiter.charCodeAt(0)
    const end = blankUntil(bytes, start, separator)
    if (end === undefined && !isLast) return undefined
    if (end === undefined || end > start) {
      this.line++
      return end ?? bytes.length
    }
    const isHead = this.header === undefined
    const names: string[] = []
    let at = start
    let field = 0
    let lines = 0
    for (;;) {
      if (separator === space) while (bytes[at] === space) at++
      if (!isHead && field < this.columns.length) {
        // nearly every field is a number right up to the next delimiter: that is read in one go
        const end = numberFrom(bytes, at, bytes.length, this.point)
        const after = bytes[end]
        if (end >= 0 && end < bytes.length - 1 && (after === separator || after === lineFeed)) {
          this.columns[field++]!.putRead()
          at = end
          if (after === lineFeed) break
          at++
          continue
        }
      }
      let from = at
      let to: number
      let text: string | undefined
      while (bytes[from] === space || (bytes[from] === tab && separator !== tab)) from++
      if (bytes[from] === quote) {
        let closed = from + 1
        let doubled = false
        for (;;) {
          if (closed >= bytes.length) break
          if (bytes[closed] === lineFeed) lines++
          if (bytes[closed] !== quote) closed++
          else if (bytes[closed + 1] === quote) {
            doubled = true
            closed += 2
          } else break
        }
        if (closed >= bytes.length && !isLast) return undefined
        text = decoder.decode(bytes.subarray(from + 1, closed))
        if (doubled) text = text.replaceAll('""', '"')
        ;[from, to] = [from + 1, Math.min(closed, bytes.length)]
        at = to + 1
        while (at < bytes.length && bytes[at] !== separator && bytes[at] !== lineFeed && bytes[at] !== carriageReturn) at++
      } else {
        while (at < bytes.length && bytes[at] !== separator && bytes[at] !== lineFeed && bytes[at] !== carriageReturn) at++
        to = at
        while (to > from && (bytes[to - 1] === space || bytes[to - 1] === tab)) to--
      }
      // whether what ends here is a line, only its next byte tells
      if (at >= bytes.length - 1 && !isLast) return undefined
      if (isHead) names.push(text ?? decoder.decode(bytes.subarray(from, to)))
      else if (field < this.columns.length) this.put(this.columns[field]!, bytes, from, to, text)
      field++
      if (bytes[at] === separator && at < bytes.length) {
        at++
        continue
      }
      break
    }
    if (bytes[at] === carriageReturn) at++
    if (bytes[at] === lineFeed) at++
    if (isHead) {
      const again = this.headed(names)
      if (again) return start
    } else this.ended(field)
    this.line += 1 + lines
    return at
  }

  /** Takes the first row as names; whether it is to be read again, as it holds numbers. */
  private headed(names: readonly string[]): boolean {
    if (names.length > mostColumns) {
      this.stuck = refusedFor('line 1', `It has ${names.length} columns; at most ${mostColumns} are read.`, 'Leave some out.')
      return false
    }
    const isNumbers = names.every((name) => name.trim() !== '' && Number.isFinite(Number(name.trim().replace(',', '.'))))
    this.hasHeader = !isNumbers
    this.header = distinct(isNumbers ? names.map((_, i) => `column ${i + 1}`) : names)
    this.columns = names.map(() => new GrowingColumn())
    return isNumbers
  }

  private ended(fields: number): void {
    const width = this.columns.length
    for (let c = fields; c < width; c++) this.columns[c]!.put(NaN)
    if (fields !== width) this.uneven = { count: (this.uneven?.count ?? 0) + 1, line: this.uneven?.line ?? this.line }
    if (this.seen++ % this.every !== 0) return this.columns.forEach((column) => column.cutTo(this.rows))
    this.rows++
    if (this.rows * width <= this.most) return
    // too much to keep: every second row stays
    this.columns.forEach((column) => column.halve())
    this.rows = Math.ceil(this.rows / 2)
    this.every *= 2
  }

  private put(column: GrowingColumn, bytes: Uint8Array, from: number, to: number, quoted: string | undefined): void {
    if (from >= to) return quoted === undefined || quoted === '' ? column.put(NaN) : column.word(quoted)
    const value = numberIn(bytes, from, to, this.point)
    if (value !== undefined) column.put(value)
    else column.word(quoted ?? decoder.decode(bytes.subarray(from, to)))
  }
}

const decoder = new TextDecoder()

function joined(one: Uint8Array, other: Uint8Array): Uint8Array {
  const all = new Uint8Array(one.length + other.length)
  all.set(one)
  all.set(other, one.length)
  return all
}

/** Where the next line begins if this one is blank, its own start if it is not; nothing where its end is not here. */
function blankUntil(bytes: Uint8Array, start: number, separator: number): number | undefined {
  let at = start
  while (bytes[at] === space || (bytes[at] === tab && separator !== tab)) at++
  if (at >= bytes.length) return undefined
  if (bytes[at] === lineFeed) return at + 1
  if (bytes[at] !== carriageReturn) return start
  return at + 1 >= bytes.length ? undefined : bytes[at + 1] === lineFeed ? at + 2 : at + 1
}

const tens = Array.from({ length: 23 }, (_, i) => Number(`1e${i}`))

/**
 * The number that is written between two places; nothing where it is none. Up to 15 digits and powers of ten up to 22 are exact
 * doubles, so one product or quotient of them is the nearest one (Clinger, How to Read Floating Point Numbers Accurately, 1990).
 */
function numberIn(bytes: Uint8Array, from: number, to: number, point: number): number | undefined {
  return numberFrom(bytes, from, to, point) === to ? numberRead[0] : undefined
}

/** The number that was read last: in a place of its own, since one that is handed on has to be made room for, twenty million times. */
const numberRead = new Float64Array(1)

/** Reads the number that begins at a place; gives where it ends, -1 where none begins there. */
function numberFrom(bytes: Uint8Array, from: number, to: number, point: number): number {
  let at = from
  const sign = bytes[at]!
  const isNegative = sign === minus
  if (isNegative || sign === plus) at++
  // whole numbers of nine digits are quicker than others: those beyond are counted apart
  let digits = 0
  let high = 0
  let low = 0
  let power = 0
  let any = false
  let isBehind = false
  for (; at < to; at++) {
    const digit = bytes[at]! - zero
    if (digit >= 0 && digit <= 9) {
      if (digits < 9) high = (high * 10 + digit) | 0
      else low = low * 10 + digit
      if (high !== 0) digits++
      if (isBehind) power--
      any = true
    } else if (!isBehind && bytes[at] === point) isBehind = true
    else break
  }
  if (!any) return -1
  if (at < to && (bytes[at] === smallE || bytes[at] === largeE)) {
    at++
    const isBelow = bytes[at] === minus
    if (isBelow || bytes[at] === plus) at++
    let exponent = 0
    const first = at
    for (; at < to; at++) {
      if (bytes[at]! < zero || bytes[at]! > nine) break
      exponent = Math.min(9999, exponent * 10 + bytes[at]! - zero)
    }
    if (at === first) return -1
    power += isBelow ? -exponent : exponent
  }
  if (digits > 15 || power > 22 || power < -22)
    numberRead[0] = Number(decoder.decode(bytes.subarray(from, at)).replace(String.fromCharCode(point), '.'))
  else {
    const mantissa = digits > 9 ? high * tens[digits - 9]! + low : high
    const size = power < 0 ? mantissa / tens[-power]! : mantissa * tens[power]!
    numberRead[0] = isNegative ? -size : size
  }
  return at
}

/** Names of columns, each once. */
function distinct(names: readonly string[]): readonly string[] {
  const taken = new Set<string>()
  return names.map((name) => {
    let [own, n] = [name, 2]
    while (taken.has(own)) own = `${name} (${n++})`
    taken.add(own)
    return own
  })
}

/** Delimiter and decimal sign of a text: the delimiter that cuts its first lines into most fields of equal number. */
function lookOf(text: string): DelimitedLook {
  const lines = text
    .split(/\r\n|\n|\r/)
    .slice(0, -1)
    .concat(text.length < judgedBytes ? (text.split(/\r\n|\n|\r/).at(-1) ?? '') : '')
    .map((line) => line.replace(/"(?:[^"]|"")*"/g, '"').trim())
    .filter((line) => line !== '')
    .slice(0, 30)
  const counted = ([';', '\t', ',', ' '] as const).map((delimiter) => {
    const counts = lines.map((line) => (delimiter === ' ' ? line.split(/ +/) : line.split(delimiter)).length)
    const usual = counts.at(Math.floor(counts.length / 2)) ?? 1
    const alike = counts.filter((count) => count === usual).length / Math.max(1, counts.length)
    return { delimiter, score: usual < 2 ? 0 : alike }
  })
  const delimiter = counted.reduce((best, one) => (one.score > best.score + 0.01 ? one : best)).delimiter
  const hasPoints = lines.some((line) => /(^|[^\d])-?\d+\.\d/.test(line))
  const hasCommas = delimiter !== ',' && lines.some((line) => /\d,\d/.test(line))
  return { delimiter: counted.every(({ score }) => score === 0) ? ',' : delimiter, decimal: hasCommas && !hasPoints ? ',' : '.' }
}

/** A column that grows by doubling. */
class GrowingColumn {
  private values = new Float64Array(1024)
  private length = 0
  private texts: { places: Int32Array; words: string[]; known: Map<string, number> } | undefined

  put(value: number): void {
    numberRead[0] = value
    this.putRead()
  }

  /** Takes the number that was read last. */
  putRead(): void {
    if (this.length === this.values.length) this.grow()
    if (this.texts !== undefined) this.texts.places[this.length] = -1
    this.values[this.length++] = numberRead[0]!
  }

  word(word: string): void {
    this.put(NaN)
    this.texts ??= { places: new Int32Array(this.values.length).fill(-1), words: [], known: new Map() }
    const { places, words, known } = this.texts
    let place = known.get(word)
    if (place === undefined && words.length < mostWords) known.set(word, (place = words.push(word) - 1))
    places[this.length - 1] = place ?? -1
  }

  cutTo(length: number): void {
    this.length = length
  }

  halve(): void {
    for (let k = 0; 2 * k < this.length; k++) {
      this.values[k] = this.values[2 * k]!
      if (this.texts !== undefined) this.texts.places[k] = this.texts.places[2 * k]!
    }
    this.length = Math.ceil(this.length / 2)
  }

  taken(rows: number): Omit<TableColumn, 'name'> {
    const values = this.values.slice(0, rows)
    if (this.texts === undefined) return { values }
    return { values, texts: { places: this.texts.places.slice(0, rows), words: this.texts.words } }
  }

  private grow(): void {
    const larger = new Float64Array(2 * this.values.length)
    larger.set(this.values)
    this.values = larger
    if (this.texts === undefined) return
    const places = new Int32Array(larger.length).fill(-1)
    places.set(this.texts.places)
    this.texts.places = places
  }
}

/** A table read at once. */
export function parseDelimited(file: string, bytes: Uint8Array, asked: Partial<DelimitedLook> = {}): Outcome<Delimited> {
  const reader = new DelimitedReader(file, asked)
  reader.push(bytes)
  return reader.end()
}
