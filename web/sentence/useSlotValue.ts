import { groups } from '@calm-hand/core'
import { findAt } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import { isFormula } from '@calm-hand/core/formula'
import { findSlot } from '@calm-hand/core/kinds'
import type { Slot } from '@calm-hand/core/kinds'
import { useOpen } from '../state/project'

export interface SlotState {
  readonly slot: Slot | undefined
  /** As it is written. */
  readonly value: unknown
  /** The number it stands for, where it is a formula; the last good one while it has a problem. */
  readonly worked: unknown
  readonly problem: Problem | undefined
}

/** The slot at a document path such as `loops.height.rate`: its definition, value and problem. */
export function useSlotValue(path: string): SlotState {
  const [group, name, ...rest] = path.split('.')
  const part = useOpen((project) => findAt(project.document, `${group}.${name}`))
  const value = useOpen((project) => findAt(project.document, path))
  const worked = useOpen((project) => workedOut(findAt(project.document, path), findAt(project.valid, path)))
  const problem = useOpen((project) =>
    project.problems.find(
      ({ where }) =>
        where === path || where.startsWith(`${path}.`) || (path.startsWith(`${where}.`) && where.split('.').length > 3),
    ),
  )
  const kinds = groups[group as keyof typeof groups]
  return { slot: kinds === undefined ? undefined : findSlot(kinds, part, rest), value, worked, problem }
}

/** The number of a formula comes from the document whose formulas are worked out. */
function workedOut(written: unknown, resolved: unknown): unknown {
  const hasFormula = isFormula(written) || (Array.isArray(written) && written.some(isFormula))
  return hasFormula ? resolved : written
}
