import { readFileSync } from 'node:fs'
import ts from 'typescript'

/** A small mistake at one place of a source: what stands there, and what would stand there instead. */
export interface Site {
  /** Relative to the project. */
  readonly file: string
  readonly line: number
  readonly from: number
  readonly to: number
  readonly sort: Sort
  readonly text: string
  readonly mistake: string
}

export type Sort = 'sign' | 'factor' | 'comparison' | 'index' | 'constant'

export const sorts: readonly Sort[] = ['sign', 'factor', 'comparison', 'index', 'constant']

const swapped: Readonly<Partial<Record<ts.SyntaxKind, { sort: Sort; by: string }>>> = {
  [ts.SyntaxKind.PlusToken]: { sort: 'sign', by: '-' },
  [ts.SyntaxKind.MinusToken]: { sort: 'sign', by: '+' },
  [ts.SyntaxKind.AsteriskToken]: { sort: 'factor', by: '/' },
  [ts.SyntaxKind.SlashToken]: { sort: 'factor', by: '*' },
  [ts.SyntaxKind.LessThanToken]: { sort: 'comparison', by: '>=' },
  [ts.SyntaxKind.LessThanEqualsToken]: { sort: 'comparison', by: '>' },
  [ts.SyntaxKind.GreaterThanToken]: { sort: 'comparison', by: '<=' },
  [ts.SyntaxKind.GreaterThanEqualsToken]: { sort: 'comparison', by: '<' },
  [ts.SyntaxKind.EqualsEqualsEqualsToken]: { sort: 'comparison', by: '!==' },
  [ts.SyntaxKind.ExclamationEqualsEqualsToken]: { sort: 'comparison', by: '===' },
  [ts.SyntaxKind.AmpersandAmpersandToken]: { sort: 'comparison', by: '||' },
}

/** Calls that write mathematics: the second argument (or the only one) changes its sign or is turned over. */
const written: Readonly<Record<string, { sort: Sort; with: (args: readonly string[]) => string }>> = {
  add: { sort: 'sign', with: ([a, b]) => `add(${a}, $neg(${b}))` },
  sub: { sort: 'sign', with: ([a, b]) => `sub(${a}, $neg(${b}))` },
  neg: { sort: 'sign', with: ([a]) => `neg($neg(${a}))` },
  mul: { sort: 'factor', with: ([a, b]) => `$twice(mul(${a}, ${b}))` },
  div: { sort: 'factor', with: ([a, b]) => `$twice(div(${a}, ${b}))` },
  min: { sort: 'comparison', with: ([a, b]) => `$max(${a}, ${b})` },
  max: { sort: 'comparison', with: ([a, b]) => `$min(${a}, ${b})` },
  less: { sort: 'comparison', with: ([a, b]) => `less(${b}, ${a})` },
}

/** Whether a test of a length or a tolerance, which no answer depends on, is all that it could change. */
function isTolerance(value: number): boolean {
  return value !== 0 && (value < 1e-3 || value > 1000)
}

/** Every place of a file where one of these mistakes could be made; words, types and tolerances are left alone. */
export function sitesOf(root: string, file: string): Site[] {
  const source = ts.createSourceFile(file, readFileSync(`${root}/${file}`, 'utf8'), ts.ScriptTarget.Latest, true)
  const found: Site[] = []
  const note = (node: ts.Node, sort: Sort, mistake: string) => {
    const from = node.getStart(source)
    const line = source.getLineAndCharacterOfPosition(from).line + 1
    found.push({ file, line, from, to: node.getEnd(), sort, text: node.getText(source), mistake })
  }
  const visit = (node: ts.Node): void => {
    if (ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return
    if (ts.isImportDeclaration(node) || ts.isThrowStatement(node)) return
    if (ts.isBinaryExpression(node)) {
      const swap = swapped[node.operatorToken.kind]
      const isText = [node.left, node.right].some((side) => ts.isStringLiteralLike(side) || ts.isTemplateExpression(side))
      if (swap !== undefined && !isText)
        note(node, swap.sort, `${node.left.getText(source)} ${swap.by} ${node.right.getText(source)}`)
    }
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.MinusToken)
      note(node, 'sign', node.operand.getText(source))
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression)) {
      const { text } = node.expression
      const swap = Object.hasOwn(written, text) ? written[text] : undefined
      const args = node.arguments.map((one) => one.getText(source))
      if (swap !== undefined && args.length <= 2 && !node.arguments.some(ts.isSpreadElement))
        note(node, swap.sort, swap.with(args))
    }
    if (ts.isElementAccessExpression(node) && ts.isNumericLiteral(node.argumentExpression)) {
      const index = Number(node.argumentExpression.text)
      const whole = ts.isNonNullExpression(node.parent) ? node.parent : node
      if (!isWritten(whole)) note(node, 'index', `${node.expression.getText(source)}[${index === 0 ? 1 : index - 1}]`)
    }
    if (ts.isNumericLiteral(node) && isPlainConstant(node)) {
      const value = Number(node.text)
      if (!isTolerance(value)) note(node, 'constant', String(Number.isInteger(value) && value < 10 ? value + 1 : 1.5 * value))
    }
    node.forEachChild(visit)
  }
  visit(source)
  return found
}

function isPlainConstant(node: ts.NumericLiteral): boolean {
  const { parent } = node
  if (ts.isElementAccessExpression(parent) || ts.isLiteralTypeNode(parent) || ts.isAsExpression(parent)) return false
  if (ts.isPropertyAssignment(parent) && parent.name === node) return false
  // how often something is tried or shown is no answer
  const named = ts.isVariableDeclaration(parent) ? parent.name.getText() : ''
  return !/^most|steps|rounds|sweeps|patience|share|tolerance|digits/i.test(named)
}

/** Whether something is assigned to it, by itself or among others. */
function isWritten(node: ts.Node): boolean {
  for (let inner = node; inner.parent !== undefined && !ts.isStatement(inner.parent); inner = inner.parent) {
    const { parent } = inner
    if (ts.isPostfixUnaryExpression(parent) || ts.isPrefixUnaryExpression(parent)) return true
    if (!ts.isBinaryExpression(parent) || parent.left !== inner) continue
    const { kind } = parent.operatorToken
    if (kind >= ts.SyntaxKind.FirstAssignment && kind <= ts.SyntaxKind.LastAssignment) return true
  }
  return false
}
