import { cuedPush } from '../control'
import { loop } from '../tuning'
import { nameRemedy, partsIn } from '../document'
import type { Document, Part, Problem } from '../document'
import { namesInFormula, parseFormula } from '../formula'
import { findKind, partOf, valuesOf } from '../kinds'
import { bodiesOf, effectParts, isBodiless, machineNumbers, pushesOf } from '../machine'
import {
  alterableSignals,
  changingNumbers,
  conditionProblems,
  cues,
  cueTimes,
  never,
  trial,
  trialDuration,
  waitsOf,
} from '../simulation'
import type { Cue } from '../simulation'
import { lostOwner } from './trialChecks'

/** What is wrong with the cues of a trial: with what they move, wait for, change or alter. Of a machine that is wrong itself its signals are not asked. */
export function trialCueProblems(document: Document, path: string, part: Part, isMachineRight: boolean): Problem[] {
  const all = partsIn(part.cues)
  const waiting = waitingProblems(`${path}.cues`, all)
  const found = Object.entries(all).flatMap(([name, cue]): Problem[] => {
    const kind = findKind(cues, cue)
    if (kind === undefined) return []
    const about = { document, machineName: part.machine as string, where: `${path}.cues.${name}`, cue, kind, isMachineRight }
    return [
      ...(kind.problems?.(about.where, cue) ?? []),
      ...('loop' in kind.slots
        ? movedProblems({ ...about, where: `${about.where}.loop`, moved: cue.loop, isSwitch: kind.switchesTo !== undefined })
        : []),
      ...actedProblems(about),
      ...conditionsProblems(about),
    ]
  })
  if (waiting.length > 0) return [...found, ...waiting]
  return [...found, ...orderProblems(`${path}.cues`, part), ...windProblems(path, part), ...durationProblems(path, part)]
}

interface About {
  readonly document: Document
  readonly machineName: string
  readonly where: string
  readonly cue: Part
  readonly kind: Cue
  readonly isMachineRight: boolean
}

/** A name that is none of those it may be. */
export function unknown(where: string, what: string, given: unknown, known: readonly string[]): Problem[] {
  const name = String(given)
  if (known.includes(name)) return []
  return [{ where, what: `There is no ${what} named ${name}.`, remedy: nameRemedy(name, known) }]
}

interface Movement extends Pick<About, 'document' | 'machineName' | 'where'> {
  /** What is named there. */
  readonly moved: unknown
  readonly isSwitch: boolean
}

/** Of a command or a hand: the loop or push that it moves. */
export function movedProblems({ document, machineName, where, moved, isSwitch }: Movement): Problem[] {
  const machine = document.machines[machineName]!
  const loops = Object.keys(document.loops).filter((one) => document.loops[one]!.machine === machineName)
  const push = typeof moved === 'string' ? cuedPush(moved) : undefined
  if (push !== undefined && !isSwitch) {
    const pushes = pushesOf(machine).map(({ name }) => name)
    return unknown(where, 'push', push, pushes)
  }
  const lost = unknown(where, 'loop', moved, loops)
  const target = document.loops[moved as string]
  if (lost.length > 0 || target === undefined || isSwitch || target.reference === 'cue') return lost
  const what = `The loop ${moved as string} holds ${referenceWords(target)}, so a cue or a hand cannot move it.`
  return [{ where, what, remedy: `Let ${moved as string} follow its cue, or choose another loop.` }]
}

/** What a loop holds instead of its cue. */
function referenceWords(part: Part): string {
  return loop.slots.reference.options[partOf(loop, part).reference]
}

/** Of what acts on the machine or on a signal: whether it is there. */
function actedProblems({ document, machineName, where, cue, kind, isMachineRight }: About): Problem[] {
  const machine = document.machines[machineName]!
  if (kind.slots.number !== undefined) {
    const numbers = changingNumbers(machine).map(({ path }) => path)
    if (!machineNumbers(machine).some(({ path }) => path === cue.number))
      return unknown(`${where}.number`, 'number of the machine', cue.number, numbers)
    if (numbers.includes(cue.number as string)) return []
    const what = `The number ${cue.number as string} matters before a run or to what is drawn: changing it in a run does nothing.`
    return [{ where: `${where}.number`, what, remedy: 'Change another number, or this one for the whole trial.' }]
  }
  if (kind.slots.part !== undefined) return unknown(`${where}.part`, 'force or drive', cue.part, failingParts(machine))
  if (kind.slots.signal !== undefined) {
    if (!isMachineRight) return []
    const signals = alterableSignals(document, machineName).map(({ name }) => name)
    const lost = unknown(`${where}.signal`, 'signal that anything reads', cue.signal, signals)
    return [...lost, ...formulaProblems({ document, machineName, where, cue, kind, isMachineRight })]
  }
  if (kind.adds === undefined) return []
  if (isBodiless(machine)) {
    const what = `The machine ${machineName} has no bodies that could be pushed.`
    return [{ where, what, remedy: 'Move one of its inputs by a command, or change one of its numbers.' }]
  }
  return kind.slots.body === undefined ? [] : unknown(`${where}.body`, 'body', cue.body, Object.keys(bodiesOf(machine)))
}

function failingParts(machine: Part): readonly string[] {
  return isBodiless(machine) ? [] : effectParts(machine).map(({ path }) => path)
}

/** Names of a fault's formula that lead nowhere. */
function formulaProblems({ document, machineName, where, cue }: About): Problem[] {
  if (typeof cue.formula !== 'string' || parseFormula(cue.formula).kind === 'wrong') return []
  const own = ['value', 't', 'since']
  return namesInFormula(cue.formula)
    .filter((name) => !own.includes(name))
    .flatMap((name) => {
      const lost = lostOwner(document, machineName, name)
      return lost === undefined ? [] : [{ where: `${where}.formula`, ...lost }]
    })
}

/** Conditions that a cue waits for, or ends with. */
function conditionsProblems({ document, machineName, where, cue }: About): Problem[] {
  return (['waits', 'until'] as const).flatMap((slot): Problem[] => {
    const condition = waitsOf(cue[slot] as Part | undefined)?.condition
    if (condition === undefined) return []
    const own = conditionProblems(`${where}.${slot}.condition`, condition)
    if (own.length > 0) return own
    const lost = namesInFormula(condition)
      .map((signal) => lostOwner(document, machineName, signal))
      .find((one) => one !== undefined)
    return lost === undefined ? [] : [{ where: `${where}.${slot}.condition`, ...lost }]
  })
}

/** Cues that wait for one that is not there, or for one another. */
function waitingProblems(where: string, all: Readonly<Record<string, Part>>): Problem[] {
  const awaited = (name: string) =>
    (['waits', 'until'] as const).flatMap((slot) => {
      const waits = waitsOf(all[name]?.[slot] as Part | undefined)
      return waits?.cue === undefined ? [] : [{ slot, cue: waits.cue }]
    })
  return Object.keys(all).flatMap((name) =>
    awaited(name).flatMap(({ slot, cue }): Problem[] => {
      const at = `${where}.${name}.${slot}.cue`
      if (all[cue] === undefined) return unknown(at, 'cue', cue, Object.keys(all))
      if (!leadsTo(cue, name, awaited)) return []
      const what =
        cue === name ? 'The cue waits for itself.' : `The cues ${name} and ${cue} wait for each other, so neither comes.`
      return [{ where: at, what, remedy: 'Let one of them come at a time or on a condition.' }]
    }),
  )
}

function leadsTo(from: string, to: string, awaited: (name: string) => readonly { readonly cue: string }[]): boolean {
  const seen = new Set<string>()
  const waiting = [from]
  while (waiting.length > 0) {
    const name = waiting.pop()!
    if (name === to) return true
    if (seen.has(name)) continue
    seen.add(name)
    waiting.push(...awaited(name).map(({ cue }) => cue))
  }
  return false
}

/** What ends before it begins, by the clock. */
function orderProblems(where: string, part: Part): Problem[] {
  return cueTimes(part).flatMap(({ name, begins, cut }): Problem[] => {
    if (cut === undefined || begins >= never || cut > begins) return []
    const what = `It ends at ${cut} s, ${cut < begins ? `before it begins at ${begins} s` : 'as it begins'}.`
    return [{ where: `${where}.${name}.until`, what, remedy: 'Let it end later, or begin sooner.' }]
  })
}

/** A gust in a trial in which the air stands still. */
function windProblems(path: string, part: Part): Problem[] {
  if ((part.realism as Part | undefined)?.gusts === true) return []
  return Object.entries(partsIn(part.cues))
    .filter(([, cue]) => cue.kind === 'gustCue')
    .map(([name]) => ({
      where: `${path}.cues.${name}`,
      what: 'The gust does nothing: the realism layer Wind is off in this trial.',
      remedy: 'Switch the layer on, or remove the gust.',
    }))
}

/** s: a trial that ends later is a slip in the time of a cue. */
const longestTrial = 7200

function durationProblems(path: string, part: Part): Problem[] {
  const duration = trialDuration(valuesOf(trial, part))
  if (!(duration > longestTrial)) return [] // a cue without an end is told by its own check
  const what = `The trial ends after ${duration} s; at most ${longestTrial} s are run.`
  return [{ where: `${path}.cues`, what, remedy: 'Let its cues come earlier.' }]
}
