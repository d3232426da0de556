import { partsIn, rememberedOf } from '../document'
import type { Document, Part, TrialPart } from '../document'
import { findKind } from '../kinds'
import { askedByHand, handOf, pressings } from './byHand'
import { lastCueEnd, trialDuration } from './compile'
import { cues, fades, lastingFor, touchCue } from './cues'
import type { CueCame } from './record'

/** By document and trial, and what came: nobody changes either in place. */
const known = new WeakMap<Document, Map<string, Document>>()

/**
 * The document with the cues of a trial by the clock, as they came in a run of it: those that waited at the times at which
 * they came, without those that never did, and what hands asked as commands. The same document where nothing waits and no
 * hand was touched.
 */
export function asItCame(document: Document, trial: string, came: readonly CueCame[] | undefined): Document {
  const part = document.trials[trial]
  if (part === undefined || came === undefined || !Object.values(partsIn(part.cues)).some(isOpen)) return document
  return rememberedOf(known, document, JSON.stringify([trial, came]), () => {
    const times = new Map(came.map((one) => [one.cue, one]))
    const end = trialDuration(part as never)
    const asked = askedByHand(part, end).map((cue, i): [string, Part] => [`byHand${i + 1}`, cue])
    const kept = Object.entries(partsIn(part.cues)).flatMap(([name, cue]): [string, Part][] => {
      const { began, over } = times.get(name) ?? {}
      if (cue.kind === touchCue.name) return []
      if (!isOpen(cue)) return [[name, cue]]
      if (handOf(cue, 'waits') !== undefined && began !== undefined) return eachPressing(part, name, cue, { began, over })
      return began === undefined ? [] : [[name, byTheClock(cue, began, over)]]
    })
    const clocked = { ...part, cues: Object.fromEntries([...kept, ...asked]) } as TrialPart
    // as long as the run: it did not wait for what came by itself
    const after = end - lastCueEnd(clocked as never)
    const trials = { ...document.trials, [trial]: { ...clocked, after } }
    return { ...document, trials } as Document
  })
}

/** Whether no clock tells when it begins or ends. */
function isOpen(cue: Part): boolean {
  return cue.waits !== undefined || cue.until !== undefined || cue.kind === touchCue.name
}

/** A cue once for each time that the hand was pressed for which it waits; of the last the run knows when it was over. */
function eachPressing(trial: Part, name: string, cue: Part, last: { began: number; over: number | undefined }): [string, Part][] {
  const times = pressings(trial, handOf(cue, 'waits')!).map(({ from, to }) => ({ from: from + (cue.at as number), to }))
  const letGo = handOf(cue, 'until') === handOf(cue, 'waits')
  return times.map(({ from, to }, i) => {
    const next = times[i + 1]?.from
    if (next === undefined) return [name, byTheClock(cue, last.began, last.over)]
    return [`${name}${i + 1}`, byTheClock(cue, from, cue.until === undefined ? undefined : letGo ? Math.max(to!, from) : next)]
  })
}

function byTheClock(cue: Part, began: number, over: number | undefined): Part {
  const { waits: _waits, until, ...rest } = cue
  const kind = findKind(cues, cue)
  const fade = kind !== undefined && fades(kind) ? ((cue.over as number | undefined) ?? 0) : 0
  const lasts = over === undefined ? undefined : over - began - fade
  return {
    ...rest,
    at: began,
    ...(until === undefined || lasts === undefined || lasts <= 0 ? {} : { until: lastingFor(lasts) }),
  } as Part
}
