import { transferFunction } from '../linear'
import type { StateSpace } from '../linear'
import { shortName } from '../machine'
import { numberToLatex, variableToLatex } from './print'
import { coordinateToLatex, nameToLatex, upright } from './names'

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

/** States and pairs of signals: more fill pages, and their coefficients have no digits left. */
const mostTransferStates = 8
const mostTransfers = 9

/** Transfer functions with their numbers, from every input to every coordinate, or output of a machine without bodies; nothing where they would fill pages. */
export function transferInLetters(system: StateSpace): readonly string[] {
  const { states, inputs, outputs, dt } = system
  const looked = outputs.map((name, i) => ({ name, i })).filter(({ name }) => !/^(drives|forces|sensors)\.|\.rate$/.test(name))
  if (states.length > mostTransferStates || inputs.length * looked.length > mostTransfers) return []
  const variable = dt === null ? 's' : 'z'
  return inputs.flatMap((input, j) =>
    looked.flatMap(({ name, i }) => {
      const found = transferFunction(system, j, i)
      if (found === undefined || found.numerator.every((value) => value === 0)) return []
      const { numerator, denominator } = found
      const ratio = `\\frac{${polynomialToLatex(numerator, variable)}}{${polynomialToLatex(denominator, variable)}}`
      return [`\\frac{\\Delta ${signalToLatex(name)}}{\\Delta ${signalToLatex(input)}} = ${ratio}`]
    }),
  )
}

function polynomialToLatex(coefficients: readonly number[], variable: string): string {
  const terms = coefficients.flatMap((value, i) => {
    if (value === 0) return []
    const power = coefficients.length - 1 - i
    const letters = variableToLatex(variable, power)
    const size = Math.abs(value) === 1 && power > 0 ? '' : numberToLatex(Math.abs(value))
    return [`${value < 0 ? '-' : '+'} ${size}${size !== '' && letters !== '' ? '\\,' : ''}${letters}`]
  })
  return terms.length === 0 ? '0' : terms.join(' ').replace(/^\+ /, '')
}

export function matrixToLatex(rows: readonly (readonly string[])[]): string {
  return `\\begin{bmatrix} ${rows.map((row) => row.join(' & ')).join(' \\\\ ')} \\end{bmatrix}`
}

/** `boom.angle` as theta of boom, its rate with a dot; other names as words. */
function signalToLatex(name: string): string {
  const [body, coordinate, part] = name.split('.')
  if (coordinate === 'angle') return coordinateToLatex(name, 'rad')
  if (coordinate === 'travel') return coordinateToLatex(name, 'm')
  if (body === 'drives' && part === undefined) return `\\tau_{${upright(coordinate!)}}`
  return coordinate === undefined ? nameToLatex(name) : upright(shortName(name, undefined).replaceAll('_', ' '))
}

function entryToLatex(value: number): string {
  if (Math.abs(value) < 1e-12) return '0'
  return `${value < 0 ? '-' : ''}${numberToLatex(Math.abs(value))}`
}
