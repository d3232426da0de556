import { rememberedOf } from '../../document'
import type { Document, Part } from '../../document'
import { findKind } from '../../kinds'
import type { LinearEstimator } from './estimator'
import { estimators } from './list'

/** By machine, which nobody changes in place. */
const known = new WeakMap<Part, Map<string, LinearEstimator | undefined>>()

/** The estimators of a machine, by name, in the order in which they work. */
export function estimatorsOf(document: Pick<Document, 'estimators'>, machineName: string) {
  const own = Object.entries(document.estimators).flatMap(([name, part]) => {
    const kind = findKind(estimators, part)
    return kind === undefined || part.machine !== machineName ? [] : [{ name, part, kind }]
  })
  const isLast = ({ kind }: (typeof own)[number]) => kind.isLast === true
  return [...own.filter((one) => !isLast(one)), ...own.filter(isLast)]
}

/** Those of them that have a linear form about the operating point. */
export function linearEstimators(
  document: Document,
  machineName: string,
  machine = document.machines[machineName]!,
): readonly LinearEstimator[] {
  return estimatorsOf(document, machineName).flatMap(({ name, part, kind }) => {
    const key = `${name} ${JSON.stringify(part)}`
    const found = rememberedOf(known, machine, key, () => kind.atRest(machine, `estimators.${name}`, part))
    return found === undefined ? [] : [found]
  })
}
