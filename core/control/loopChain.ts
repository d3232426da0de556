import { nameRemedy } from '../document'
import type { Document, LoopPart, Problem } from '../document'
import { findHeld, findPush, pushesOf } from '../machine'
import type { Push } from '../machine'

/** A loop pushes the reference of another by this before its name. */
const prefix = 'loops.'

/** A cue moves a push of the machine by this before its name; everything else that it moves is a loop. */
const cuePrefix = 'pushes.'

/** The push of the machine that a cue moves, if it moves one: on top of what loops and balance ask of it. */
export function cuedPush(target: string): string | undefined {
  return target.startsWith(cuePrefix) ? target.slice(cuePrefix.length) : undefined
}

/** What cues call a push of the machine. */
export function asCued(push: string): string {
  return cuePrefix + push
}

/** The loop whose reference a push is, if it is one. */
export function commandedLoop(pushes: string): string | undefined {
  return pushes.startsWith(prefix) ? pushes.slice(prefix.length) : undefined
}

/** What a loop pushes: of its machine, or the reference of another loop in the unit of what that one holds. */
export function pushOf(document: Document, loop: LoopPart): Push | undefined {
  const machine = document.machines[loop.machine]
  const pushes = loop.pushes
  const inner = document.loops[commandedLoop(pushes) ?? '']
  if (machine === undefined) return undefined
  if (inner === undefined) return findPush(machine, pushes)
  const held = findHeld(machine, inner.holds)
  return held === undefined ? undefined : { name: pushes, label: `${held.label} reference`, unit: held.unit }
}

/** Everything that a loop may push: its machine's pushes, and references of loops that wait for a command. */
export function pushChoices(document: Document, name: string): readonly Push[] {
  const own = document.loops[name]!
  const machine = document.machines[own.machine]
  if (machine === undefined) return []
  const waiting = Object.keys(document.loops).filter((one) => {
    const part = document.loops[one]!
    return one !== name && part.machine === own.machine && part.reference === 'command'
  })
  const references = waiting.flatMap((one) => pushOf(document, { ...own, pushes: `${prefix}${one}` }) ?? [])
  return [...pushesOf(machine), ...references]
}

/** The loop that commands another's reference. */
function commanderOf(document: Document, name: string): string | undefined {
  return Object.keys(document.loops).find((one) => commandedLoop(document.loops[one]!.pushes) === name)
}

/** The loops that a loop commands, one through the other, nearest first. Meant for checked documents: a ring ends where it closes. */
export function innerLoops(document: Document, name: string): readonly string[] {
  const chain: string[] = []
  let next = commandedLoop(document.loops[name]!.pushes)
  while (next !== undefined && document.loops[next] !== undefined && next !== name && !chain.includes(next)) {
    chain.push(next)
    next = commandedLoop(document.loops[next]!.pushes)
  }
  return chain
}

/** The loops of a machine, every one before those that it commands: so commands pass within one tick. */
export function outerFirst(document: Document, machine: string): readonly string[] {
  const mine = Object.keys(document.loops).filter((name) => document.loops[name]!.machine === machine)
  return [...mine].sort((a, b) => innerLoops(document, b).length - innerLoops(document, a).length)
}

/** The loop that holds the other component of the vector of which a loop holds one. */
export function besideOf(document: Document, name: string): string | undefined {
  const { machine, holds } = document.loops[name]!
  const beside = findHeld(document.machines[machine]!, holds)?.vector?.beside
  return Object.keys(document.loops).find((one) => {
    const part = document.loops[one]!
    return beside !== undefined && part.machine === machine && part.holds === beside
  })
}

/** Two loops that hold one vector turn its error together: at the same samples, as far from the machine. */
function vectorProblems(document: Document, name: string): Problem[] {
  const part = document.loops[name]!
  const other = document.machines[part.machine] === undefined ? undefined : besideOf(document, name)
  if (other === undefined || name > other) return []
  const where = `loops.${other}`
  const both = `${name} and ${other} hold one vector`
  if (document.loops[other]!.rate !== part.rate) {
    const what = `${both}, yet run ${part.rate} and ${document.loops[other]!.rate} times a second.`
    return [{ where: `${where}.rate`, what, remedy: `Give both ${part.rate} Hz.` }]
  }
  if (innerLoops(document, name).length !== innerLoops(document, other).length) {
    const what = `${both}, yet one of them pushes through more loops than the other.`
    return [{ where: `${where}.pushes`, what, remedy: 'Let both push the machine, or both a loop on a rate.' }]
  }
  return []
}

/** Contradictions between loop sentences: rings, references nobody commands, outer loops that run faster. */
export function chainProblems(document: Document): Problem[] {
  return Object.entries(document.loops).flatMap(([name, part]) => {
    const where = `loops.${name}`
    const inner = commandedLoop(part.pushes)
    const problems = vectorProblems(document, name)
    if (part.reference === 'command' && commanderOf(document, name) === undefined) {
      const what = `${name} waits for another loop's command, but no loop pushes its reference.`
      problems.push({ where: `${where}.reference`, what, remedy: 'Let it follow its cue, or let another loop push it.' })
    }
    if (inner === undefined) return problems
    const target = document.loops[inner]
    if (target === undefined) {
      const others = Object.keys(document.loops).filter((one) => one !== name)
      const what = `There is no loop named ${inner} to command.`
      return [...problems, { where: `${where}.pushes`, what, remedy: nameRemedy(inner, others) }]
    }
    if (target.machine !== part.machine) {
      const what = `${name} and ${inner} belong to different machines.`
      problems.push({ where: `${where}.pushes`, what, remedy: 'Command a loop of the same machine.' })
    }
    if (target.reference !== 'command') {
      const what = `${name} commands ${inner}, which takes its reference from elsewhere.`
      problems.push({ where: `loops.${inner}.reference`, what, remedy: `Let ${inner} hold another loop's command.` })
    }
    const ring = ringFrom(document, name)
    if (ring !== undefined) {
      const what = `The loops command one another in a ring: ${ring.join(' → ')}.`
      problems.push({ where: `${where}.pushes`, what, remedy: 'Let the innermost push a drive of the machine.' })
    }
    const [outer, own] = [part.rate, target.rate]
    if (outer > own) {
      const what = `${name} runs ${outer} times a second, faster than ${inner} that it commands (${own}).`
      problems.push({ where: `${where}.rate`, what, remedy: `Give at most ${own} Hz.` })
    } else if (own % outer !== 0) {
      const what = `${inner} runs ${own} times a second, not a whole number of times for each of ${name}'s ${outer}.`
      problems.push({ where: `${where}.rate`, what, remedy: `Give ${nearestDivisor(own, outer)} Hz.` })
    }
    return problems
  })
}

function ringFrom(document: Document, name: string): string[] | undefined {
  const path = [name]
  for (;;) {
    const next = commandedLoop(document.loops[path.at(-1)!]?.pushes as string)
    if (next === undefined || document.loops[next] === undefined) return undefined
    if (next === name) return [...path, name]
    if (path.includes(next)) return undefined // a ring further on: named where it closes
    path.push(next)
  }
}

/** The whole divisor of a rate that lies nearest to another. */
function nearestDivisor(rate: number, wanted: number): number {
  let best = rate
  for (let k = 1; k <= rate; k++) {
    if (rate % k !== 0) continue
    if (Math.abs(rate / k - wanted) < Math.abs(best - wanted)) best = rate / k
  }
  return best
}
