import type { StateSpace } from '../linear'
import { shortInput } from '../machine'
import { numberToLatex } from './print'
import { coordinateToLatex, nameToLatex } from './names'

/** States: a larger matrix does not fit a screen. */
const mostStates = 14

/** The linear form with its numbers, as LaTeX lines; nothing where it is too big to read. */
export function linearInLetters({ a, b, states, inputs, dt }: StateSpace): readonly string[] | undefined {
  if (states.length > mostStates || states.length === 0) return undefined
  const column = (names: readonly string[]) => matrixToLatex(names.map((name) => [signalToLatex(name)]))
  const numbers = (matrix: readonly (readonly number[])[]) => matrixToLatex(matrix.map((row) => row.map(entryToLatex)))
  const [left, right] =
    dt === null ? [`\\frac{\\mathrm d}{\\mathrm dt}\\Delta${column(states)}`, ''] : [`\\Delta${column(states)}_{k+1}`, '_k']
  const driven = inputs.length === 0 ? '' : ` + ${numbers(b)}\\,\\Delta${column(inputs)}${right}`
  return [`${left} = ${numbers(a)}\\,\\Delta${column(states)}${right}${driven}`]
}

export function matrixToLatex(rows: readonly (readonly string[])[]): string {
  return `\\begin{bmatrix} ${rows.map((row) => row.join(' & ')).join(' \\\\ ')} \\end{bmatrix}`
}

/** `boom.angle` as theta of boom, its rate with a dot; other names as words. */
function signalToLatex(name: string): string {
  const [body, coordinate] = name.split('.')
  if (coordinate === 'angle') return coordinateToLatex(name, 'rad')
  if (coordinate === 'travel') return coordinateToLatex(name, 'm')
  if (body === 'drives') return `\\tau_{\\mathrm{${shortInput(name)}}}`
  return coordinate === undefined ? nameToLatex(name) : `\\mathrm{${name.replaceAll('_', ' ')}}`
}

function entryToLatex(value: number): string {
  if (Math.abs(value) < 1e-12) return '0'
  return `${value < 0 ? '-' : ''}${numberToLatex(Math.abs(value))}`
}
