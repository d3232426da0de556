import { findAt, replaceAt } from '../document'
import type { Part } from '../document'

/** What the software of a machine knows of it, where the machine is not what it is said to be. */
const known = new WeakMap<Part, Part>()

/** What a machine's software computes with, such as allocation: the machine itself unless said otherwise. */
export function knownOf(machine: Part): Part {
  return known.get(machine) ?? machine
}

/** A machine as it truly is, whose software knows it otherwise. */
export function knownAs(truth: Part, software: Part): Part {
  if (truth !== software) known.set(truth, knownOf(software))
  return truth
}

/** The same machine with some of its numbers, by path, times factors; its software goes on with the numbers as they were. */
export function withTrueNumbers(machine: Part, factors: Readonly<Record<string, number>>): Part {
  const truth = Object.entries(factors).reduce(
    (now, [path, factor]) => replaceAt(now, path, (findAt(now, path) as number) * factor),
    machine,
  )
  return knownAs(truth, machine)
}
