import type { Table } from '../graph'

/** The binary format of WebAssembly (W3C WebAssembly Core Specification, chapter 5), as far as programs need it. */

export function unsigned(value: number): number[] {
  const bytes: number[] = []
  let rest = value
  do {
    const low = rest & 0x7f
    rest >>>= 7
    bytes.push(rest === 0 ? low : low | 0x80)
  } while (rest !== 0)
  return bytes
}

export function signed(value: number): number[] {
  const bytes: number[] = []
  for (let rest = value; ; rest >>= 7) {
    const low = rest & 0x7f
    const last = rest >> 7 === 0 ? (low & 0x40) === 0 : rest >> 7 === -1 && (low & 0x40) !== 0
    bytes.push(last ? low : low | 0x80)
    if (last) return bytes
  }
}

/** Bytes under way, in one growing array: programs have tens of thousands. */
export class Bytes {
  private bytes = new Uint8Array(256)
  private view = new DataView(this.bytes.buffer)
  length = 0

  push(...values: readonly number[]): void {
    this.room(values.length)
    for (const value of values) this.bytes[this.length++] = value
  }

  unsigned(value: number): void {
    this.room(5)
    let rest = value
    do {
      const low = rest & 0x7f
      rest >>>= 7
      this.bytes[this.length++] = rest === 0 ? low : low | 0x80
    } while (rest !== 0)
  }

  double(value: number): void {
    this.room(8)
    this.view.setFloat64(this.length, value, true)
    this.length += 8
  }

  append(other: Bytes, from = 0, to = other.length): void {
    this.room(to - from)
    this.bytes.set(other.bytes.subarray(from, to), this.length)
    this.length += to - from
  }

  /** Its length, then itself. */
  appendSized(other: Bytes): void {
    this.unsigned(other.length)
    this.append(other)
  }

  taken(): Uint8Array<ArrayBuffer> {
    return this.bytes.slice(0, this.length)
  }

  private room(more: number): void {
    if (this.length + more <= this.bytes.length) return
    const larger = new Uint8Array(Math.max(2 * this.bytes.length, this.length + more))
    larger.set(this.bytes)
    this.bytes = larger
    this.view = new DataView(larger.buffer)
  }
}

export function vectorOf(items: readonly (readonly number[])[]): number[] {
  const bytes = unsigned(items.length)
  for (const item of items) for (const byte of item) bytes.push(byte)
  return bytes
}

export function text(value: string): number[] {
  const bytes = [...value].map((letter) => letter.charCodeAt(0))
  return [...unsigned(bytes.length), ...bytes]
}

export const f64 = 0x7c
export const i32 = 0x7f
export const i64 = 0x7e

export interface FunctionBody {
  readonly parameters: number
  readonly gives: 'nothing' | 'number'
  /** Count and type of locals, after the parameters. */
  readonly locals: readonly (readonly [count: number, type: number])[]
  readonly code: Bytes
}

export interface ModuleParts {
  readonly functions: readonly FunctionBody[]
  readonly exports: readonly { readonly name: string; readonly index: number }[]
  readonly pages: number
  readonly data: readonly { readonly address: number; readonly values: Table['values'] }[]
}

/** A module with one memory, exported as `memory`, that can grow. */
export function encodeModule({ functions, exports, pages, data }: ModuleParts): Uint8Array<ArrayBuffer> {
  const signatures = [...new Set(functions.map(signature))]
  const types = signatures.map((key) => {
    const [count, gives] = key.split(':')
    return [0x60, ...vectorOf(Array.from({ length: Number(count) }, () => [f64])), ...vectorOf(gives === 'number' ? [[f64]] : [])]
  })
  const module = new Bytes()
  module.push(0, 0x61, 0x73, 0x6d, 1, 0, 0, 0)
  const section = (id: number, fill: (content: Bytes) => void) => {
    const content = new Bytes()
    fill(content)
    module.push(id)
    module.appendSized(content)
  }
  const listed = (items: readonly (readonly number[])[]) => (content: Bytes) => content.push(...vectorOf(items))
  section(1, listed(types))
  section(3, listed(functions.map((body) => unsigned(signatures.indexOf(signature(body))))))
  section(5, listed([[0, ...unsigned(pages)]]))
  section(7, listed([[...text('memory'), 2, 0], ...exports.map(({ name, index }) => [...text(name), 0, ...unsigned(index)])]))
  section(10, (content) => {
    content.unsigned(functions.length)
    for (const body of functions) content.appendSized(encodedBody(body))
  })
  section(11, (content) => {
    content.unsigned(data.length)
    for (const { address, values } of data) {
      content.push(0, 0x41, ...signed(address), 0x0b, ...unsigned(values.length * 8))
      for (const value of values) content.double(value)
    }
  })
  return module.taken()
}

function signature(body: FunctionBody): string {
  return `${body.parameters}:${body.gives}`
}

function encodedBody({ locals, code }: FunctionBody): Bytes {
  const content = new Bytes()
  content.push(...vectorOf(locals.filter(([count]) => count > 0).map(([count, type]) => [...unsigned(count), type])))
  content.append(code)
  content.push(0x0b)
  return content
}
