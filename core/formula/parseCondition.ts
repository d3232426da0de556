import { and, atMost, less, max, min, neg, not, or, select, sub } from '../expression'
import type { Flag, Scalar } from '../expression'
import { remembered } from '../document'
import { parseFormula, readTree, valueOf } from './parseFormula'
import type { ParsedWrong, FormulaTree } from './parseFormula'

/** A condition that has been read: what it needs, and whether it holds once that is known. */
export interface Condition {
  readonly names: readonly string[]
  /** `running` says whether it held at the last sample: what one with `until` needs to know. */
  readonly holds: (lookup: (name: string) => Scalar, running?: Flag) => Flag
  /** How much it has to spare until it would not hold, or how much is missing, negative: at 0 it is about to change. */
  readonly room: (lookup: (name: string) => Scalar, running?: Flag) => Scalar
  /** s for which it must hold without a break; 0 for at once. */
  readonly lasting: number
}

export type ParsedCondition = { readonly kind: 'condition'; readonly condition: Condition } | ParsedWrong

/** `... until ...` before it. */
const untilWord = /^(.*?)(\s+until\s+)(.*)$/is

/** `... for 0.2 s` at the end. */
const lastingWords = /\s+for\s+([0-9.]+(?:e[-+]?[0-9]+)?)\s*s\s*$/i

/** What each word and sign of a condition makes of what stands beside it. */
interface Reading<Value> {
  readonly not: (a: Value) => Value
  readonly joints: Readonly<Record<string, (a: Value, b: Value) => Value>>
  readonly comparisons: Readonly<Record<string, (a: Scalar, b: Scalar) => Value>>
}

const truth: Reading<Flag> = {
  not,
  joints: { and, or },
  comparisons: {
    ...{ smaller: less, smallerEq: atMost },
    ...{ larger: (a, b) => less(b, a), largerEq: (a, b) => atMost(b, a) },
  },
}

const [below, above] = [(a: Scalar, b: Scalar) => sub(b, a), (a: Scalar, b: Scalar) => sub(a, b)]
const room: Reading<Scalar> = {
  not: neg,
  joints: { and: min, or: max },
  comparisons: { smaller: below, smallerEq: below, larger: above, largerEq: above },
}

/** Every edit has all conditions of its document read, and a prediction steps a law thousands of times. */
const parsed = new Map<string, ParsedCondition>()
const mostParsed = 1000

/**
 * Reads a condition: comparisons < <= > >= between formulas, joined by not, and, or (binding in that order, loosest last)
 * and parentheses. `until` before a second one is hysteresis: once the first has held it goes on until the second does.
 * `for 0.2 s` at the end asks that it holds that long without a break.
 */
export function parseCondition(text: string): ParsedCondition {
  return remembered(parsed, mostParsed, text, () => parsedAnew(text))
}

function parsedAnew(text: string): ParsedCondition {
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
      room: (lookup, running = false) => {
        const begins = first.room(lookup)
        return last === undefined ? begins : select(running, max(begins, neg(last.room(lookup))), begins)
      },
    },
  }
}

type ReadFlag = {
  readonly kind: 'flag'
  readonly names: readonly string[]
  readonly flag: (lookup: (name: string) => Scalar) => Flag
  readonly room: (lookup: (name: string) => Scalar) => Scalar
}

function readFlag(text: string): ReadFlag | ParsedWrong {
  const read = readTree(text)
  if (read.kind === 'wrong') return read
  const names = new Set<string>()
  const bad = firstBad(read.tree, names, read.check)
  if (bad !== undefined) return bad
  return {
    kind: 'flag',
    names: [...names],
    flag: (lookup) => readAs(truth, read.tree, lookup),
    room: (lookup) => readAs(room, read.tree, lookup),
  }
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
  if (Object.hasOwn(truth.joints, name) || name === 'not') return inside(tree.args!)
  if (Object.hasOwn(truth.comparisons, name)) return tree.args!.map((one) => check(one, names)).find((one) => one !== undefined)
  return {
    kind: 'wrong',
    column: 1,
    what: tree.type === 'RelationalNode' ? 'Comparisons stand in a chain.' : 'This is no comparison.',
    remedy: tree.type === 'RelationalNode' ? 'Write a < b and b < c.' : 'Compare with < <= > or >=, for example rate < 0.1.',
  }
}

function readAs<Value>(reading: Reading<Value>, tree: FormulaTree, lookup: (name: string) => Scalar): Value {
  const inside = (one: FormulaTree) => readAs(reading, one, lookup)
  if (tree.type === 'ParenthesisNode') return inside(tree.content!)
  const name = tree.fn as string
  if (name === 'not') return reading.not(inside(tree.args![0]!))
  const [a, b] = tree.args as [FormulaTree, FormulaTree]
  if (Object.hasOwn(reading.joints, name)) return reading.joints[name]!(inside(a), inside(b))
  return reading.comparisons[name]!(valueOf(a, lookup), valueOf(b, lookup))
}
