import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { parseDocument } from '../index'
import { replaceAt } from '../document'
import type { Document } from '../document'

/** The readings of the lifter by what they read: height, roll, ... */
export { readingOfLifter as readingOf } from '../document/lifters'

const folder = join(import.meta.dirname, '../../demo')

/** Names of all demo documents. */
export const demoNames = readdirSync(folder)
  .filter((file) => file.endsWith('.json'))
  .map((file) => file.replace('.json', ''))

/** A demo document, fresh. */
export function demo(name: string): Document {
  return parsed(demoText(name))
}

function parsed(text: string): Document {
  return outcomeOf(text).resolved
}

function outcomeOf(text: string) {
  const outcome = parseDocument(text)
  if (outcome.kind === 'refused') throw new Error(JSON.stringify(outcome.problems))
  return outcome.value
}

/** The lifter of the demo as documents of version 4 had it, with one loop for its height: brought to the present version. */
export function lamplighter(): Document {
  return parsed(lamplighterText())
}

/** The same with its formulas as they are written. */
export function writtenLamplighter(): Document {
  return outcomeOf(lamplighterText()).document
}

/** The same with its whole cascade, tilt as one vector. */
export function lampCascade(): Document {
  return parsed(earlierText('lamplighter-cascade-4'))
}

/** Where the air does not resist and the ground is far, its height is a pure inertia behind the rotors' lag. */
export function lamplighterInVacuum(): Document {
  return replaceAt(farFromGround(lamplighter()), 'machines.lamplighter.forces.drag.linear', 0)
}

/** Rotors feel no ground that is so far below. */
export function farFromGround(document: Document): Document {
  const profile = [
    [-1000, -1e5],
    [1000, -1e5],
  ]
  return replaceAt(document, 'machines.lamplighter.surroundings.ground.profile', profile)
}

export function lamplighterText(): string {
  return earlierText('lamplighter-4')
}

/** The text of a document that an earlier version wrote. */
export function earlierText(name: string): string {
  return readFileSync(join(import.meta.dirname, 'documents', `${name}.json`), 'utf8')
}

/** The text of a demo document, as it is written. */
export function demoText(name: string): string {
  return readFileSync(join(folder, `${name}.json`), 'utf8')
}
