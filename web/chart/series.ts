/** How a signal is drawn follows from its role, everywhere. Dash and label differ as well as colour. */
export type SeriesRole =
  'reference' | 'actual' | 'measured' | 'estimate' | 'prediction' | 'command' | 'disturbance' | 'runA' | 'runB' | 'runC' | 'runD'

export interface Series {
  readonly name: string
  readonly role: SeriesRole
  readonly xs: ArrayLike<number>
  readonly ys: ArrayLike<number>
  /** For dots: every how many points one is fresh. */
  readonly every?: number
  /** Where it would be drawn in steps: as a line, as over another signal. */
  readonly isSmooth?: boolean
  /** Of a family of lines: which one. They have the colour of their role, and each its own dash. */
  readonly member?: number
}

export interface Stroke {
  readonly color: string
  readonly width: number
  readonly dash?: string
  readonly shape: 'line' | 'steps' | 'dots'
}

export const strokes: Readonly<Record<SeriesRole, Stroke>> = {
  reference: { color: '--ink', width: 1.4, dash: '5 3', shape: 'steps' },
  actual: { color: '--kelp', width: 2, shape: 'line' },
  measured: { color: '--kelp', width: 2.2, shape: 'dots' },
  estimate: { color: '--slate', width: 1.1, shape: 'line' },
  prediction: { color: '--slate', width: 1.6, dash: '11 5', shape: 'line' },
  command: { color: '--ochre', width: 1.5, shape: 'steps' },
  disturbance: { color: '--plum', width: 1.4, shape: 'line' },
  runA: { color: '--run-a', width: 1.5, dash: '8 3 2 3', shape: 'line' },
  runB: { color: '--run-b', width: 1.5, dash: '2 3', shape: 'line' },
  runC: { color: '--run-c', width: 1.5, dash: '10 3 2 3 2 3', shape: 'line' },
  runD: { color: '--run-d', width: 1.5, dash: '4 2', shape: 'line' },
}

/** Of the members of a family, in turn. */
const memberDashes = [undefined, '8 3', '2 3', '11 3 2 3', '5 2', '1.5 2 1.5 5', '14 4', '6 2 1.5 2 1.5 2']

/** How a series is drawn: as its role, and of a family by its place. */
export function strokeOf({ role, member }: Series): Stroke {
  const stroke = strokes[role]
  if (member === undefined) return stroke
  const { dash: _dash, ...rest } = stroke
  const dash = memberDashes[member % memberDashes.length]
  return { ...rest, width: 1.5, ...(dash === undefined ? {} : { dash }) }
}

/** The role of a pinned run by its letter; letters beyond D take the dashes again. */
export function roleOfLetter(letter: string): SeriesRole {
  const roles: SeriesRole[] = ['runA', 'runB', 'runC', 'runD']
  return roles[(letter.charCodeAt(0) - 65) % 4]!
}
