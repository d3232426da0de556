import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete'
import type { Diagnostic } from '@codemirror/lint'
import type { Text } from '@codemirror/state'
import type { Problem } from '@calm-hand/core/document'
import { formulaFunctions } from '@calm-hand/core/formula'

/** Names that the text holds already, and functions of formulas. */
export function namesIn(context: CompletionContext): CompletionResult | null {
  const begun = context.matchBefore(/[A-Za-z][A-Za-z0-9]*/)
  if (begun === null) return null
  const own = context.state.doc.toString().match(/[A-Za-z][A-Za-z0-9]*/g) ?? []
  const names = [...new Set(own)].filter((name) => name !== begun.text && !formulaFunctions.includes(name))
  return {
    from: begun.from,
    options: [
      ...names.map((name) => ({ label: name, type: 'variable' })),
      ...formulaFunctions.map((name) => ({ label: name, type: 'function' })),
    ],
  }
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
