import { Graph } from '../graph'
import { cPrelude, comparisons, connectives, primitives } from '../operations'
import { lowering } from '../rebuild'
import { schedule } from '../schedule'
import type { Flag, Node, Operand, Scalar, SubFunction, Table } from '../graph'
import type { PrimitiveName } from '../operations'
import type { Code, Statement } from '../procedure'
import type { Root } from '../schedule'

/**
 * The program as one C99 file: memory is `double m[]`, every procedure a function `void ch_NAME(void)`. Compile with
 * `-ffp-contract=off` to get the bits of the WebAssembly module. `extraSlots` leaves room behind for records.
 */
export function printC(code: Code, extraSlots = 0): string {
  return new CPrinter(code, extraSlots).text()
}

class CPrinter {
  private readonly tables = new Map<Table, string>()
  private readonly subFunctions = new Map<SubFunction, string>()
  private readonly functions: string[] = []
  private crossing = 0
  private chunk = 0

  constructor(
    private readonly code: Code,
    private readonly extraSlots: number,
  ) {}

  text(): string {
    const { procedures, slots } = this.code
    for (const { name, body } of procedures) {
      const lines = body.flatMap((statement) => this.statement(statement))
      this.functions.push(`void ch_${name}(void) {\n${lines.map((line) => `  ${line}\n`).join('')}}`)
    }
    const tables = [...this.tables].map(
      ([table, name]) =>
        `static const double ${name}[${table.values.length}] = { ${[...table.values].map(cNumber).join(', ')} };`,
    )
    const declarations = procedures.map(({ name }) => `void ch_${name}(void);`)
    return [
      cPrelude,
      `double m[${slots + this.extraSlots}];`,
      `static double x[${Math.max(this.crossing, 1)}];`,
      ...tables,
      ...declarations,
      ...this.functions,
      '',
    ].join('\n')
  }

  private statement(statement: Statement): string[] {
    switch (statement.does) {
      case 'assign':
        return this.assign(statement.values)
      case 'call':
        return [`ch_${statement.procedure}();`]
      case 'when': {
        const { before, value } = this.condition(statement.condition)
        const then = statement.then.flatMap((inner) => this.statement(inner))
        const otherwise = statement.otherwise.flatMap((inner) => this.statement(inner))
        return ['{', ...before, `if (${value}) {`, ...then, '} else {', ...otherwise, '} }']
      }
      case 'while': {
        const { before, value } = this.condition(statement.condition)
        const body = statement.body.flatMap((inner) => this.statement(inner))
        return ['for (;;) {', ...before, `if (!(${value})) break;`, ...body, '}']
      }
      case 'copy': {
        const { before, value } = this.block(lowering().number(statement.to))
        const size = `${statement.count} * sizeof(double)`
        return ['{', ...before, `memcpy(m + (int32_t)${value}, m + ${statement.from}, ${size}); }`]
      }
      default:
        return statement satisfies never
    }
  }

  private condition(condition: Flag): { before: string[]; value: string } {
    return this.block(lowering().flag(condition))
  }

  private block(value: Operand): { before: string[]; value: string } {
    const names = new Map<Node, string>()
    const before: string[] = []
    const plan = schedule([{ value }])
    for (const item of plan.chunks.flat()) {
      if (item.does === 'name') before.push(this.declare(item.node, names))
    }
    return { before, value: this.operand(value, names) }
  }

  private assign(values: readonly { slot: number; value: Scalar }[]): string[] {
    const lower = lowering()
    const plan = schedule(values.map(({ slot, value }): Root => ({ slot, value: lower.number(value) })))
    const homes = new Map<Node, string>()
    for (const node of plan.crossing) homes.set(node, `x[${this.crossing++}]`)
    const bodies = plan.chunks.map((items) => {
      const names = new Map([...homes].map(([node, home]) => [node, node.sort === 'flag' ? `(${home} != 0.0)` : home]))
      return items.map((item) => {
        if (item.does === 'finish') return `m[${item.root.slot}] = ${this.operand(item.root.value, names)};`
        const home = homes.get(item.node)
        if (home !== undefined) return `${home} = ${this.operation(item.node, names)};`
        return this.declare(item.node, names)
      })
    })
    if (bodies.length === 1) return ['{', ...bodies[0]!, '}']
    return bodies.map((lines) => {
      const name = `chunk${this.chunk++}`
      this.functions.push(`static void ${name}(void) {\n${lines.map((line) => `  ${line}\n`).join('')}}`)
      return `${name}();`
    })
  }

  private declare(node: Node, names: Map<Node, string>): string {
    const name = `${node.sort === 'flag' ? 'f' : 'v'}${node.id}`
    const line = `const ${node.sort === 'flag' ? 'int' : 'double'} ${name} = ${this.operation(node, names)};`
    names.set(node, name)
    return line
  }

  private operand(operand: Operand, names: ReadonlyMap<Node, string>): string {
    if (typeof operand === 'number') return cNumber(operand)
    if (typeof operand === 'boolean') return operand ? '1' : '0'
    return names.get(operand) ?? this.operation(operand, names)
  }

  private operation(node: Node, names: ReadonlyMap<Node, string>): string {
    const texts = node.operands.map((operand) => this.operand(operand, names))
    if (node.sort === 'flag')
      return ({ ...comparisons, ...connectives }[node.operation].c as (...operands: string[]) => string)(...texts)
    switch (node.operation) {
      case 'slot':
        return `m[${node.index}]`
      case 'argument':
        return `a${node.index}`
      case 'select':
        return `(${texts[0]} ? ${texts[1]} : ${texts[2]})`
      case 'lookup':
        return `${this.table(node.table!)}[(int32_t)${texts[0]}${node.index === 0 ? '' : ` + ${node.index}`}]`
      case 'uniform':
        return `ch_uniform(${texts.join(', ')})`
      case 'callIf':
        return `(${texts[0]} ? ${this.subFunction(node.callee!)}(${texts.slice(2).join(', ')}) : ${texts[1]})`
      default:
        return (primitives[node.operation as PrimitiveName].c as (...operands: string[]) => string)(...texts)
    }
  }

  private table(table: Table): string {
    const known = this.tables.get(table)
    if (known !== undefined) return known
    const others = [...this.tables.keys()].filter(({ name }) => name === table.name).length
    const name = `table_${table.name}${others === 0 ? '' : others + 1}`
    this.tables.set(table, name)
    return name
  }

  private subFunction(callee: SubFunction): string {
    const known = this.subFunctions.get(callee)
    if (known !== undefined) return known
    const name = `function_${callee.name}`
    this.subFunctions.set(callee, name)
    const graph = new Graph()
    const args = Array.from({ length: callee.arity }, (_, i) => graph.argument(i))
    const { before, value } = this.block(lowering().number(callee.body(...args)))
    const parameters = args.map((_, i) => `double a${i}`).join(', ')
    this.functions.push(
      `static double ${name}(${parameters}) {\n${before.map((line) => `  ${line}\n`).join('')}  return ${value};\n}`,
    )
    return name
  }
}

/** A constant as C text that reads back to the same bits. */
function cNumber(value: number): string {
  if (Number.isNaN(value)) return 'NAN'
  if (!Number.isFinite(value)) return value > 0 ? 'INFINITY' : '(-INFINITY)'
  const text = Object.is(value, -0) ? '-0.0' : String(value)
  const withPoint = /[.e]/.test(text) ? text : `${text}.0`
  return withPoint.startsWith('-') ? `(${withPoint})` : withPoint
}
