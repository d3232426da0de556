import { partsIn } from '../document'
import type { Part } from '../document'
import { parseFormula } from '../formula'
import { matrices } from '../machine'
import type { Letters } from './mechanismInLetters'
import { nameToLatex, dotted } from './names'
import { matrixToLatex } from './linearInLetters'

/** Equations or matrices of a machine without bodies as they were written, with the names of its signals. */
export function equationsInLetters(written: Part): Letters {
  const listed = (group: string) => Object.entries(partsIn(written[group]))
  const legend = (['states', 'inputs', 'outputs'] as const).flatMap((group) =>
    listed(group).map(([name, { unit }]) => ({
      latex: nameToLatex(name),
      words: `${group.slice(0, -1)}${unit === '' ? '' : `, ${unit as string}`}`,
    })),
  )
  if (written.kind === matrices.name) return { lines: matrixLines(written), legend }
  return {
    lines: [
      ...listed('states').map(([name, { rate }]) => `${dotted(nameToLatex(name), 1)} = ${formulaToLatex(rate as string)}`),
      ...listed('outputs').map(([name, { value }]) => `${nameToLatex(name)} = ${formulaToLatex(value as string)}`),
    ],
    legend,
  }
}

function matrixLines(written: Part): string[] {
  const isSampled = written.sampleTime !== undefined
  const column = (group: string) => matrixToLatex(Object.keys(partsIn(written[group])).map((name) => [nameToLatex(name)]))
  const entries = (slot: string) =>
    matrixToLatex((written[slot] as readonly (readonly (number | string)[])[]).map((row) => row.map(entryToLatex)))
  const left = isSampled ? 'x_{k+1} - x_0' : '\\dot{x}'
  const at = isSampled ? 'x_k' : 'x'
  const outputs = Object.keys(partsIn(written.outputs)).length
  return [
    `x = ${column('states')},\\quad u = ${column('inputs')}${outputs === 0 ? '' : `,\\quad y = ${column('outputs')}`}`,
    `${left} = ${entries('a')} (${at} - x_0) + ${entries('b')} (u - u_0)`,
    ...(outputs === 0 ? [] : [`y = y_0 + ${entries('c')} (${at} - x_0) + ${entries('d')} (u - u_0)`]),
  ]
}

function entryToLatex(entry: number | string): string {
  return typeof entry === 'number' ? String(entry) : formulaToLatex(entry.trim().replace(/^=/, ''))
}

/** What cannot be read yet stays as it was typed. */
function formulaToLatex(text: string): string {
  const parsed = parseFormula(text)
  return parsed.kind === 'wrong' ? `\\text{${text.replace(/[\\{}$^_%&#~]/g, ' ')}}` : parsed.formula.latex(nameToLatex)
}
