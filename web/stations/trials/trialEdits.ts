import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { asCued } from '@calm-hand/core/control'
import { isBodiless, pushesOf, trialLayers } from '@calm-hand/core/machine'
import { realism } from '@calm-hand/core/simulation'
import { answerTo } from '../../compute'
import type { Arguments } from '../../compute'
import { addPart, removePart } from '../../state/edits'
import { freeName } from '../machine/partEdits'
import type { Added } from '../machine/partEdits'

/** In the unit of whatever the loop holds, where nothing says that it should be less. */
const usualStep = 0.1

/** The same as `addTrial` with a step that the loop can follow, looked for away from the page. */
export async function addGentleTrial(document: Document, machine: string, asked?: string): Promise<Added> {
  const loop = asked ?? firstLoop(document, machine)
  const usual = addTrial(document, machine, loop)
  if (loop === undefined) return usual
  const tried = usual.change.apply(document)
  const rest: Arguments<'gentleStep'> = [usual.name, loop, usualStep]
  const by = await answerTo({ name: 'gentleStep', document: tried, rest, subject: 'gentle step', lane: 'hand', rank: 2 }).catch(
    () => usualStep,
  )
  return addTrial(document, machine, loop, by)
}

function firstLoop(document: Document, machine: string): string | undefined {
  return Object.keys(document.loops).find((loop) => document.loops[loop]!.machine === machine)
}

/**
 * A trial of a machine that asks a loop for a step: the loop given, or the first one; without loops it moves the first push a
 * little.
 */
export function addTrial(document: Document, machineName: string, asked?: string, by = usualStep): Added {
  const loop = asked ?? firstLoop(document, machineName)
  const cues = loop === undefined ? firstPush(document.machines[machineName]!) : { step: { kind: 'stepCue', loop, at: 1, by } }
  const part: Part = {
    ...{ kind: 'trial', title: freeTitle(document, 'First step'), machine: machineName, cues, after: 10 },
    ...{ method: 'chosen', step: 0.02, seed: 1, overrides: {}, realism: fullRealism() },
  }
  return added(document, 'firstStep', part, 'Add a trial')
}

/** The same trial once more, to be changed. */
export function copyTrial(document: Document, name: string): Added {
  const part = document.trials[name]!
  const title = freeTitle(document, `${part.title}, copy`)
  return added(document, name, { ...part, title }, `Copy ${part.title}`)
}

/** What is pinned of it stays in the tray, and undo brings it back with its runs. */
export function removeTrial(document: Document, name: string) {
  return removePart(`trials.${name}`, `Remove ${document.trials[name]!.title}`)
}

function added(document: Document, wanted: string, part: Part, label: string): Added {
  const name = freeName(Object.keys(document.trials), wanted)
  return { name, change: addPart(`trials.${name}`, part, label) }
}

/** Of what a push can give at most, for a first look. */
const gentleShare = 0.05

function firstPush(machine: Part): Readonly<Record<string, Part>> {
  const [push] = pushesOf(machine)
  if (push === undefined) return {}
  const group = partsIn(machine[isBodiless(machine) ? 'inputs' : 'drives'])
  const part = group?.[push.name.split('.').at(-1)!]
  const limit = (part?.most ?? part?.voltage) as number | undefined
  const by = Number((limit === undefined ? usualStep : gentleShare * limit).toPrecision(2))
  return { shove: { kind: 'stepCue', loop: asCued(push.name), at: 1, by } }
}

function freeTitle(document: Document, wanted: string): string {
  const taken = Object.values(document.trials).map(({ title }) => title)
  if (!taken.includes(wanted)) return wanted
  for (let i = 2; ; i++) if (!taken.includes(`${wanted} ${i}`)) return `${wanted} ${i}`
}

/** All layers on. */
function fullRealism(): Part {
  return { kind: realism.name, ...Object.fromEntries(trialLayers.map(({ name }) => [name, true])) }
}
