import { partsIn } from '../document'
import type { Part, Problem } from '../document'
import { partOf } from '../kinds'
import type { PartOf } from '../kinds'
import { startPose, startableStates } from '../simulation'
import { unknown } from './trialCues'

/** What is wrong with the numbers that a trial starts with. */
export function trialStartProblems(machine: Part, path: string, trial: Part): Problem[] {
  const starts = Object.entries(partsIn(trial.starts))
  if (starts.length === 0) return []
  const known = startableStates(machine).map(({ name }) => name)
  const seen = new Set<string>()
  return starts.flatMap(([key, part]): Problem[] => {
    const own = `${path}.starts.${key}`
    const where = `${own}.state`
    const name = String(part.state)
    if (Object.keys(partsIn(machine.chains)).length > 0) {
      const what = 'A machine with closed chains starts where they close: one number of it cannot be another alone.'
      return [{ where: own, what, remedy: 'Give the bodies another start in the machine, and let the trial ask for the rest.' }]
    }
    if (part.kind === startPose.name) return poseProblems(own, partOf(startPose, part), machine)
    if (!known.includes(name)) return unknown(where, 'position or speed', name, known)
    if (seen.has(name)) return [{ where, what: `It starts with ${name} twice.`, remedy: 'Remove one of the two.' }]
    seen.add(name)
    return []
  })
}

function poseProblems(path: string, { motion, pose }: PartOf<typeof startPose>, machine: Part): Problem[] {
  const motions = partsIn(machine.motions)
  const given = motions[motion]
  if (given === undefined) return unknown(`${path}.motion`, 'motion', motion, Object.keys(motions))
  const count = (given.knots as readonly unknown[]).length
  if (pose <= count) return []
  const what = `There is no pose ${pose}: ${motion} has ${count}.`
  return [{ where: `${path}.pose`, what, remedy: `Give one from 1 to ${count}, or keep another pose.` }]
}
