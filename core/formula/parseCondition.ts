import { and, atMost, less, not, or } from '../expression'
import type { Flag, Scalar } from '../expression'
import { parseFormula, readTree, valueOf } from './parseFormula'
import type { ParsedWrong, FormulaTree } from './parseFormula'

/** A condition that has been read: what it needs, and whether it holds once that is known. */
export interface Condition {
  readonly names: readonly string[]
  /** `running` says whether it held at the last sample: what one with `until` needs to know. */
  readonly holds: (lookup: (name: string) => Scalar, running?: Flag) => Flag
  /** s for which it must hold without a break; 0 for at once. */
  readonly lasting: number
}

export type ParsedCondition = { readonly kind: 'condition'; readonly condition: Condition } | ParsedWrong

/** `... until ...` before it. */
const untilWord = /^(.*?)(\s+until\s+)(.*)$/is

/** `... for 0.2 s` at the end. */
const lastingWords = /\s+for\s+([0-9.]+(?:e[-+]?[0-9]+)?)\s*s\s*$/i

const comparisons: Readonly<Record<string, (a: Scalar, b: Scalar) => Flag>> = {
  smaller: less,
  smallerEq: atMost,
  larger: (a, b) => less(b, a),
  largerEq: (a, b) => atMost(b, a),
}
const joints: Readonly<Record<string, (a: Flag, b: Flag) => Flag>> = { and, or }

/**
 * Reads a condition: comparisons < <= > >= between formulas, joined by not, and, or (binding in that order, loosest last)
 * and parentheses. `until` before a second one is hysteresis: once the first has held it goes on until the second does.
 * `for 0.2 s` at the end asks that it holds that long without a break.
 */
export function parseCondition(text: string): ParsedCondition {
  const lasting = lastingWords.exec(text)
  const body = lasting === null ? text : text.slice(0, lasting.index)
  const parts = untilWord.exec(body)
  const first = readFlag(parts?.[1] ?? body)
  if (first.kind === 'wrong') return first
  const last = parts === null ? undefined : readFlag(parts[3]!)
  if (last?.kind === 'wrong') return { ...last, column: last.column + parts![1]!.length + parts![2]!.length }
  const seconds = lasting === null ? 0 : Number(lasting[1])
  if (!Number.isFinite(seconds))
    return { kind: 'wrong', column: body.length + 1, what: 'The time after `for` is no number.', remedy: 'Write for 0.2 s.' }
  return {
    kind: 'condition',
    condition: {
      names: [...new Set([...first.names, ...(last?.names ?? [])])],
      lasting: seconds,
      holds: (lookup, running = false) =>
        last === undefined ? first.flag(lookup) : or(first.flag(lookup), and(running, not(last.flag(lookup)))),
    },
  }
}

type ReadFlag = {
  readonly kind: 'flag'
  readonly names: readonly string[]
  readonly flag: (lookup: (name: string) => Scalar) => Flag
}

function readFlag(text: string): ReadFlag | ParsedWrong {
  const read = readTree(text)
  if (read.kind === 'wrong') return read
  const names = new Set<string>()
  const bad = firstBad(read.tree, names, read.check)
  return bad ?? { kind: 'flag', names: [...names], flag: (lookup) => flagOf(read.tree, lookup) }
}

/** Names that a formula or condition uses; none where it is neither. */
export function namesInFormula(text: string): readonly string[] {
  const formula = parseFormula(text)
  if (formula.kind === 'formula') return formula.formula.names
  const condition = parseCondition(text)
  return condition.kind === 'condition' ? condition.condition.names : []
}

function firstBad(
  tree: FormulaTree,
  names: Set<string>,
  check: (tree: FormulaTree, names: Set<string>) => ParsedWrong | undefined,
): ParsedWrong | undefined {
  const inside = (of: readonly FormulaTree[]) => of.map((one) => firstBad(one, names, check)).find((one) => one !== undefined)
  if (tree.type === 'ParenthesisNode') return firstBad(tree.content!, names, check)
  const name = tree.type === 'OperatorNode' ? (tree.fn as string) : ''
  if (Object.hasOwn(joints, name) || name === 'not') return inside(tree.args!)
  if (Object.hasOwn(comparisons, name)) return tree.args!.map((one) => check(one, names)).find((one) => one !== undefined)
  return {
    kind: 'wrong',
    column: 1,
    what: tree.type === 'RelationalNode' ? 'Comparisons stand in a chain.' : 'This is no comparison.',
    remedy: tree.type === 'RelationalNode' ? 'Write a < b and b < c.' : 'Compare with < <= > or >=, for example rate < 0.1.',
  }
}

function flagOf(tree: FormulaTree, lookup: (name: string) => Scalar): Flag {
  if (tree.type === 'ParenthesisNode') return flagOf(tree.content!, lookup)
  const name = tree.fn as string
  if (name === 'not') return not(flagOf(tree.args![0]!, lookup))
  const [a, b] = tree.args as [FormulaTree, FormulaTree]
  if (Object.hasOwn(joints, name)) return joints[name]!(flagOf(a, lookup), flagOf(b, lookup))
  return comparisons[name]!(valueOf(a, lookup), valueOf(b, lookup))
}
