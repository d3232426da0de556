import { done, sharing } from '@calm-hand/core/document'
import type { Document, Outcome } from '@calm-hand/core/document'
import { compile, noteNumbers, renumbered, start } from '@calm-hand/core/simulation'
import type { Program, Simulation } from '@calm-hand/core/simulation'
import { standingMeshes } from './standingMeshes'

export interface Started {
  readonly document: Document
  readonly trial: string
  readonly program: Program
  readonly simulation: Simulation
}

/**
 * Programs of trials, ready to run. The last one is kept, which an unchanged trial runs again at once: one alone, as a long
 * record takes its room. Of another document what is as in the last one is that very part: designs of it are known. What is
 * followed may take numbers of the machine as they were seen to live in memory.
 */
export function createLastProgram(
  use: 'kept' | 'followed' = 'kept',
): (given: Document, trial: string) => Promise<Outcome<Started>> {
  let started: Started | undefined
  let last: Document | undefined
  return async (given, trial) => {
    const document = (last = sharing(given, last))
    if (started?.document === document && started.trial === trial) return done(started)
    const other = started?.trial === trial ? renumbered(started.program, started.document, document, trial, use) : undefined
    if (other !== undefined) return done((started = { document, trial, program: other, simulation: start(other) }))
    const compiled = compile(document, trial, { findMesh: await standingMeshes(document, trial) })
    if (compiled.kind === 'refused') return compiled
    if (use === 'followed' && started?.trial === trial)
      noteNumbers(started.program, started.document, compiled.value, document, trial)
    return done((started = { document, trial, program: compiled.value, simulation: start(compiled.value) }))
  }
}
