import { groups } from '@calm-hand/core'
import { findAt } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import { findSlot } from '@calm-hand/core/kinds'
import type { Slot } from '@calm-hand/core/kinds'
import { useOpen } from '../state/project'

export interface SlotState {
  readonly slot: Slot | undefined
  readonly value: unknown
  readonly problem: Problem | undefined
}

/** The slot at a document path such as `loops.height.rate`: its definition, value and problem. */
export function useSlotValue(path: string): SlotState {
  const [group, name, ...rest] = path.split('.')
  const part = useOpen((project) => findAt(project.document, `${group}.${name}`))
  const value = useOpen((project) => findAt(project.document, path))
  const problem = useOpen((project) =>
    project.problems.find(
      ({ where }) =>
        where === path || where.startsWith(`${path}.`) || (path.startsWith(`${where}.`) && where.split('.').length > 3),
    ),
  )
  const kinds = groups[group as keyof typeof groups]
  return { slot: kinds === undefined ? undefined : findSlot(kinds, part, rest), value, problem }
}
