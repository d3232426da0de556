import { cuedPush } from '../control'
import { nameRemedy, partsIn } from '../document'
import type { Document, Part, Problem } from '../document'
import { namesInFormula } from '../formula'
import { findKind } from '../kinds'
import { heldQuantities } from '../machine'
import { checks } from '../simulation'

/**
 * What is wrong with a check of a trial: with its sentence, or with what it looks at. Which signals a run has beside the
 * quantities of its machine is known once it is compiled: here, whether there is what they belong to.
 */
export function trialCheckProblems(document: Document, path: string, machine: string, check: Part): Problem[] {
  const kind = findKind(checks, check)
  if (kind === undefined) return []
  const own = kind.problems?.(path, check) ?? []
  if (own.length > 0) return [...own]
  return Object.entries(kind.slots).flatMap(([slot, { type, ...definition }]): Problem[] => {
    const text = String(check[slot] ?? '')
    const of = 'of' in definition ? definition.of : undefined
    const named = type === 'formula' ? namesInFormula(text) : type === 'name' && of === 'signal' ? [text] : []
    const lost =
      type === 'name' && of === 'loop'
        ? lostOwner(document, machine, `loops.${text}`)
        : named.map((signal) => lostOwner(document, machine, signal)).find((one) => one !== undefined)
    return lost === undefined ? [] : [{ where: `${path}.${slot}`, ...lost }]
  })
}

/** A quantity of the machine, or something of a part of it, without the name of the machine. */
function isOwn(machine: Part, signal: string): boolean {
  if (heldQuantities(machine).some(({ name }) => name === signal)) return true
  const [group, part] = signal.split('.') as [string, string?]
  return part !== undefined && Object.hasOwn(partsIn(machine[group]), part)
}

/** Why nothing in the trial has a signal of that name. */
export function lostOwner(document: Document, machine: string, signal: string): Omit<Problem, 'where'> | undefined {
  const [root, name = ''] = signal.split('.') as [string, string?]
  if (root === 'loops' || root === 'estimators') {
    const known = Object.entries<Part>(document[root]).flatMap(([one, part]) => (part.machine === machine ? [one] : []))
    const sort = root === 'loops' ? 'loop' : 'estimator'
    return known.includes(name) ? undefined : { what: `There is no ${sort} named ${name}.`, remedy: nameRemedy(name, known) }
  }
  if (root === machine || cuedPush(signal) !== undefined || isOwn(document.machines[machine]!, signal)) return undefined
  const what = `${signal === '' ? 'What has no name' : signal} belongs to no machine, loop or estimator of this trial.`
  return { what, remedy: nameRemedy(root, [machine, 'loops', 'estimators']) }
}
