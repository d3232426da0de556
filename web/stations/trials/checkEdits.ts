import { blankPart, valuesOf } from '@calm-hand/core/kinds'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { findHeld } from '@calm-hand/core/machine'
import { lastCueEnd, signalValues, signalsOf, trial as trialKind } from '@calm-hand/core/simulation'
import type { Check, Record as RunRecord } from '@calm-hand/core/simulation'
import { addPart } from '../../state/edits'
import { freeName } from '../machine/partEdits'
import type { Added } from '../machine/partEdits'

/** Of a move or of what a run reached: what a check asks at first. */
const [bandShare, headroom] = [0.1, 1.2]

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
  const part = blankPart(kind, firstSlots(about, kind))
  return { name, change: addPart(`trials.${trial}.checks.${name}`, part, `Check: ${kind.label}`) }
}

function firstSlots({ document, trial, loop, record }: About, { starts }: Check): Readonly<Record<string, unknown>> {
  const part = document.trials[trial]!
  const mine = document.loops[loop ?? '']
  const known = signalsOf(document, trial, record)
  const signal = mine === undefined ? (known[0]?.name ?? '') : `${part.machine}.${mine.holds}`
  const values = record === undefined ? undefined : signalValues(document, record, signal)
  const reach = values === undefined ? 0 : values.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
  const asked = Object.values(partsIn(part.cues)).filter((cue) => cue.loop === loop)
  const moves = asked.flatMap(({ by }) => (typeof by === 'number' ? [by] : []))
  const way = Math.abs(moves.at(-1) ?? 0) || 1
  const round = (value: number) => Number(value.toPrecision(2))
  const settings = valuesOf(trialKind, part)
  const end = lastCueEnd(settings)
  const began = Math.max(0, ...asked.map(({ at }) => at as number))
  // by then what was asked should have come
  const half = early(0.5 * settings.after)
  const limit = round(reach > 0 ? headroom * reach : way)
  const holds = mine === undefined ? undefined : findHeld(document.machines[part.machine]!, mine.holds)
  const rate = holds?.rate === undefined ? undefined : `${part.machine}.${holds.rate}`
  const near = round(bandShare * way)
  return {
    ...{ loop: loop ?? Object.keys(document.loops)[0] ?? '', signal },
    ...{ from: early(end + half), by: early(end + settings.after), within: early(end - began + half) },
    ...{ band: near, near, least: near, value: round(values?.at(-1) ?? way) },
    ...starts?.({ signal, rate, limit, half, signals: known.map(({ name }) => name) }),
  }
}

/** s: rather a little sooner than after the end. */
function early(seconds: number): number {
  const grain = 10 ** (Math.floor(Math.log10(seconds)) - 1)
  return Number((Math.floor(seconds / grain + 1e-9) * grain).toPrecision(2))
}
