import { partsIn, rememberedOf } from '../document'
import type { Document, Part, TrialPart } from '../document'
import { findKind } from '../kinds'
import { lastCueEnd, trialDuration } from './compile'
import { cues, fades, lastingFor } from './cues'
import type { CueCame } from './record'

/** By document and trial, and what came: nobody changes either in place. */
const known = new WeakMap<Document, Map<string, Document>>()

/**
 * The document with the cues of a trial by the clock, as they came in a run of it: those that waited at the times at which
 * they came, without those that never did. The same document where nothing waits.
 */
export function asItCame(document: Document, trial: string, came: readonly CueCame[] | undefined): Document {
  const part = document.trials[trial]
  if (part === undefined || came === undefined || !Object.values(partsIn(part.cues)).some(isOpen)) return document
  return rememberedOf(known, document, JSON.stringify([trial, came]), () => {
    const times = new Map(came.map((one) => [one.cue, one]))
    const kept = Object.entries(partsIn(part.cues)).flatMap(([name, cue]): [string, Part][] => {
      const { began, over } = times.get(name) ?? {}
      if (!isOpen(cue)) return [[name, cue]]
      return began === undefined ? [] : [[name, byTheClock(cue, began, over)]]
    })
    const clocked = { ...part, cues: Object.fromEntries(kept) } as TrialPart
    // as long as the run: it did not wait for what came by itself
    const after = trialDuration(part as never) - lastCueEnd(clocked as never)
    const trials = { ...document.trials, [trial]: { ...clocked, after } }
    return { ...document, trials } as Document
  })
}

/** Whether no clock tells when it begins or ends. */
function isOpen(cue: Part): boolean {
  return cue.waits !== undefined || cue.until !== undefined
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
