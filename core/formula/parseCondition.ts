import { and, atMost, less, max, min, neg, not, or, select, sub } from '../expression'
import type { Flag, Scalar } from '../expression'
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

type OfTwo<Value, Result> = (a: Value, b: Value) => Result
interface Comparison {
  readonly holds: OfTwo<Scalar, Flag>
  readonly room: OfTwo<Scalar, Scalar>
}

const [below, above]: OfTwo<Scalar, Scalar>[] = [(a, b) => sub(b, a), (a, b) => sub(a, b)]
const comparisons: Readonly<Record<string, Comparison>> = {
  smaller: { holds: less, room: below! },
  smallerEq: { holds: atMost, room: below! },
  larger: { holds: (a, b) => less(b, a), room: above! },
  largerEq: { holds: (a, b) => atMost(b, a), room: above! },
}
const joints: Readonly<Record<string, { readonly holds: OfTwo<Flag, Flag>; readonly room: OfTwo<Scalar, Scalar> }>> = {
  and: { holds: and, room: min },
  or: { holds: or, room: max },
}

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
    flag: (lookup) => flagOf(read.tree, lookup),
    room: (lookup) => roomOf(read.tree, lookup),
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
  if (Object.hasOwn(joints, name)) return joints[name]!.holds(flagOf(a, lookup), flagOf(b, lookup))
  return comparisons[name]!.holds(valueOf(a, lookup), valueOf(b, lookup))
}

function roomOf(tree: FormulaTree, lookup: (name: string) => Scalar): Scalar {
  if (tree.type === 'ParenthesisNode') return roomOf(tree.content!, lookup)
  const name = tree.fn as string
  if (name === 'not') return neg(roomOf(tree.args![0]!, lookup))
  const [a, b] = tree.args as [FormulaTree, FormulaTree]
  if (Object.hasOwn(joints, name)) return joints[name]!.room(roomOf(a, lookup), roomOf(b, lookup))
  return comparisons[name]!.room(valueOf(a, lookup), valueOf(b, lookup))
}
