import { chainProblems, commandedLoop, estimators, filterProblems, laws, pushOf, stopProblems } from '../control'
import { nameRemedy, nearestName, partsIn } from '../document'
import type { Document, LoopPart, Part, Problem } from '../document'
import { findKind, nameInWords } from '../kinds'
import {
  findHeld,
  heldQuantities,
  measuringSensors,
  mechanismSensors,
  pointNames,
  pushesOf,
  sensorsOf,
  machineNumbers,
} from '../machine'
import { readBy } from '../simulation'
import { overrideProblems } from './parameters'
import { trialCheckProblems } from './trialChecks'
import { trialCueProblems } from './trialCues'
import { trialHandProblems } from './trialHands'
import { trialStartProblems } from './trialStarts'

/** Names that lead nowhere, and two loops that push the same. `wrong`: machines that have problems themselves. */
export function references(document: Document, wrong: ReadonlySet<string>): Problem[] {
  const problems: Problem[] = []
  const expect = (where: string, given: unknown, known: readonly string[], what: string) => {
    const name = given as string
    if (known.includes(name)) return true
    const near = nearestName(name, known)
    const remedy = near === undefined ? `Known: ${known.join(', ') || 'none'}.` : `Did you mean ${near}?`
    problems.push({ where, what: `There is no ${what} named ${name}.`, remedy })
    return false
  }
  const machines = Object.keys(document.machines)
  const pushed = new Map<string, string>()
  for (const [name, part] of Object.entries(document.loops)) {
    if (expect(`loops.${name}.machine`, part.machine, machines, 'machine')) {
      const machine = document.machines[part.machine]!
      const known = (list: readonly { readonly name: string }[]) => list.map((one) => one.name)
      expect(`loops.${name}.holds`, part.holds, known(heldQuantities(machine)), 'quantity to hold')
      if ((part.point ?? '') !== '') expect(`loops.${name}.point`, part.point, pointNames(machine), 'operating point')
      if (commandedLoop(part.pushes) === undefined) expect(`loops.${name}.pushes`, part.pushes, known(pushesOf(machine)), 'push')
      problems.push(...readingProblems(document, `loops.${name}`, part, machine), ...filterProblems(`loops.${name}`, part))
      problems.push(...stopProblems(`loops.${name}`, part))
      problems.push(...limitProblems(`loops.${name}`, part), ...lawProblems(`loops.${name}.law`, part.law, machine))
    }
    const key = `${part.machine}.${part.pushes}`
    const other = pushed.get(key)
    if (other !== undefined) {
      problems.push({
        where: `loops.${name}.pushes`,
        what: `Both ${other} and ${name} push ${pushOf(document, part)?.label ?? part.pushes}.`,
        remedy: 'Let each push belong to one loop.',
      })
    }
    pushed.set(key, name)
  }
  problems.push(...chainProblems(document))
  for (const [name, part] of Object.entries(document.estimators)) {
    const path = `estimators.${name}`
    if (!expect(`${path}.machine`, part.machine, machines, 'machine')) continue
    const machine = document.machines[part.machine]!
    const kind = findKind(estimators, part)
    if (kind === undefined) continue
    const sensors = Object.entries(sensorsOf(machine))
    const needs = Object.entries(kind.needs ?? {}).map(([slot, sorts]) => {
      const suits = sensors.filter(([, sensor]) => sorts.includes(sensor.kind)).map(([one]) => one)
      return expect(`${path}.${slot}`, part[slot], suits, sensorWords(sorts[0]!))
    })
    if (needs.every(Boolean)) problems.push(...kind.problems(path, machine, part))
  }
  for (const [name, part] of Object.entries(document.trials)) {
    const path = `trials.${name}`
    if (!expect(`${path}.machine`, part.machine, machines, 'machine')) continue
    const machine = document.machines[part.machine]!
    if ((part.scene ?? '') !== '') expect(`${path}.scene`, part.scene, Object.keys(document.scenes ?? {}), 'scene')
    problems.push(...trialCueProblems(document, path, part, !wrong.has(part.machine)), ...trialHandProblems(document, path, part))
    problems.push(...trialStartProblems(machine, path, part))
    const numbers = machineNumbers(machine).map(({ path: number }) => number)
    const parameters = Object.keys(document.parameters ?? {}).map((one) => `parameters.${one}`)
    for (const [key, change] of Object.entries(partsIn(part.overrides))) {
      const known = [...parameters, ...numbers]
      if (expect(`${path}.overrides.${key}.parameter`, change.parameter, known, 'number of the machine or parameter'))
        problems.push(...overrideProblems(`${path}.overrides.${key}`, machine, change))
    }
    for (const [key, check] of Object.entries(partsIn(part.checks)))
      problems.push(...trialCheckProblems(document, `${path}.checks.${key}`, part.machine, check))
  }
  return problems
}

/** A law that needs a rate which the machine has not, or reads what nothing measures. */
function readingProblems(document: Document, path: string, loop: LoopPart, machine: Part): Problem[] {
  const problems: Problem[] = []
  const law = loop.law
  const held = findHeld(machine, loop.holds)
  if (held !== undefined && held.rate === undefined && findKind(laws, law)?.readsRate === true) {
    const what = `The law acts on the rate of ${held.name}, which this machine does not tell.`
    const remedy = 'Choose a law without a rate, hold its rate instead, or make the rate a state or output of its own.'
    problems.push({ where: `${path}.law`, what, remedy })
  }
  const read = readBy(loop, machine)
  if (loop.reads === 'measured' && held !== undefined) {
    const measured = new Set(measuringSensors(machine).map(({ quantity }) => quantity))
    for (const quantity of read.filter((one) => !measured.has(one)))
      problems.push({
        where: `${path}.reads`,
        what: `The loop reads measured values, but nothing measures ${quantity}.`,
        remedy: 'Give the machine a sensor of it, or let the loop read what it truly is.',
      })
  }
  // what an observer estimates is known once it is designed
  const isLater = estimatorsOn(document, loop).some(({ kind }) => kind.refused !== undefined)
  return isLater ? problems : [...problems, ...estimateProblems(document, path, loop, machine)]
}

/** Signals that a law reads and the machine has not, and what else its kind says of it. */
function lawProblems(path: string, law: Part, machine: Part): Problem[] {
  const kind = findKind(laws, law)
  const known = heldQuantities(machine).map(({ name }) => name)
  const strange = (kind?.signals?.(law) ?? []).filter((signal) => !known.includes(signal))
  return [
    ...strange.map((signal) => ({
      where: path,
      what: `The law reads ${signal}, which this machine does not have.`,
      remedy: nameRemedy(signal, known),
    })),
    ...(kind?.problems?.(path, law, known) ?? []),
  ]
}

function sensorWords(kind: string): string {
  return mechanismSensors.find(({ name }) => name === kind)?.label ?? nameInWords(kind)
}

function limitProblems(path: string, { least, most }: Part): Problem[] {
  if (!(typeof least === 'number' && typeof most === 'number' && least >= most)) return []
  const what = `The least command, ${least}, is not below the most, ${most}.`
  return [{ where: `${path}.least`, what, remedy: 'Swap them, or leave one out.' }]
}

function estimatorsOn(document: Document, { machine }: Part) {
  return Object.values(document.estimators).flatMap((part) => {
    const kind = findKind(estimators, part)
    return kind === undefined || part.machine !== machine ? [] : [{ part, kind }]
  })
}

/** A loop that reads estimates of what nothing estimates. */
export function estimateProblems(document: Document, path: string, loop: LoopPart, machine: Part): Problem[] {
  const held = findHeld(machine, loop.holds)
  if (loop.reads !== 'estimated' || held === undefined) return []
  const all = estimatorsOn(document, loop)
  const known = new Set(all.flatMap(({ part, kind }) => kind.estimates(machine, part)))
  // a tilt follows from the angles
  if (known.has(held.name) || held.vector?.attitude.some((angle) => known.has(angle)) === true) return []
  const blind = all.some(({ kind }) => kind.refused !== undefined)
  return [
    {
      where: `${path}.reads`,
      what: `The loop reads estimated values, but nothing estimates ${held.label}.`,
      remedy: blind
        ? 'Let the observer read what shows it, or let the loop read what it truly is.'
        : 'Add an estimator that gives it, or let the loop read what it truly is.',
    },
  ]
}
