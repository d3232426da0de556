import type { Part, Problem } from '../document'

/** The ends of what a sensor reads cross; `low` and `high` are the slots that hold them. */
export function readingEndsProblems(path: string, part: Part, low = 'least', high = 'most'): Problem[] {
  const [least, most] = [part[low] as number | undefined, part[high] as number | undefined]
  if (least === undefined || most === undefined || least < most) return []
  const what = `The smallest reading of ${least} is not below the largest of ${most}.`
  return [{ where: `${path}.${low}`, what, remedy: `Give less than ${most}.` }]
}
