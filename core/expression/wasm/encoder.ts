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

const doubleBytes = new Uint8Array(8)
const doubleView = new DataView(doubleBytes.buffer)

export function double(value: number): number[] {
  doubleView.setFloat64(0, value, true)
  return [...doubleBytes]
}

export function list(items: readonly (readonly number[])[]): number[] {
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
  readonly code: readonly number[]
}

export interface ModuleParts {
  readonly functions: readonly FunctionBody[]
  readonly exports: readonly { readonly name: string; readonly index: number }[]
  readonly pages: number
  readonly data: readonly { readonly address: number; readonly values: readonly number[] }[]
}

/** A module with one memory, exported as `memory`, that can grow. */
export function encodeModule({ functions, exports, pages, data }: ModuleParts): Uint8Array<ArrayBuffer> {
  const signatures = [...new Set(functions.map(signature))]
  const types = signatures.map((key) => {
    const [count, gives] = key.split(':')
    return [0x60, ...list(Array.from({ length: Number(count) }, () => [f64])), ...list(gives === 'number' ? [[f64]] : [])]
  })
  const bytes: number[] = [0, 0x61, 0x73, 0x6d, 1, 0, 0, 0]
  const section = (id: number, content: readonly number[]) => {
    bytes.push(id, ...unsigned(content.length))
    for (const byte of content) bytes.push(byte)
  }
  section(1, list(types))
  section(3, list(functions.map((body) => unsigned(signatures.indexOf(signature(body))))))
  section(5, list([[0, ...unsigned(pages)]]))
  section(7, list([[...text('memory'), 2, 0], ...exports.map(({ name, index }) => [...text(name), 0, ...unsigned(index)])]))
  section(10, list(functions.map(encodeBody)))
  section(11, list(data.map(encodeData)))
  return new Uint8Array(bytes)
}

function signature(body: FunctionBody): string {
  return `${body.parameters}:${body.gives}`
}

function encodeBody({ locals, code }: FunctionBody): number[] {
  const groups = locals.filter(([count]) => count > 0).map(([count, type]) => [...unsigned(count), type])
  const content = [...list(groups), ...code, 0x0b]
  return [...unsigned(content.length), ...content]
}

function encodeData({ address, values }: ModuleParts['data'][number]): number[] {
  return [0, 0x41, ...signed(address), 0x0b, ...unsigned(values.length * 8), ...values.flatMap(double)]
}
