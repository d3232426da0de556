import { f64, signed } from './encoder'
import { v128, vectorCodes, vectorOperations } from './vector'
import { BodyPrinter, Printer, localGet, localSet } from './print'
import { i64Constant } from '../operations'
import { lowering } from '../rebuild'
import type { Flag, Node, NumberNode, Operand } from '../graph'
import type { Rebuilder } from '../rebuild'
import type { Assignment, Code } from '../procedure'
import type { Context, WasmModule } from './print'

const flagOperations = { less: 0x49, atMost: 0x4b, equal: 0x47, and: 0x4e, or: 0x50, not: 0x4d } as const
const lanes = [0, 1] as const

/**
 * The same program for two states at once: every slot is a vector of two doubles, 16 bytes, and every operation works on
 * both. What has no vector instruction is done lane by lane, with the same bits as the plain program. Loops and conditions
 * of the program go on while they hold in either state: they must count alike in both, as fixed steps do.
 */
export function printTwin(code: Code): WasmModule {
  return new Printer(code, 16, (printer, procedures) => new TwinBody(printer, 0, procedures)).module()
}

class TwinBody extends BodyPrinter {
  protected override readonly numberType = v128
  protected override readonly flagType = v128

  protected override condition(condition: Flag): void {
    super.condition(condition)
    this.vector(vectorCodes.anyTrue)
  }

  protected override lowering(): Rebuilder {
    return lowering('split')
  }

  protected override first(values: readonly Assignment[]): readonly Assignment[] {
    return values // everything goes in pairs already
  }

  protected override copy(from: number, count: number): void {
    this.vector(vectorCodes.extract, 0)
    this.bytes.push(0xfc, 0x02, 0x41, 4, 0x74) // to i32, times 16
    this.integer(from * 16)
    this.integer(count * 16)
    this.bytes.push(0xfc, 0x0a, 0, 0)
  }

  protected override flagToNumber(): void {
    // a mask is kept as it is
  }

  protected override operand(operand: Operand, context: Context): void {
    if (typeof operand === 'number') return this.constant(operand)
    if (typeof operand === 'boolean') {
      this.vector(vectorCodes.constant, ...new Array<number>(16).fill(operand ? 0xff : 0))
      return
    }
    super.operand(operand, context)
  }

  protected override operation(node: Node, context: Context): void {
    const operands = (values: readonly Operand[]) => values.forEach((value) => this.operand(value, context))
    if (node.sort === 'flag') {
      operands(node.operands)
      this.vector(flagOperations[node.operation])
      return
    }
    switch (node.operation) {
      case 'slot':
        return this.load(node.index)
      case 'select':
        operands([node.operands[1]!, node.operands[2]!, node.operands[0]!])
        this.vector(vectorCodes.bitSelect)
        return
      case 'copySign':
        operands(node.operands)
        this.vector(vectorCodes.constant, ...magnitudeBits, ...magnitudeBits)
        this.vector(vectorCodes.bitSelect)
        return
      case 'callIf':
        return this.callIf(node, context)
      default: {
        const both = vectorOperations[node.operation]
        if (both === undefined) return this.byLane(node, context)
        operands(node.operands)
        this.vector(...both)
      }
    }
  }

  protected override load(slot: number): void {
    this.bytes.push(0x41, 0)
    this.vector(vectorCodes.load, 3)
    this.bytes.unsigned(slot * 16)
  }

  protected override store(slot: number): void {
    this.vector(vectorCodes.store, 3)
    this.bytes.unsigned(slot * 16)
  }

  /** An operation of plain doubles, done for each of the two. */
  private byLane(node: NumberNode, context: Context): void {
    const held = node.operands.map((value) => this.held(value, context))
    for (const lane of lanes) {
      for (const local of held) this.laneOf(local, lane)
      this.ofDoubles(node)
      this.join(lane)
    }
    held.forEach((local) => this.numbers.release(local))
  }

  /** The costly function is called for those of the two that need it; seldom for any. */
  private callIf(node: NumberNode, context: Context): void {
    const [condition, otherwise, ...given] = node.operands
    const [mask, plain] = [this.held(condition!, context), this.held(otherwise!, context)]
    this.number(localGet, mask)
    this.vector(vectorCodes.anyTrue)
    this.bytes.push(0x04, v128)
    const held = given.map((value) => this.held(value, context))
    for (const lane of lanes) {
      this.number(localGet, mask)
      this.vector(vectorCodes.extractInteger, lane)
      this.bytes.push(...i64Constant(0n), 0x52, 0x04, f64)
      for (const local of held) this.laneOf(local, lane)
      this.bytes.push(0x10)
      this.bytes.unsigned(this.printer.subFunction(node.callee!))
      this.bytes.push(0x05)
      this.laneOf(plain, lane)
      this.bytes.push(0x0b)
      this.join(lane)
    }
    this.bytes.push(0x05)
    this.number(localGet, plain)
    this.bytes.push(0x0b)
    for (const local of [mask, plain, ...held]) this.numbers.release(local)
  }

  /** Computed and kept in a local of its own. */
  private held(value: Operand, context: Context): number {
    this.operand(value, context)
    const local = this.numbers.take()
    this.number(localSet, local)
    return local
  }

  private laneOf(local: number, lane: number): void {
    this.number(localGet, local)
    this.vector(vectorCodes.extract, lane)
  }

  /** The first double makes a vector, the second goes into it. */
  private join(lane: 0 | 1): void {
    if (lane === 0) this.vector(vectorCodes.splat)
    else this.vector(vectorCodes.replace, 1)
  }

  private constant(value: number): void {
    this.vector(vectorCodes.constant)
    this.bytes.double(value)
    this.bytes.double(value)
  }

  private integer(value: number): void {
    this.bytes.push(0x41, ...signed(value))
  }
}

/** All bits of a double but its sign. */
const magnitudeBits = [0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0x7f]
