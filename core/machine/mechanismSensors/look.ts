import type { Part } from '../../document'
import { ground } from '../assemble'
import { findReading } from '../readings/values'

/** What a sensor can know of its machine when it says what it measures. */
export interface Look {
  /** The rate of a coordinate. */
  readonly rateOf: (quantity: string) => string | undefined
  /** A value of a reading of a kind, under its full name, where the machine has such a reading. */
  readonly reading: (kind: string, matches: (part: Part) => boolean, value: string) => string | undefined
}

/** The attitude of a body against the world. */
export function attitudeWanted(body: unknown): readonly [string, (part: Part) => boolean] {
  return ['attitudeReading', (part) => part.body === body && part.from === ground]
}

/** The place of a point of a body in the world. */
export function placeWanted(body: unknown, at: unknown): readonly [string, (part: Part) => boolean] {
  return ['placeReading', (part) => part.body === body && part.from === ground && JSON.stringify(part.at) === JSON.stringify(at)]
}

export function lookOf(machine: Part, rateOf: Look['rateOf']): Look {
  return { rateOf, reading: (kind, matches, value) => findReading(machine, kind, matches, value) }
}
