import type { Part } from '../../document'
import { findKind, number } from '../../kinds'
import type { Kind } from '../../kinds'

/** A figure that a loop shall keep, by the name of the figure. */
export interface Keep extends Kind {
  readonly label: string
  readonly figure: 'overshoot' | 'settling' | 'peakCommand' | 'sensitivityPeak' | 'phaseMargin'
}

const most = (label: string, unit: string) => ({ most: number({ label, unit, least: 0, otherwise: 0 }) })

export const overshootAtMost: Keep = {
  name: 'overshootAtMost',
  label: 'overshoot',
  figure: 'overshoot',
  says: 'overshoots by at most {most} of the step',
  about: 'Of a step of the reference, as a share of it.',
  slots: most('largest overshoot', ''),
}

export const settlesWithin: Keep = {
  name: 'settlesWithin',
  label: 'settling',
  figure: 'settling',
  says: 'settles within {most}',
  about: 'From a step of the reference until it stays within 2 % of the travel around where it ends.',
  slots: most('longest settling', 's'),
}

export const commandAtMost: Keep = {
  name: 'commandAtMost',
  label: 'command',
  figure: 'peakCommand',
  says: 'asks for at most {most} beyond rest',
  about: 'The largest command for the step that is charted, about the operating point, in the unit of the push.',
  slots: most('largest command', ''),
}

export const sensitivityAtMost: Keep = {
  name: 'sensitivityAtMost',
  label: 'peak sensitivity',
  figure: 'sensitivityPeak',
  says: 'peaks at most {most} in sensitivity',
  about: 'The largest factor by which the loop makes a disturbance or an error of the model worse at some frequency.',
  slots: most('largest peak', ''),
}

export const inHandAtLeast: Keep = {
  name: 'inHandAtLeast',
  label: 'phase margin',
  figure: 'phaseMargin',
  says: 'has at least {least} in hand',
  about: 'Phase left at the first crossover.',
  slots: { least: number({ label: 'least phase margin', unit: 'rad', least: 0, most: 3, otherwise: 0.8 }) },
}

/** What a loop can be held to. */
export const keeps: readonly Keep[] = [overshootAtMost, settlesWithin, commandAtMost, sensitivityAtMost, inHandAtLeast]

/** The limits that a loop shall keep, by figure; of two on one figure the tighter one. */
export function keptBy(loop: Part): Partial<Record<Keep['figure'], number>> {
  const limits: Partial<Record<Keep['figure'], number>> = {}
  for (const part of Object.values((loop.keeps ?? {}) as Readonly<Record<string, Part>>)) {
    const kind = findKind(keeps, part)
    if (kind === undefined) continue
    const [slot] = Object.keys(kind.slots) as [string]
    const limit = part[slot] as number
    const known = limits[kind.figure]
    const tighter = slot === 'least' ? Math.max : Math.min
    limits[kind.figure] = known === undefined ? limit : tighter(known, limit)
  }
  return limits
}
