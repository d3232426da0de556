import { nameRemedy, partsIn } from '../document'
import type { Part, Problem } from '../document'
import { runsOn } from './condition'
import { pointNames } from './points'

/** Conditions that fix or let go something unknown, or the same thing twice, at every point. `runnable` is what may run on. */
export function conditionProblems(
  path: string,
  machine: Part,
  fixable: readonly string[],
  runnable: readonly string[] = [],
): Problem[] {
  const points = Object.entries(partsIn(machine.points))
  const known = pointNames(machine)
  const at = (machine.worksAt ?? '') as string
  const remedy = known.length === 0 ? 'Leave it at its own conditions, or add a point.' : nameRemedy(at, known)
  return [
    ...(at === '' || known.includes(at)
      ? []
      : [{ where: `${path}.worksAt`, what: `There is no operating point named ${at}.`, remedy }]),
    ...ofOnePoint(path, machine, fixable, runnable),
    ...points.flatMap(([name, point]) => ofOnePoint(`${path}.points.${name}`, point, fixable, runnable)),
  ]
}

function ofOnePoint(path: string, point: Part, fixable: readonly string[], runnable: readonly string[]): Problem[] {
  const seen = new Map<string, string>()
  return Object.entries(partsIn(point.conditions)).flatMap(([name, part]): Problem[] => {
    const where = `${path}.conditions.${name}.signal`
    const signal = part.signal as string
    const runs = part.kind === runsOn.name
    const known = runs ? runnable : fixable
    if (!known.includes(signal)) {
      const remedy = nameRemedy(signal, known)
      const could = runs ? 'could run on at an operating point' : 'an operating point could fix'
      return [{ where, what: `There is nothing named ${signal} that ${could}.`, remedy }]
    }
    const before = seen.get(signal)
    seen.set(signal, part.kind)
    if (before === undefined) return []
    // a place may be where it is counted from and run on from there
    if (before !== part.kind) return []
    return [{ where, what: `${signal} ${runs ? 'runs on' : 'is fixed'} twice.`, remedy: 'Remove one of the two conditions.' }]
  })
}
