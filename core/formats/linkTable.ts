import { cos, sin } from '../expression'
import { done, refused } from '../document'
import type { Outcome, Part, Problem } from '../document'
import { ground } from '../machine'

/** One row of a table of link parameters: lengths in m, angles in rad. */
export interface LinkRow {
  readonly a: number
  readonly alpha: number
  readonly d: number
  readonly theta: number
  readonly joint: 'turning' | 'sliding'
}

/**
 * `standard`: T = Rz(theta) Tz(d) Tx(a) Rx(alpha), the joint before its link (Denavit & Hartenberg, 1955).
 * `modified`: T = Rx(alpha) Tx(a) Rz(theta) Tz(d), a and alpha of the link before (J. J. Craig, Introduction to Robotics,
 * ch. 3, from memory).
 */
export type LinkConvention = 'standard' | 'modified'

const mostRows = 60

/**
 * A table of link parameters as a mechanism of bodies without mass properties of their own: each gets `mass` as a point
 * at its frame with a small inertia, to be edited. The variable of a row adds to its theta (turning) or d (sliding).
 */
export function linkTableMachine(rows: readonly LinkRow[], convention: LinkConvention, mass = 1): Outcome<Part> {
  const problems = rowProblems(rows)
  if (problems.length > 0) return refused(problems)
  const bodies: Record<string, Part> = {}
  let on = ground
  let flange = { at: [0, 0, 0], turned: [0, 0, 0] }
  rows.forEach((row, i) => {
    const name = `link${i + 1}`
    // both conventions turn and slide about z of a frame that is placed on the link before
    const place = convention === 'modified' ? afterFlange(flange.turned[2]!, row) : flange
    const joint = { kind: row.joint, on, ...place, axis: [0, 0, 1], start: row.joint === 'turning' ? row.theta : row.d }
    bodies[name] = {
      kind: 'linkedBody',
      mass,
      centre: [0, 0, 0],
      inertia: [0.01, 0.01, 0.01, 0, 0, 0].map((one) => one * mass),
      joint,
    }
    on = name
    flange = convention === 'modified' ? modifiedFlange(row) : standardFlange(row)
  })
  bodies.tool = {
    kind: 'linkedBody',
    mass: 0,
    centre: [0, 0, 0],
    inertia: [0, 0, 0, 0, 0, 0],
    joint: { kind: 'fixed', on, ...flange },
  }
  return done({ kind: 'mechanism', gravity: 9.80665, bodies })
}

/** In modified form a row's own link ends where its variable ends, but for a sliding row's constant turn about z. */
function modifiedFlange({ theta, joint }: LinkRow): { at: number[]; turned: number[] } {
  return { at: [0, 0, 0], turned: [0, 0, joint === 'turning' ? 0 : theta] }
}

/** Rz(left over) Rx(alpha) Tx(a) Tz(d): d lies along the turned z; a sliding row's d is its variable. */
function afterFlange(leftOver: number, { a, alpha, d, joint }: LinkRow): { at: number[]; turned: number[] } {
  const along = joint === 'turning' ? d : 0
  const [x, y] = [a, -sin(alpha) * along]
  const [c, s] = [cos(leftOver), sin(leftOver)]
  return { at: [c * x - s * y, s * x + c * y, cos(alpha) * along], turned: [alpha, 0, leftOver] }
}

/** From the joint's far frame to the next joint in standard form: what is left of the row after its variable. */
function standardFlange({ a, alpha, d, theta, joint }: LinkRow): { at: number[]; turned: number[] } {
  if (joint === 'turning') return { at: [a, 0, d], turned: [alpha, 0, 0] }
  // the constant turn theta about z comes after the slide: Rz(theta) Tx(a) Rx(alpha)
  return { at: [a * cos(theta), a * sin(theta), 0], turned: [alpha, 0, theta] }
}

function rowProblems(rows: readonly LinkRow[]): Problem[] {
  if (rows.length === 0) return [{ where: 'table', what: 'The table has no rows.', remedy: 'Give one row a joint.' }]
  if (rows.length > mostRows)
    return [
      {
        where: 'table',
        what: `The table has ${rows.length} rows; at most ${mostRows} are taken.`,
        remedy: 'Give one row a joint.',
      },
    ]
  return rows.flatMap((row, i) =>
    (['a', 'alpha', 'd', 'theta'] as const)
      .filter((key) => !Number.isFinite(row[key]))
      .map((key) => ({
        where: `row ${i + 1}, ${key}`,
        what: `${key} is ${row[key]}.`,
        remedy: 'Give a finite number, in m or rad.',
      })),
  )
}
