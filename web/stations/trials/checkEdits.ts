import { blankPart, valuesOf } from '@calm-hand/core/kinds'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { lastCueEnd, signalValues, signalsOf, trial as trialKind } from '@calm-hand/core/simulation'
import type { Check, Record as RunRecord } from '@calm-hand/core/simulation'
import { addPart } from '../../state/edits'
import { freeName } from '../machine/partEdits'
import type { Added } from '../machine/partEdits'

/** Of a move or of what a run reached: what a check asks at first. */
const [bandShare, headroom] = [0.1, 1.2]
/** rad: what stands is hardly ever meant to lean further. */
const upright = 0.35

interface About {
  readonly document: Document
  readonly trial: string
  /** The loop that is looked at. */
  readonly loop: string | undefined
  readonly record: RunRecord | undefined
}

/** A check of a kind that says something about this trial at once: of the loop that is looked at, from where its last cue is over. */
export function addCheck(about: About, kind: Check): Added {
  const { document, trial } = about
  const name = freeName(Object.keys(partsIn(document.trials[trial]!.checks)), 'check')
  const part = blankPart(kind, firstSlots(about))
  return { name, change: addPart(`trials.${trial}.checks.${name}`, part, `Check: ${kind.label}`) }
}

function firstSlots({ document, trial, loop, record }: About): Readonly<Record<string, unknown>> {
  const part = document.trials[trial]!
  const mine = document.loops[loop ?? '']
  const known = signalsOf(document, trial, record)
  const signal = mine === undefined ? (known[0]?.name ?? '') : `${part.machine}.${mine.holds}`
  const ending = (word: string) => known.find(({ name }) => name.endsWith(word))?.name ?? signal
  const values = record === undefined ? undefined : signalValues(document, record, signal)
  const reach = values === undefined ? 0 : values.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
  const asked = Object.values(partsIn(part.cues)).filter((cue) => cue.loop === loop)
  const moves = asked.flatMap(({ by }) => (typeof by === 'number' ? [by] : []))
  const way = Math.abs(moves.at(-1) ?? 1)
  const round = (value: number) => Number(value.toPrecision(2))
  const settings = valuesOf(trialKind, part)
  const end = lastCueEnd(settings)
  const began = Math.max(0, ...asked.map(({ at }) => at as number))
  // by then what was asked should have come
  const half = 0.5 * settings.after
  const limit = round(reach > 0 ? headroom * reach : way)
  return {
    ...{ loop: loop ?? Object.keys(document.loops)[0] ?? '', signal, roll: ending('.roll'), pitch: ending('.pitch') },
    ...{ from: round(end + half), by: round(end + settings.after), within: round(end - began + half) },
    ...{
      band: round(bandShare * way),
      near: round(bandShare * way),
      least: round(bandShare * way),
      value: round(values?.at(-1) ?? way),
    },
    ...{ side: 'within', limit, most: upright },
    ...{ condition: `${signal} < ${limit}`, first: `${signal} > ${round(0.5 * limit)}`, second: `${signal} > ${limit}` },
  }
}
