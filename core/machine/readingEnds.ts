import type { Part, Problem } from '../document'

/** Two ends cross, of what is called so; `low` and `high` are the slots that hold them. */
export function crossedEnds(
  path: string,
  part: Part,
  [low, high]: readonly [string, string],
  [least, most]: readonly [string, string],
): Problem[] {
  const [from, to] = [part[low], part[high]]
  if (typeof from !== 'number' || typeof to !== 'number' || from < to) return []
  const what = `The ${least} of ${from} is not below the ${most} of ${to}.`
  return [{ where: `${path}.${low}`, what, remedy: `Give less than ${to}.` }]
}

/** The ends of what a sensor reads cross. */
export function readingEndsProblems(path: string, part: Part, low = 'least', high = 'most'): Problem[] {
  return crossedEnds(path, part, [low, high], ['smallest reading', 'largest'])
}
