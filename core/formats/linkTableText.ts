import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import type { LinkRow } from './linkTable'

/** Rows: no chain that is built has as many. */
const mostRows = 200

const degrees = Math.PI / 180

/**
 * Rows of link parameters as people type them: turning or sliding, then a in m, alpha in degrees, d in m, theta in
 * degrees, with commas, tabs or spaces between; a heading is left out. Angles that end in `rad` are radians.
 */
export function parseLinkTable(text: string): Outcome<LinkRow[]> {
  const rows: LinkRow[] = []
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    const cells = line
      .trim()
      .split(/[,;\t]\s*|\s+/)
      .filter((cell) => cell !== '')
    if (cells.length === 0 || (rows.length === 0 && /^joint$/i.test(cells[0]!))) continue
    const where = `line ${i + 1}`
    const joint = (['turning', 'sliding'] as const).find((kind) => kind.startsWith(cells[0]!.toLowerCase()))
    if (joint === undefined)
      return refusedFor(
        where,
        `Line ${i + 1} starts with ${cells[0]}, which is no joint.`,
        'Start each row with turning or sliding.',
      )
    if (cells.length !== 5)
      return refusedFor(
        where,
        `Line ${i + 1} has ${cells.length - 1} numbers; a, alpha, d and theta are wanted.`,
        'Give all four; 0 where there is none.',
      )
    const [a, alpha, d, theta] = cells.slice(1).map((cell, k) => (k % 2 === 0 ? Number(cell) : angle(cell))) as [
      number,
      number,
      number,
      number,
    ]
    const wrong = [a, alpha, d, theta].findIndex((value) => !Number.isFinite(value))
    if (wrong >= 0)
      return refusedFor(
        where,
        `${cells[wrong + 1]} on line ${i + 1} is no number.`,
        'Write plain numbers: lengths in m, angles in degrees.',
      )
    if (rows.length === mostRows)
      return refusedFor(where, `The table has more than ${mostRows} rows.`, 'Leave out joints that do not move.')
    rows.push({ joint, a, alpha, d, theta })
  }
  return rows.length === 0 ? refusedFor('', 'The table has no rows.', 'Write a row such as: turning 0.4 90 0.1 0') : done(rows)
}

function angle(cell: string): number {
  return cell.endsWith('rad') ? Number(cell.slice(0, -3)) : Number(cell.replace(/°$|deg$/, '')) * degrees
}
