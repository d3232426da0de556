import type { Judgement, Looked } from './check'

/** The row from which on a check counts; none where the run ends before. */
export function firstRow({ time }: Pick<Looked, 'time'>, from: number): number | undefined {
  const step = time.length > 1 ? time[1]! - time[0]! : 1
  const row = Math.max(0, Math.ceil(from / step - 1e-9))
  return row < time.length ? row : undefined
}

/** s: where something goes through 0 between two rows, along a straight line. */
export function crossing(time: Float64Array, row: number, before: number, after: number): number {
  if (row === 0 || !(before > after) || !Number.isFinite(before)) return time[row]!
  return time[row - 1]! + (time[row]! - time[row - 1]!) * (before / (before - after))
}

/** Nothing is known where the run ends before something. */
export function tooShort(
  { time }: Pick<Looked, 'time'>,
  unit: string,
  before: string,
  remedy = 'Let the trial last longer.',
): Judgement {
  const end = (time.at(-1) ?? 0).toFixed(2)
  return { outcome: 'open', unit, isShort: true, why: `The run ends at ${end} s, before ${before}. ${remedy}` }
}

/** Nothing is known of a check that begins after the run ended. */
export function tooLate(run: Pick<Looked, 'time'>, from: number, unit: string): Judgement {
  return tooShort(run, unit, `this check begins at ${from} s`, 'Let it begin sooner, or the trial last longer.')
}

/** What is decided by its margin, which failed at a time, s, if it is negative. */
export function byMargin(found: Judgement & { readonly margin: number }, failedAt: number): Judgement {
  return found.margin >= 0 ? found : { ...found, outcome: 'fails', failedAt }
}

/** A run without the signal tells nothing of it. */
export function unseen(signal: string, unit = ''): Judgement {
  return { outcome: 'open', unit, why: `The run has no signal named ${signal}. Choose another.` }
}

/**
 * Judges what must never have less room than 0 from a time on: its margin is the least room, in `unit`. What is no number
 * has no room at all.
 */
export function judgeRoom(run: Looked, from: number, unit: string, room: (row: number) => number): Judgement {
  const first = firstRow(run, from)
  if (first === undefined) return tooLate(run, from, unit)
  let [least, at, failed] = [Infinity, first, -1]
  for (let row = first; row < run.time.length; row++) {
    const now = room(row)
    if (!(now >= least)) [least, at] = [now, row]
    if (failed < 0 && !(now >= 0)) failed = row
    if (Number.isNaN(now)) break
  }
  const found = { margin: least, unit, at: run.time[at]! }
  if (failed < 0) return { outcome: 'holds', ...found }
  const before = failed > first ? room(failed - 1) : NaN
  return { outcome: 'fails', ...found, failedAt: crossing(run.time, failed, before, room(failed)) }
}

/**
 * Judges what must come to stay with room of 0 or more within a while from a time on: its margin is the time that is left,
 * s. The time of coming to stay lies between rows.
 */
export function judgeStaying(run: Looked, from: number, within: number, room: (row: number) => number): Judgement {
  const first = firstRow(run, from)
  if (first === undefined) return tooLate(run, from, 's')
  const last = run.time.length - 1
  const end = run.time[last]!
  let row = last
  while (row >= first && room(row) >= 0) row--
  const stays = row < first ? from : crossing(run.time, row + 1, -room(row), -room(row + 1))
  const margin = from + within - stays
  if (end < from + within - 1e-9) return tooShort(run, 's', `the ${within} s are over`)
  if (row === last)
    return {
      outcome: 'fails',
      unit: 's',
      failedAt: from + within,
      why: `It has not come to stay by the end, ${end.toFixed(2)} s.`,
    }
  return byMargin({ outcome: 'holds', margin, unit: 's', at: stays }, from + within)
}
