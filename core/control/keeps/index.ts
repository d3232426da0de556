import { partsIn } from '../../document'
import type { LoopPart } from '../../document'
import { findKind, number } from '../../kinds'
import type { Kind, Slots } from '../../kinds'

/** A figure that a loop shall keep, by the name of the figure. */
export interface Keep<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  readonly figure:
    | 'overshoot'
    | 'settling'
    | 'peakCommand'
    | 'sensitivityPeak'
    | 'phaseMargin'
    | 'gainMargin'
    | 'delayMargin'
    | 'deviation'
    | 'recovery'
}

export function defineKeep<const S extends Slots>(kind: Keep<S>): Keep<S> {
  return kind
}

const most = (label: string, unit: string, otherwise = 0) => ({ most: number({ label, unit, least: 0, otherwise }) })

export const overshootAtMost = defineKeep({
  name: 'overshootAtMost',
  label: 'overshoot',
  figure: 'overshoot',
  says: 'overshoots by at most {most} of the step',
  about: 'Of a step of the reference, as a share of it.',
  slots: most('largest overshoot', ''),
})

export const settlesWithin = defineKeep({
  name: 'settlesWithin',
  label: 'settling',
  figure: 'settling',
  says: 'settles within {most}',
  about: 'From a step of the reference until it stays within 2 % of the travel around where it ends.',
  slots: most('longest settling', 's'),
})

export const commandAtMost = defineKeep({
  name: 'commandAtMost',
  label: 'command',
  figure: 'peakCommand',
  says: 'asks for at most {most} beyond rest',
  about: 'The largest command for the step that is charted, about the operating point, in the unit of the push.',
  slots: most('largest command', ''),
})

export const sensitivityAtMost = defineKeep({
  name: 'sensitivityAtMost',
  label: 'peak sensitivity',
  figure: 'sensitivityPeak',
  says: 'peaks at most {most} in sensitivity',
  about: 'The largest factor by which the loop makes a disturbance or an error of the model worse at some frequency.',
  slots: most('largest peak', ''),
})

const least = (label: string, unit: string, otherwise: number, ends: { least: number; most?: number } = { least: 0 }) => ({
  least: number({ label, unit, ...ends, otherwise }),
})

export const inHandAtLeast = defineKeep({
  name: 'inHandAtLeast',
  label: 'phase margin',
  figure: 'phaseMargin',
  says: 'has at least {least} in hand',
  about: 'Phase left at the first crossover.',
  slots: least('least phase margin', 'rad', 0.8, { least: 0, most: 3 }),
})

export const gainRoomAtLeast = defineKeep({
  name: 'gainRoomAtLeast',
  label: 'gain margin',
  figure: 'gainMargin',
  says: 'bears at least {least} times its gain',
  about: 'The least factor above 1 on the loop gain at which it would swing for ever.',
  slots: least('least gain margin', '', 2, { least: 1 }),
})

export const delayRoomAtLeast = defineKeep({
  name: 'delayRoomAtLeast',
  label: 'delay margin',
  figure: 'delayMargin',
  says: 'bears at least {least} more delay',
  about: 'The least delay beyond its own at which it would swing for ever.',
  slots: least('least delay margin', 's', 0.01),
})

export const givesWayAtMost = defineKeep({
  name: 'givesWayAtMost',
  label: 'deviation',
  figure: 'deviation',
  says: 'gives way by at most {most} to a step of 1 at its push',
  about:
    'The largest distance from the reference while something pushes beside the loop, in units of what is held for a unit of the push.',
  slots: most('largest deviation', '', 0.1),
})

export const recoversWithin = defineKeep({
  name: 'recoversWithin',
  label: 'recovery',
  figure: 'recovery',
  says: 'recovers within {most} from a step at its push',
  about:
    'From a step beside the push until what is held stays within a twentieth of its largest deviation: common practice, no source. A loop without an integral never does.',
  slots: most('longest recovery', 's', 1),
})

/** What a loop can be held to. */
export const keeps: readonly Keep[] = [
  overshootAtMost,
  settlesWithin,
  commandAtMost,
  sensitivityAtMost,
  inHandAtLeast,
  gainRoomAtLeast,
  delayRoomAtLeast,
  givesWayAtMost,
  recoversWithin,
]

/** Whether a figure is kept from above or from below: the slot of its limit. */
export function keptFrom(name: Keep['figure']): 'most' | 'least' {
  return Object.keys(keeps.find(({ figure }) => figure === name)!.slots)[0] === 'least' ? 'least' : 'most'
}

/** The limits that a loop shall keep, by figure; of two on one figure the tighter one. */
export function keptBy(loop: LoopPart): Partial<Record<Keep['figure'], number>> {
  const limits: Partial<Record<Keep['figure'], number>> = {}
  for (const part of Object.values(partsIn(loop.keeps))) {
    const kind = findKind(keeps, part)
    if (kind === undefined) continue
    const slot = keptFrom(kind.figure)
    const limit = part[slot] as number
    const known = limits[kind.figure]
    const tighter = slot === 'least' ? Math.max : Math.min
    limits[kind.figure] = known === undefined ? limit : tighter(known, limit)
  }
  return limits
}
