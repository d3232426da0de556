import { equal, select } from '../../expression'
import type { Scalar } from '../../expression'
import { partsIn } from '../../document'
import type { LoopPart, Part, Problem } from '../../document'
import { findKind, valuesOf } from '../../kinds'
import { protectiveStop } from './protectiveStop'
import { stopMemory } from './stop'
import type { Stop, StopInputs } from './stop'
import { watchdog } from './watchdog'

export const stops: readonly Stop[] = [protectiveStop, watchdog]

/** The stops of a loop as one sampled block. */
export interface LoopStops {
  readonly count: number
  readonly memory: number
  /** `tripped` is the number of the stop that tripped first, from 1; 0 while none has. */
  readonly step: (
    inputs: StopInputs,
    tripped: Scalar,
    memory: readonly Scalar[],
  ) => { readonly tripped: Scalar; readonly memory: readonly Scalar[] }
  /** What goes out instead of the command once a stop has tripped. */
  readonly commanded: (tripped: Scalar, actions: Readonly<Record<string, Scalar>>, command: Scalar) => Scalar
}

function partsOf(loop: LoopPart): readonly Part[] {
  return Object.values(partsIn(loop.stops))
}

export function stopsOf(loop: LoopPart): LoopStops {
  const all = partsOf(loop).flatMap((part) => {
    const kind = findKind(stops, part)
    return kind === undefined ? [] : [{ kind, part: { ...valuesOf(kind, part), kind: kind.name } as Part }]
  })
  return {
    count: all.length,
    memory: stopMemory * all.length,
    step: (inputs, tripped, memory) => {
      const each = all.map(({ kind, part }, i) => kind.step(inputs, memory.slice(stopMemory * i, stopMemory * (i + 1)), part))
      // the first in the list wins where two trip at once
      const now = each.reduceRight<Scalar>((later, { trips }, i) => select(trips, i + 1, later), 0)
      return { tripped: select(equal(tripped, 0), now, tripped), memory: each.flatMap((one) => one.memory) }
    },
    commanded: (tripped, actions, command) =>
      all.reduce<Scalar>((out, { part }, i) => select(equal(tripped, i + 1), actions[part.action as string]!, out), command),
  }
}

/** What is wrong with the stops of a loop. */
export function stopProblems(path: string, loop: LoopPart): Problem[] {
  return Object.entries(partsIn(loop.stops)).flatMap(
    ([name, part]) => findKind(stops, part)?.problems?.(`${path}.stops.${name}`, part) ?? [],
  )
}
