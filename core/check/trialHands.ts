import { partsIn } from '../document'
import type { Document, Part, Problem } from '../document'
import { findKind } from '../kinds'
import { ends, hands, starts, touchCue, waitsOf } from '../simulation'
import { movedProblems, unknown } from './trialCues'

/** What is wrong with the hands of a trial, and with cues that they move or press. */
export function trialHandProblems(document: Document, path: string, trial: Part): Problem[] {
  const all = partsIn(trial.hands)
  const about = { document, machineName: trial.machine as string }
  const own = Object.entries(all).flatMap(([name, hand]): Problem[] => {
    const kind = findKind(hands, hand)
    if (kind === undefined) return []
    const where = `${path}.hands.${name}`
    const moves = Object.entries(kind.slots).filter(([, slot]) => slot.type === 'name' && slot.of === 'cued')
    return [
      ...moves.flatMap(([slot]) => movedProblems({ ...about, where: `${where}.${slot}`, moved: hand[slot], isSwitch: false })),
      ...gainProblems(document, where, trial, kind.turns?.(hand)),
      ...orderProblems(where, hand),
    ]
  })
  return [...own, ...turnedTwice(path, all), ...keyProblems(path, all), ...namedProblems(path, trial, all)]
}

function gainProblems(document: Document, where: string, trial: Part, gain: string | undefined): Problem[] {
  if (gain === undefined) return []
  const loops = Object.keys(document.loops).filter((name) => document.loops[name]!.machine === trial.machine)
  const loop = /^loops\.([^.]+)\.gains\./.exec(gain)?.[1]
  if (loop !== undefined && loops.includes(loop)) return []
  const remedy = loops.length === 0 ? 'Give the machine a loop, or remove the dial.' : `Loops: ${loops.join(', ')}.`
  return [{ where: `${where}.gain`, what: `No loop of the machine has the gain ${gain}.`, remedy }]
}

function orderProblems(where: string, { least, most }: Part): Problem[] {
  if (!(typeof least === 'number' && typeof most === 'number' && least >= most)) return []
  return [{ where: `${where}.least`, what: `It turns from ${least} to ${most}.`, remedy: 'Swap them.' }]
}

/** A gain that two dials turn. */
function turnedTwice(path: string, all: Readonly<Record<string, Part>>): Problem[] {
  const taken = new Map<string, string>()
  return Object.entries(all).flatMap(([name, hand]): Problem[] => {
    const gain = findKind(hands, hand)?.turns?.(hand)
    const other = gain === undefined ? undefined : taken.get(gain)
    if (gain !== undefined) taken.set(gain, other ?? name)
    if (other === undefined) return []
    return [{ where: `${path}.hands.${name}.gain`, what: `${other} turns this gain already.`, remedy: 'Choose another gain.' }]
  })
}

/** A key, or an axis or button of a game pad, that two hands take. */
function keyProblems(path: string, all: Readonly<Record<string, Part>>): Problem[] {
  const taken = new Map<string, string>()
  return Object.entries(all).flatMap(([name, hand]) => {
    const kind = findKind(hands, hand)
    const slots = [...(kind?.keys ?? []), ...(kind?.sticks ?? []), { slot: 'button' }].map(({ slot }) => slot)
    return slots.flatMap((slot): Problem[] => {
      const value = hand[slot]
      if (value === undefined || value === '' || kind?.slots[slot] === undefined) return []
      const what = typeof value === 'string' ? `key ${value}` : `${slot === 'button' ? 'button' : 'axis'} ${value as number}`
      const other = taken.get(what)
      taken.set(what, other ?? name)
      if (other === undefined) return []
      return [{ where: `${path}.hands.${name}.${slot}`, what: `The ${what} already moves ${other}.`, remedy: 'Choose another.' }]
    })
  })
}

/** Hands that cues name. */
function namedProblems(path: string, trial: Part, all: Readonly<Record<string, Part>>): Problem[] {
  const pressed = Object.keys(all).filter((name) => findKind(hands, all[name]!)?.isPressed === true)
  return Object.entries(partsIn(trial.cues)).flatMap(([name, cue]) => {
    const where = `${path}.cues.${name}`
    const waits = (['waits', 'until'] as const).flatMap((slot) => {
      const hand = waitsOf(cue[slot] as Part | undefined)?.hand
      return hand === undefined ? [] : unknown(`${where}.${slot}.hand`, 'button or switch', hand, pressed)
    })
    if (cue.kind !== touchCue.name) return waits
    return [...waits, ...unknown(`${where}.hand`, 'hand', cue.hand, Object.keys(all)), ...waitingTouch(where, cue)]
  })
}

/** A touch is there at its time. */
function waitingTouch(where: string, cue: Part): Problem[] {
  const kinds = [...starts, ...ends].map(({ name }) => name)
  return (['waits', 'until'] as const)
    .filter((slot) => kinds.includes((cue[slot] as Part | undefined)?.kind ?? ''))
    .map((slot) => ({
      ...{ where: `${where}.${slot}`, what: 'A touch of a hand waits for nothing.' },
      remedy: 'Let it come by the clock, or take the trial by hand again.',
    }))
}
