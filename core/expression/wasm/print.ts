import { Graph, isNode, isWide } from '../graph'
import { comparisons, connectives, primitives, uniformInstructions } from '../operations'
import { lowering } from '../rebuild'
import { schedule } from '../schedule'
import { splitPairs } from './pairs'
import { v128, vectorCodes, vectorOperations } from './vector'
import { Bytes, encodeModule, f64, i32, i64, signed, unsigned } from './encoder'
import type { Flag, Node, NumberNode, Operand, Scalar, SubFunction, Table } from '../graph'
import type { PrimitiveName } from '../operations'
import type { Assignment, Code, Statement } from '../procedure'
import type { Rebuilder } from '../rebuild'
import type { Item, Root, Schedule } from '../schedule'
import type { FunctionBody } from './encoder'

export const localGet = 0x20
export const localSet = 0x21
const pageBytes = 65536
/** Operations beyond which a branch costs less than computing an arm in vain. */
const worthABranch = 6
/** Slots. */
const longestSpelledCopy = 128

/** A program's module and how many slots it takes in all; rows of a record go behind them. */
export interface WasmModule {
  readonly bytes: Uint8Array<ArrayBuffer>
  readonly slots: number
}

/** Every procedure becomes an exported function without parameters. */
export function printWasm(code: Code): WasmModule {
  return new Printer(code, 8, (printer, procedures) => new BodyPrinter(printer, 0, procedures)).module()
}

type MakeBody = (printer: Printer, procedures: ReadonlyMap<string, number>) => BodyPrinter

/** Prints a program: its procedures, what they call, and the tables they read. */
export class Printer {
  private readonly functions: (FunctionBody | undefined)[] = []
  private readonly subFunctions = new Map<SubFunction, number>()
  private readonly tables = new Map<Table, number>()
  private uniformIndex: number | undefined
  private slots: number

  constructor(
    private readonly code: Code,
    /** Bytes of a slot. */
    private readonly slotBytes: number,
    readonly body: MakeBody,
  ) {
    this.slots = code.slots
  }

  module(): WasmModule {
    const { procedures } = this.code
    const names = new Map(procedures.map(({ name }) => [name, this.reserve()]))
    for (const { name, body } of procedures) {
      const printer = this.body(this, names)
      printer.statements(body)
      this.functions[names.get(name)!] = printer.finish('nothing')
    }
    const data = [...this.tables].map(([table, slot]) => ({ address: slot * this.slotBytes, values: table.values }))
    const bytes = encodeModule({
      functions: this.functions.map((body) => body!),
      exports: [...names].map(([name, index]) => ({ name, index })),
      pages: Math.ceil((this.slots * this.slotBytes) / pageBytes),
      data,
    })
    return { bytes, slots: this.slots }
  }

  reserve(): number {
    this.functions.push(undefined)
    return this.functions.length - 1
  }

  place(index: number, body: FunctionBody): void {
    this.functions[index] = body
  }

  scratch(count: number): number {
    this.slots += count
    return this.slots - count
  }

  /** Where a table begins, in bytes. */
  table(table: Table): number {
    const known = this.tables.get(table)
    if (known !== undefined) return known * this.slotBytes
    const slot = this.scratch(Math.ceil((table.values.length * 8) / this.slotBytes))
    this.tables.set(table, slot)
    return slot * this.slotBytes
  }

  subFunction(callee: SubFunction): number {
    const known = this.subFunctions.get(callee)
    if (known !== undefined) return known
    const index = this.reserve()
    this.subFunctions.set(callee, index)
    const graph = new Graph()
    const result = callee.body(...Array.from({ length: callee.arity }, (_, i) => graph.argument(i)))
    const printer = new BodyPrinter(this, callee.arity, new Map())
    printer.result(result)
    this.place(index, printer.finish('number'))
    return index
  }

  uniform(): number {
    if (this.uniformIndex === undefined) {
      this.uniformIndex = this.reserve()
      const code = new Bytes()
      code.push(...uniformInstructions())
      this.place(this.uniformIndex, { parameters: 3, gives: 'number', locals: [[1, i64]], code })
    }
    return this.uniformIndex
  }
}

/** Prints one function. Locals are numbered per type while printing and placed behind the parameters at the end. */
export class BodyPrinter {
  protected readonly bytes = new Bytes()
  protected readonly numbers = new LocalPool()
  protected readonly flags = new LocalPool()
  protected readonly wides = new LocalPool()
  /** Positions in `bytes` to be filled with a local's number once the count of the locals before its pool is known. */
  private readonly laterUses: { at: number; pool: LocalPool; local: number }[] = []

  protected readonly numberType: number = f64
  protected readonly flagType: number = i32

  constructor(
    protected readonly printer: Printer,
    protected readonly parameters: number,
    private readonly procedures: ReadonlyMap<string, number>,
  ) {}

  finish(gives: FunctionBody['gives']): FunctionBody {
    const flags = this.parameters + this.numbers.size
    const code = new Bytes()
    let from = 0
    for (const { at, pool, local } of this.laterUses) {
      code.append(this.bytes, from, at)
      code.unsigned((pool === this.flags ? flags : flags + this.flags.size) + local)
      from = at
    }
    code.append(this.bytes, from)
    return {
      parameters: this.parameters,
      gives,
      locals: [
        [this.numbers.size, this.numberType],
        [this.flags.size, this.flagType],
        [this.wides.size, v128],
      ],
      code,
    }
  }

  result(value: Scalar): void {
    this.block([{ value: lowering().number(value) }])
  }

  statements(body: readonly Statement[]): void {
    for (const statement of body) this.statement(statement)
  }

  private statement(statement: Statement): void {
    switch (statement.does) {
      case 'assign':
        return this.assign(statement.values)
      case 'call':
        this.bytes.push(0x10)
        this.bytes.unsigned(this.procedures.get(statement.procedure)!)
        return
      case 'when':
        this.condition(statement.condition)
        this.bytes.push(0x04, 0x40)
        this.statements(statement.then)
        if (statement.otherwise.length > 0) this.bytes.push(0x05)
        this.statements(statement.otherwise)
        this.bytes.push(0x0b)
        return
      case 'while':
        this.bytes.push(0x02, 0x40, 0x03, 0x40)
        this.condition(statement.condition)
        this.bytes.push(0x45, 0x0d, 1)
        this.statements(statement.body)
        this.bytes.push(0x0c, 0, 0x0b, 0x0b)
        return
      case 'copy':
        this.block([{ value: lowering().number(statement.to) }])
        return this.copy(statement.from, statement.count)
      default:
        return statement satisfies never
    }
  }

  /** To the slot whose number is on the stack. A short copy is spelled out: the general instruction leaves the compiled code. */
  protected copy(from: number, count: number): void {
    this.bytes.push(0xfc, 0x02, 0x41, 3, 0x74) // to i32, times 8
    if (count > longestSpelledCopy) {
      this.bytes.push(0x41, ...signed(from * 8), 0x41, ...signed(count * 8), 0xfc, 0x0a, 0, 0)
      return
    }
    const address = this.flags.take()
    this.later(localSet, this.flags, address)
    for (let at = 0; at < count; at += 2) {
      const [load, store] =
        count - at > 1
          ? [
              [0xfd, vectorCodes.load],
              [0xfd, vectorCodes.store],
            ]
          : [[0x2b], [0x39]]
      this.later(localGet, this.flags, address)
      this.bytes.push(0x41, 0, ...load!, 3)
      this.bytes.unsigned((from + at) * 8)
      this.bytes.push(...store!, 3)
      this.bytes.unsigned(at * 8)
    }
    this.flags.release(address)
  }

  protected condition(condition: Flag): void {
    this.block([{ value: lowering().flag(condition) }])
  }

  private assign(values: readonly { slot: number; value: Scalar }[]): void {
    const lower = this.lowering()
    const plan = schedule(this.first(values.map(({ slot, value }) => ({ slot, value: lower.number(value) }))))
    if (plan.chunks.length === 1) return this.items(plan.chunks[0]!, plan, new Map())
    const homes = new Map(plan.crossing.map((node) => [node, this.printer.scratch(slotsOf(node))]))
    for (const chunk of plan.chunks) {
      const index = this.printer.reserve()
      const printer = this.printer.body(this.printer, this.procedures)
      printer.items(chunk, plan, homes)
      this.printer.place(index, printer.finish('nothing'))
      this.bytes.push(0x10)
      this.bytes.unsigned(index)
    }
  }

  protected lowering(): Rebuilder {
    return lowering('kept')
  }

  /** Joins values that can be computed two at a time; prints at once those that can go first, and gives the rest. */
  protected first(values: readonly Assignment[]): readonly Assignment[] {
    const { pairs, rest } = splitPairs(values)
    const nothing: Context = { named: new Set(), locals: new Map(), homes: new Map() }
    pairs.forEach((pair) => this.root(pair, nothing))
    return rest
  }

  private block(roots: readonly Root[]): void {
    const plan = schedule(roots)
    for (const chunk of plan.chunks) this.items(chunk, plan, new Map())
  }

  private items(items: readonly Item[], plan: Schedule, homes: ReadonlyMap<Node, number>): void {
    const lastUse = new Map<Node, number>()
    items.forEach(({ reads }, i) => reads.forEach((node) => lastUse.set(node, i)))
    const locals = new Map<Node, number>()
    const context: Context = { named: plan.named, locals, homes }
    items.forEach((item, i) => {
      if (item.does === 'finish') this.root(item.root, context)
      else this.name(item.node, context, lastUse.has(item.node))
      for (const node of item.reads) {
        if (lastUse.get(node) === i && locals.has(node)) this.pool(node).release(locals.get(node)!)
      }
    })
  }

  private name(node: Node, context: Context, usedHere: boolean): void {
    const home = context.homes.get(node)
    if (home !== undefined) {
      this.bytes.push(0x41, 0)
      this.operation(node, context)
      if (node.sort === 'flag') this.flagToNumber()
      this.store(home, isWide(node))
    }
    if (!usedHere) return
    if (home === undefined) this.operation(node, context)
    else this.load(home, node)
    const local = this.pool(node).take()
    context.locals.set(node, local)
    this.local(localSet, node, local)
  }

  /** As it is kept in memory. */
  protected flagToNumber(): void {
    this.bytes.push(0xb7)
  }

  private root(root: Root, context: Context): void {
    if (root.slot === undefined) return this.operand(root.value, context)
    this.bytes.push(0x41, 0)
    this.operand(root.value, context)
    this.store(root.slot, isWide(root.value))
  }

  protected operand(operand: Operand, context: Context): void {
    if (typeof operand === 'number') {
      this.bytes.push(0x44)
      this.bytes.double(operand)
      return
    }
    if (typeof operand === 'boolean') {
      this.bytes.push(0x41, operand ? 1 : 0)
      return
    }
    const local = context.locals.get(operand)
    if (local !== undefined) return this.local(localGet, operand, local)
    const home = context.homes.get(operand)
    if (home !== undefined) return this.load(home, operand)
    this.operation(operand, context)
  }

  protected operation(node: Node, context: Context): void {
    const operands = (values: readonly Operand[]) => values.forEach((value) => this.operand(value, context))
    if (node.sort === 'flag') {
      operands(node.operands)
      this.bytes.push(...{ ...comparisons, ...connectives }[node.operation].wasm)
      return
    }
    switch (node.operation) {
      case 'slot':
        return this.load(node.index, node)
      case 'argument':
        this.bytes.push(localGet)
        this.bytes.unsigned(node.index)
        return
      case 'select':
        return this.select(node, context)
      case 'both':
        return this.both(node.operands as readonly Scalar[], context)
      case 'lane':
        return this.lane(node, context)
      case 'callIf':
        operands([node.operands[0]!])
        this.bytes.push(0x04, f64)
        operands(node.operands.slice(2))
        this.bytes.push(0x10, ...unsigned(this.printer.subFunction(node.callee!)), 0x05)
        operands([node.operands[1]!])
        this.bytes.push(0x0b)
        return
      default:
        if (node.wide) return this.ofVectors(node, context)
        operands(node.operands)
        this.ofDoubles(node)
    }
  }

  private ofVectors({ operation, operands }: NumberNode, context: Context): void {
    operands.forEach((operand) => this.wideOperand(operand, context))
    this.vector(...vectorOperations[operation]!)
  }

  private wideOperand(operand: Operand, context: Context): void {
    if (typeof operand === 'number') this.both([operand, operand], context)
    else this.operand(operand, context)
  }

  /** Two numbers become one vector. */
  private both([first, second]: readonly Scalar[], context: Context): void {
    if (typeof first === 'number' && typeof second === 'number') {
      this.vector(vectorCodes.constant)
      this.bytes.double(first)
      this.bytes.double(second)
      return
    }
    const slots = [first, second].map((one) => (isPlainSlot(one!, context) ? one.index : undefined))
    if (slots[0] !== undefined && (slots[1] === slots[0] + 1 || slots[1] === slots[0])) {
      this.bytes.push(0x41, 0)
      this.vector(slots[1] === slots[0] ? vectorCodes.loadTwice : vectorCodes.load, 3)
      this.bytes.unsigned(slots[0] * 8)
      return
    }
    this.operand(first!, context)
    this.vector(vectorCodes.splat)
    if (first === second) return
    this.operand(second!, context)
    this.vector(vectorCodes.replace, 1)
  }

  private lane({ operands, index }: NumberNode, context: Context): void {
    const [of] = operands as [NumberNode]
    const home = context.homes.get(of)
    if (home !== undefined && !context.locals.has(of)) {
      this.bytes.push(0x41, 0, 0x2b, 3)
      this.bytes.unsigned((home + index) * 8)
      return
    }
    this.operand(of, context)
    this.vector(vectorCodes.extract, index)
  }

  protected vector(...code: readonly number[]): void {
    this.bytes.push(0xfd, ...code)
  }

  /** An operation whose operands, plain doubles, are on the stack. */
  protected ofDoubles({ operation, index, table }: NumberNode): void {
    switch (operation) {
      case 'lookup':
        this.bytes.push(0xfc, 0x02, 0x41, 3, 0x74, 0x2b, 3)
        this.bytes.unsigned(this.printer.table(table!) + 8 * index)
        return
      case 'uniform':
        this.bytes.push(0x10)
        this.bytes.unsigned(this.printer.uniform())
        return
      default:
        this.bytes.push(...primitives[operation as PrimitiveName].wasm)
    }
  }

  /** Cheap arms are both computed; a costly one, used only here, is skipped when it is not chosen. */
  private select({ operands: [condition, then, otherwise], wide }: NumberNode, context: Context): void {
    const type = wide ? v128 : f64
    const arm = (operand: Operand) => (wide ? this.wideOperand(operand, context) : this.operand(operand, context))
    if (nestedCost(then!, context) + nestedCost(otherwise!, context) <= worthABranch) {
      arm(then!)
      arm(otherwise!)
      this.operand(condition!, context)
      this.bytes.push(...(wide ? [0x1c, 1, type] : [0x1b]))
      return
    }
    this.operand(condition!, context)
    this.bytes.push(0x04, type)
    arm(then!)
    this.bytes.push(0x05)
    arm(otherwise!)
    this.bytes.push(0x0b)
  }

  protected load(slot: number, node: Node): void {
    this.bytes.push(0x41, 0, ...(isWide(node) ? [0xfd, vectorCodes.load] : [0x2b]), 3)
    this.bytes.unsigned(slot * 8)
    if (node.sort !== 'flag') return
    this.bytes.push(0x44)
    this.bytes.double(0)
    this.bytes.push(0x62) // not equal
  }

  protected store(slot: number, wide: boolean): void {
    this.bytes.push(...(wide ? [0xfd, vectorCodes.store] : [0x39]), 3)
    this.bytes.unsigned(slot * 8)
  }

  private local(instruction: number, node: Node, local: number): void {
    const pool = this.pool(node)
    if (pool === this.numbers) this.number(instruction, local)
    else this.later(instruction, pool, local)
  }

  protected number(instruction: number, local: number): void {
    this.bytes.push(instruction)
    this.bytes.unsigned(this.parameters + local)
  }

  private later(instruction: number, pool: LocalPool, local: number): void {
    this.bytes.push(instruction)
    this.laterUses.push({ at: this.bytes.length, pool, local })
  }

  private pool(node: Node): LocalPool {
    if (node.sort === 'flag') return this.flags
    return node.wide ? this.wides : this.numbers
  }
}

export interface Context {
  readonly named: ReadonlySet<Node>
  readonly locals: Map<Node, number>
  readonly homes: ReadonlyMap<Node, number>
}

/** Where chunks hand a value over. */
function slotsOf(node: Node): number {
  return isWide(node) ? 2 : 1
}

function isPlainSlot(value: Scalar, context: Context): value is NumberNode {
  return isNode(value) && value.operation === 'slot' && !context.locals.has(value) && !context.homes.has(value)
}

/** Operations that computing an operand in place takes, counted up to the limit that matters. */
function nestedCost(operand: Operand, context: Context): number {
  let cost = 0
  const pending = [operand]
  while (pending.length > 0 && cost <= worthABranch) {
    const next = pending.pop()!
    if (typeof next !== 'object' || context.locals.has(next) || context.homes.has(next)) continue
    cost++
    pending.push(...next.operands)
  }
  return cost
}

/** Locals given out by number and taken back after their last use. */
class LocalPool {
  size = 0
  private readonly free: number[] = []

  take(): number {
    return this.free.pop() ?? this.size++
  }

  release(local: number): void {
    this.free.push(local)
  }
}
