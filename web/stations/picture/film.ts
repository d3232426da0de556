import { Zip, ZipPassThrough } from 'fflate'
import { setCursor, useClock } from '../../state/clock'
import { beginWork } from '../../state/work'
import type { PictureChoices } from '../../scene'

/** More stills than this are no film that a person wants in one file. */
export const mostStills = 3000

export interface FilmChoices extends PictureChoices {
  /** s */
  readonly from: number
  readonly to: number
  /** Stills for a second of the run. */
  readonly rate: number
}

/** The instants of the stills of a film, s. */
export function stillTimes({ from, to, rate }: Pick<FilmChoices, 'from' | 'to' | 'rate'>): readonly number[] {
  const count = Math.floor((to - from) * rate + 1e-9) + 1
  return Array.from({ length: Math.max(0, count) }, (_, i) => from + i / rate)
}

/**
 * Stills of a run as one archive (ZIP, nothing packed twice): `still-0001.png` and so on. Nothing where a person cancelled it.
 * The cursor goes through the run meanwhile, and back to where it was.
 */
export async function filmOf(
  choices: FilmChoices,
  picture: (choices: PictureChoices) => Promise<Blob>,
): Promise<Blob | undefined> {
  const times = stillTimes(choices)
  const { signal, tell, end } = beginWork(`Film of ${times.length} stills`)
  const { cursor } = useClock.getState()
  const parts: Uint8Array<ArrayBuffer>[] = []
  try {
    const zip = new Zip((error, part) => {
      if (error !== null) throw error
      parts.push(part)
    })
    for (const [i, t] of times.entries()) {
      if (signal.aborted) return undefined
      setCursor(t)
      const still = new ZipPassThrough(`still-${String(i + 1).padStart(4, '0')}.png`)
      zip.add(still)
      still.push(new Uint8Array(await (await picture(choices)).arrayBuffer()), true)
      tell((i + 1) / times.length)
    }
    zip.end()
    return new Blob(parts, { type: 'application/zip' })
  } finally {
    setCursor(cursor)
    end()
  }
}
