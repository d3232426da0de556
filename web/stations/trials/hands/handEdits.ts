import { asCued } from '@calm-hand/core/control'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { blankPart } from '@calm-hand/core/kinds'
import { findHeld, pushesOf } from '@calm-hand/core/machine'
import type { Hand } from '@calm-hand/core/simulation'
import { addPart } from '../../../state/edits'
import type { Edit } from '../../../state/edits'
import { freeName } from '../../machine/partEdits'
import type { Added } from '../../machine/partEdits'
import type { TrialView } from '../useTrialView'

/** What a hand first asks of a quantity or a push, in its unit. */
const firstMost: Readonly<Record<string, number>> = { rad: 0.2, m: 0.5, 'm/s': 0.5, 'rad/s': 0.2 }

/** Loops of the machine that follow cues, else its pushes: what a hand may move. */
function movable(document: Document, { machine, machineName }: Pick<TrialView, 'machine' | 'machineName'>) {
  const loops = Object.entries(document.loops)
    .filter(([, loop]) => loop.machine === machineName && loop.reference === 'cue')
    .map(([loop, { holds }]) => ({ loop, by: firstMost[findHeld(machine, holds)?.unit ?? ''] ?? 1 }))
  return loops.length > 0 ? loops : pushesOf(machine).map(({ name }) => ({ loop: asCued(name), by: 1 }))
}

/** A hand of a kind that moves what none moves yet. */
export function addHand(document: Document, view: TrialView, kind: Hand, gains: readonly string[]): Added {
  const path = `trials.${view.trial}.hands`
  const hands = partsIn(document.trials[view.trial]!.hands)
  const all = movable(document, view)
  const taken = Object.values(hands).flatMap(({ loop, loopUp }) => [loop, loopUp])
  const free = [...all.filter(({ loop }) => !taken.includes(loop)), ...all]
  const [first, second] = [free[0], free[1] ?? free[0]]
  const isPosition = (loop: string | undefined) =>
    findHeld(view.machine, document.loops[loop ?? '']?.holds ?? '')?.rate !== undefined
  const name = freeName(Object.keys(hands), kind.name.replace(/Hand$/, ''))
  const slots = {
    ...(first === undefined ? {} : { loop: first.loop, by: first.by }),
    ...(second === undefined ? {} : { loopUp: second.loop, byUp: second.by }),
    // a place is driven on, a speed is asked for
    how: isPosition(first?.loop) ? 'drives' : 'asks',
    gain: gains.find((gain) => !Object.values(hands).some((hand) => hand.gain === gain)) ?? gains[0] ?? '',
  }
  return { name, change: addPart(`${path}.${name}`, blankPart(kind, slots), `Add a ${kind.label}`) }
}

/** The hand a place earlier or later in the panel. */
export function moveInPanel(trial: string, name: string, by: -1 | 1): Edit {
  return {
    label: 'Lay out the hands',
    apply: (document) => {
      const entries = Object.entries(partsIn(document.trials[trial]!.hands))
      const at = entries.findIndex(([one]) => one === name)
      const to = at + by
      if (at < 0 || to < 0 || to >= entries.length) return document
      const moved: [string, Part][] = [...entries]
      ;[moved[at], moved[to]] = [moved[to]!, moved[at]!]
      return {
        ...document,
        trials: { ...document.trials, [trial]: { ...document.trials[trial]!, hands: Object.fromEntries(moved) } },
      }
    },
  }
}
