import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete'
import type { Diagnostic } from '@codemirror/lint'
import type { Text } from '@codemirror/state'
import type { Problem } from '@calm-hand/core/document'
import { formulaFunctions } from '@calm-hand/core/formula'

/** Names that the text holds already, and functions of formulas. */
export function namesTyped(context: CompletionContext): CompletionResult | null {
  const begun = context.matchBefore(/[A-Za-z][A-Za-z0-9]*/)
  if (begun === null) return null
  const own = context.state.doc.toString().match(/[A-Za-z][A-Za-z0-9]*/g) ?? []
  return offered(
    begun.from,
    [...new Set(own)].filter((name) => name !== begun.text && !formulaFunctions.includes(name)),
  )
}

/** These names, which may have dots (`boom.angle`), and functions of formulas. */
export function namesAmong(names: readonly string[]): (context: CompletionContext) => CompletionResult | null {
  return (context) => {
    const begun = context.matchBefore(/[A-Za-z][A-Za-z0-9.]*/)
    return begun === null ? null : offered(begun.from, names)
  }
}

function offered(from: number, names: readonly string[]): CompletionResult {
  return {
    from,
    options: [
      ...names.map((name) => ({ label: name, type: 'variable' })),
      ...formulaFunctions.map((name) => ({ label: name, type: 'function' })),
    ],
    validFor: /^[A-Za-z0-9.]*$/,
  }
}

/** A problem of a formula, marked from the column that it names to the end of the word there. */
export function columnMark(text: Text, message: string): Diagnostic {
  const column = Number(/, column (\d+):/.exec(message)?.[1] ?? 1)
  const from = Math.min(column - 1, text.length)
  const word = /^[A-Za-z0-9.]+/.exec(text.sliceString(from))?.[0] ?? ' '
  return { from, to: Math.min(from + word.length, text.length), severity: 'error', message }
}

/** Where in the text a problem is marked. */
export function markOf(text: Text, { where, what, remedy }: Problem): Diagnostic {
  const message = `${what} ${remedy}`
  const said = Number(/^line (\d+)$/.exec(where)?.[1])
  const block = Array.from({ length: text.lines }, (_, i) => i + 1).find((i) => text.line(i).text.trim() === where)
  const number = said >= 1 && said <= text.lines ? said : where === '' ? undefined : block
  if (number === undefined) return { from: 0, to: text.length, severity: 'error', message }
  const { from, to } = text.line(number)
  return { from, to, severity: 'error', message }
}
