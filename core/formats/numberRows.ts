import Papa from 'papaparse'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'

/** Characters of a table that is typed, pasted or read from a file. */
export const mostTableCharacters = 500_000

/**
 * Rows of numbers as people type and paste them: commas, semicolons, tabs or spaces between, in quotes or not, decimal points.
 * A first line of words is taken as a heading and left out. Entries that start with `=` are formulas and stay text.
 */
export function parseNumberRows(text: string, columns?: number): Outcome<(number | string)[][]> {
  if (text.length > mostTableCharacters) {
    const what = `The table has more than ${mostTableCharacters} characters, which is the most that is read.`
    return refusedFor('table', what, 'Give fewer rows, or numbers of fewer digits.')
  }
  const lines = text
    .split(/\r?\n/)
    .map((line, i) => ({ line: i + 1, cells: cellsOf(line) }))
    .filter(({ cells }) => cells.length > 0)
  const [first] = lines
  const hasHeading = first !== undefined && first.cells.every((cell) => Number.isNaN(Number(cell)) && !cell.startsWith('='))
  const body = hasHeading ? lines.slice(1) : lines
  const rows: (number | string)[][] = []
  for (const { line, cells } of body) {
    const row: (number | string)[] = []
    for (const [k, cell] of cells.entries()) {
      const value = cell.startsWith('=') ? cell : Number(cell)
      if (typeof value === 'number' && !Number.isFinite(value))
        return refusedFor(
          `line ${line}`,
          `Entry ${k + 1} of line ${line} is ${cell}, which is no number.`,
          'Write plain numbers with decimal points.',
        )
      row.push(value)
    }
    const wanted = columns ?? rows[0]?.length ?? row.length
    if (row.length !== wanted)
      return refusedFor(
        `line ${line}`,
        `Line ${line} has ${row.length} numbers; ${wanted} are wanted.`,
        'Give every line the same number of them.',
      )
    rows.push(row)
  }
  return done(rows)
}

function cellsOf(line: string): string[] {
  const delimiter = [';', '\t', ','].find((one) => line.includes(one))
  const [row = []] = delimiter === undefined ? [line.trim().split(/\s+/)] : Papa.parse<string[]>(line.trim(), { delimiter }).data
  const cells = row.map((cell) => cell.trim())
  return cells.every((cell) => cell === '') ? [] : cells
}
