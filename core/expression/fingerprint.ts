import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { isNode } from './graph'
import type { Node, Operand, SubFunction } from './graph'
import type { Code, Statement } from './procedure'

/** SHA-256 of the structure of a program: equal for equal code, nodes counted in the order of their making. */
export function fingerprint({ slots, procedures }: Code): string {
  const hash = new Hash()
  const nodes = new Map<Node, number>()
  const numberOf = (node: Node): number => {
    const known = nodes.get(node)
    if (known !== undefined) return known
    // operands first, without calling itself: graphs are deeper than the stack
    const pending: Node[] = [node]
    while (pending.length > 0) {
      const next = pending[pending.length - 1]!
      const missing = nodes.has(next) ? [] : next.operands.filter((one): one is Node => isNode(one) && !nodes.has(one))
      if (missing.length > 0) {
        pending.push(...missing)
        continue
      }
      pending.pop()
      if (nodes.has(next)) continue
      hash.text(next.operation)
      if (next.sort === 'number') {
        hash.whole(next.index)
        if (next.table !== undefined) {
          hash.text(next.table.name)
          next.table.values.forEach((value) => hash.number(value))
        }
        if (next.callee !== undefined) hash.whole(functionNumber(next.callee))
      }
      next.operands.forEach(operand)
      nodes.set(next, nodes.size)
    }
    return nodes.get(node)!
  }
  const operand = (value: Operand) => {
    if (typeof value === 'number') hash.number(value)
    else if (typeof value === 'boolean') hash.text(String(value))
    else hash.whole(numberOf(value))
  }
  const statements = (list: readonly Statement[]) => {
    hash.whole(list.length)
    for (const one of list) {
      hash.text(one.does)
      switch (one.does) {
        case 'assign':
          hash.whole(one.values.length)
          for (const { slot, value } of one.values) {
            hash.whole(slot)
            operand(value)
          }
          break
        case 'when':
          operand(one.condition)
          statements(one.then)
          statements(one.otherwise)
          break
        case 'while':
          operand(one.condition)
          statements(one.body)
          break
        case 'call':
          hash.text(one.procedure)
          break
        case 'copy':
          hash.whole(one.from)
          hash.whole(one.count)
          operand(one.to)
      }
    }
  }
  hash.whole(slots)
  for (const { name, body } of procedures) {
    hash.text(name)
    statements(body)
  }
  return hash.digest()
}

const functions = new WeakMap<SubFunction, number>()
let lastFunction = 0

/** A function stands for itself: what it closes over is not seen. */
function functionNumber(of: SubFunction): number {
  let number = functions.get(of)
  if (number === undefined) functions.set(of, (number = ++lastFunction))
  return number
}

/** Words on their way into one hash. */
class Hash {
  private words = new Int32Array(1 << 16)
  private size = 0
  private readonly names = new Map<string, number>()
  private readonly double = new Float64Array(1)
  private readonly halves = new Int32Array(this.double.buffer)

  whole(value: number): void {
    if (this.size === this.words.length) {
      const longer = new Int32Array(2 * this.size)
      longer.set(this.words)
      this.words = longer
    }
    this.words[this.size++] = value
  }

  number(value: number): void {
    this.double[0] = value
    // a number is no node of the same index
    this.whole(-1)
    this.whole(this.halves[0]!)
    this.whole(this.halves[1]!)
  }

  /** Spelled where it comes for the first time, then by its number. */
  text(value: string): void {
    const known = this.names.get(value)
    if (known !== undefined) return this.whole(known)
    this.names.set(value, this.names.size)
    this.whole(-2)
    this.whole(value.length)
    for (let i = 0; i < value.length; i++) this.whole(value.charCodeAt(i))
  }

  digest(): string {
    return bytesToHex(sha256(new Uint8Array(this.words.buffer, 0, 4 * this.size)))
  }
}
