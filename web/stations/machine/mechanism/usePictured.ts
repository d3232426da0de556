import { useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { useSame } from '../../../frame/useSame'

/** The machine as far as it shows in 3D: the same one while only what bodies weigh changes, so that nothing is drawn anew. */
export function usePictured(machine: Part): Part {
  return useSame(
    machine,
    useMemo(() => picture(machine), [machine]),
  )
}

/** What is drawn depends on, as text. A body without a shape is drawn as a ball of its mass. */
function picture(machine: Part): string {
  const bodies = Object.entries(partsIn(machine.bodies)).map(([name, body]) => {
    const { mass, inertia: _inertia, ...rest } = body
    const hasShape = Object.keys(partsIn(body.shapes)).length > 0
    return [name, hasShape ? rest : { ...rest, mass }]
  })
  return JSON.stringify({ ...machine, bodies })
}
