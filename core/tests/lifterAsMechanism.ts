import { checkDocument } from '../check'
import type { Part } from '../document'
import { readingOfLifter, withoutLifters } from '../lifters'
import { expectDone } from './expectDone'
import { oneMachine } from './oneMachine'

/** A lifter whose numbers are worked out as bodies on joints. */
export function lifterAsMechanism(machine: Part): Part {
  const written = { ...oneMachine(machine, {}), trials: {} }
  return expectDone(checkDocument(withoutLifters(written))).resolved.machines.m!
}

export { readingOfLifter as readingOf }
