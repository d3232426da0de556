import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { nodesBelow } from './graph'
import type { Operand, SubFunction } from './graph'
import type { Code, Statement } from './procedure'

/** SHA-256 of the structure of a program: its nodes in the order of their making, then what its procedures do with them. */
export function fingerprint({ slots, procedures }: Code): string {
  const hash = new Hash()
  const nodes = nodesBelow(procedures.flatMap(({ body }) => operandsOf(body)))
  const places = new Map(nodes.map((node, i) => [node, i]))
  const operand = (value: Operand) => {
    if (typeof value === 'number') hash.number(value)
    else hash.whole(typeof value === 'boolean' ? (value ? isTrue : isFalse) : places.get(value)!)
  }
  const each = <Item>(list: readonly Item[], put: (item: Item) => void) => {
    hash.whole(list.length)
    list.forEach(put)
  }
  each(nodes, (node) => {
    hash.text(node.operation)
    each(node.operands, operand)
    if (node.sort === 'flag') return
    hash.whole(node.index)
    if (node.table !== undefined) {
      hash.text(node.table.name)
      const { values } = node.table
      // a list of millions stands for itself
      if (values instanceof Float64Array) hash.whole(numberOf(values))
      else each(values, (value) => hash.number(value))
    }
    if (node.callee !== undefined) hash.whole(numberOf(node.callee))
  })
  const statements = (list: readonly Statement[]) =>
    each(list, (one) => {
      hash.text(one.does)
      switch (one.does) {
        case 'assign':
          return each(one.values, ({ slot, value }) => {
            hash.whole(slot)
            operand(value)
          })
        case 'when':
          operand(one.condition)
          statements(one.then)
          return statements(one.otherwise)
        case 'while':
          operand(one.condition)
          return statements(one.body)
        case 'call':
          return hash.text(one.procedure)
        case 'copy':
          hash.whole(one.from)
          hash.whole(one.count)
          return operand(one.to)
      }
    })
  hash.whole(slots)
  each(procedures, ({ name, body }) => {
    hash.text(name)
    statements(body)
  })
  return hash.digest()
}

/** Slots that a program reads by their number. */
export function slotsRead({ procedures }: Code): ReadonlySet<number> {
  const nodes = nodesBelow(procedures.flatMap(({ body }) => operandsOf(body)))
  return new Set(nodes.flatMap((node) => (node.operation === 'slot' ? [node.index] : [])))
}

/** What statements read. */
function operandsOf(body: readonly Statement[]): Operand[] {
  return body.flatMap((one) => {
    switch (one.does) {
      case 'assign':
        return one.values.map(({ value }) => value)
      case 'when':
        return [one.condition, ...operandsOf(one.then), ...operandsOf(one.otherwise)]
      case 'while':
        return [one.condition, ...operandsOf(one.body)]
      case 'call':
        return []
      case 'copy':
        return [one.to]
    }
  })
}

/** Words that begin what is no node: nodes count from 0. */
const [isNumber, isTrue, isFalse, isSpelled] = [-1, -2, -3, -4]

const numbers = new WeakMap<object, number>()
let lastNumber = 0

/** What stands for itself: nobody looks into a function. */
function numberOf(thing: SubFunction | Float64Array): number {
  let number = numbers.get(thing)
  if (number === undefined) numbers.set(thing, (number = ++lastNumber))
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
    this.whole(isNumber)
    this.whole(this.halves[0]!)
    this.whole(this.halves[1]!)
  }

  /** Spelled where it comes for the first time, then by its number. */
  text(value: string): void {
    const known = this.names.get(value)
    if (known !== undefined) return this.whole(known)
    this.names.set(value, this.names.size)
    this.whole(isSpelled)
    this.whole(value.length)
    for (let i = 0; i < value.length; i++) this.whole(value.charCodeAt(i))
  }

  digest(): string {
    return bytesToHex(sha256(new Uint8Array(this.words.buffer, 0, 4 * this.size)))
  }
}
