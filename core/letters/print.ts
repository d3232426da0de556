import type { Atoms } from './atoms'
import type { Product, Sum } from './sum'
import { sumOf } from './sum'

/** Figures of a plain number. */
const figures = 4

/**
 * The terms of a sum as LaTeX, grouped by what moves: products with the same moving atoms share one bracket of constants.
 * `isMoving` tells coordinates, speeds and accelerations from parameters. `lead` orders groups: lower first.
 */
export function sumToTerms(
  sum: Sum,
  atoms: Atoms,
  isMoving: (key: string) => boolean,
  lead: (moving: Product) => number,
): string[] {
  const groups = new Map<string, { moving: Product; constants: Product[] }>()
  for (const { factor, powers } of sum.values()) {
    const moving = new Map([...powers].filter(([key]) => isMoving(key) || atoms.get(key).turn !== undefined))
    const rest = new Map([...powers].filter(([key]) => !moving.has(key)))
    const name = [...moving]
      .map(([key, power]) => `${key}^${power}`)
      .sort()
      .join(' ')
    const group = groups.get(name) ?? { moving: { factor: 1, powers: moving }, constants: [] }
    group.constants.push({ factor, powers: rest })
    groups.set(name, group)
  }
  const ordered = [...groups.values()].sort((a, b) => lead(a.moving) - lead(b.moving))
  const terms = ordered.map(({ moving, constants }) => groupToLatex(moving, constants, atoms))
  return terms.length === 0 ? ['0'] : terms.map((term, i) => (i === 0 ? term.replace(/^\+/, '') : term))
}

/** Characters of a line that people see, about: longer ones are broken. */
const lineLength = 78

/** Terms on a left side and what they equal, broken into lines that fit a screen. */
export function equationToLatex(terms: readonly string[], right: string): string {
  const lines: string[][] = [[]]
  let length = 0
  for (const term of [...terms, `= ${right}`]) {
    const own = seenLength(term)
    if (length > 0 && length + own > lineLength) {
      lines.push([])
      length = 0
    }
    lines.at(-1)!.push(term)
    length += own
  }
  if (lines.length === 1) return lines[0]!.join(' ')
  return `\\begin{aligned} & ${lines.map((line) => line.join(' ')).join(' \\\\ & \\quad ')} \\end{aligned}`
}

function seenLength(latex: string): number {
  return latex
    .replace(/\\(mathrm|dot|ddot|left|right|,)/g, '')
    .replace(/\\[a-z]+/g, 'x')
    .replace(/[{}_^\\ ]/g, '').length
}

function groupToLatex(moving: Product, constants: readonly Product[], atoms: Atoms): string {
  const tail = powersToLatex(moving.powers, atoms)
  if (constants.length === 1) {
    const [{ factor, powers }] = constants as [Product]
    return signed(factor, join(powersToLatex(powers, atoms), tail))
  }
  const shared = commonPowers(constants)
  const inner = constants.map(({ factor, powers }) => ({ factor, powers: without(powers, shared) }))
  const flip = inner.every(({ factor }) => factor < 0) ? -1 : 1
  const words = [...sumOf(inner).values()].map(({ factor, powers }) => signed(flip * factor, powersToLatex(powers, atoms)))
  const bracket = `\\left(${words.join(' ').replace(/^\+/, '')}\\right)`
  return `${flip < 0 ? '-' : '+'}${join(join(powersToLatex(shared, atoms), bracket), tail)}`
}

function signed(factor: number, words: string): string {
  const size = Math.abs(factor)
  const number = size === 1 && words !== '' ? '' : numberToLatex(size)
  return `${factor < 0 ? '-' : '+'}${join(number, words)}`
}

/** A power of the variable of a polynomial; nothing for the power 0. */
export function variableToLatex(variable: string, power: number): string {
  return power === 0 ? '' : power === 1 ? variable : `${variable}^{${power}}`
}

/** Small whole fractions as such, everything else in a few figures. */
export function numberToLatex(value: number): string {
  for (const below of [1, 2, 3, 4, 6, 8, 12, 24]) {
    const above = value * below
    if (Math.abs(above - Math.round(above)) < 1e-10 && Math.round(above) !== 0 && Math.abs(above) < 1000)
      return below === 1 ? String(Math.round(above)) : `\\tfrac{${Math.round(above)}}{${below}}`
  }
  const [digits, power] = value.toPrecision(figures).split('e')
  const plain = String(Number(digits))
  return power === undefined ? plain : `${plain} \\cdot 10^{${Number(power)}}`
}

function join(a: string, b: string): string {
  return a === '' ? b : b === '' ? a : `${a}\\,${b}`
}

function powersToLatex(powers: ReadonlyMap<string, number>, atoms: Atoms): string {
  const above: string[] = []
  const below: string[] = []
  for (const [key, power] of [...powers].sort(([a], [b]) => (rank(a) === rank(b) ? (a < b ? -1 : 1) : rank(a) - rank(b)))) {
    const { latex, turn } = atoms.get(key)
    const size = Math.abs(power)
    const words =
      size === 1 ? latex : turn === undefined ? `${braced(latex)}^{${size}}` : latex.replace(/^\\(sin|cos)/, `\\$1^{${size}}`)
    ;(power > 0 ? above : below).push(words)
  }
  if (below.length === 0) return above.join('\\,')
  return `\\frac{${above.join('\\,') || '1'}}{${below.join('\\,')}}`
}

/** A dotted letter needs braces before its power. */
function braced(latex: string): string {
  return latex.includes('_') || latex.includes('\\') ? `{${latex}}` : latex
}

/** Parameters, then sines and cosines, then speeds and accelerations. */
function rank(key: string): number {
  return key.startsWith('acc ') ? 4 : key.startsWith('speed ') ? 3 : /^(sin|cos)\(/.test(key) ? 2 : key.startsWith('at ') ? 1 : 0
}

function commonPowers(products: readonly Product[]): Map<string, number> {
  const [first, ...rest] = products
  return new Map(
    [...first!.powers].flatMap(([key, power]) => {
      const least = Math.min(power, ...rest.map(({ powers }) => powers.get(key) ?? 0))
      return least > 0 ? [[key, least] as const] : []
    }),
  )
}

function without(powers: ReadonlyMap<string, number>, shared: ReadonlyMap<string, number>): Map<string, number> {
  return new Map(
    [...powers].flatMap(([key, power]) => {
      const left = power - (shared.get(key) ?? 0)
      return left === 0 ? [] : [[key, left] as const]
    }),
  )
}
