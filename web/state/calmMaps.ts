import { useEffect } from 'react'
import { create } from 'zustand'
import { contentHash, partHash } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { loopsBehind, mapFigures, spaced } from '@calm-hand/core/tuning'
import type { CalmMap, MapFigure, MapRange } from '@calm-hand/core/tuning'
import { answerTo } from '../compute'
import type { Arguments } from '../compute'

export interface MapState {
  readonly range: MapRange
  readonly map: CalmMap
  /** Whether the fine picture is still to come. */
  readonly coarse: boolean
}

/** Maps by what they are of. */
const useMaps = create<Readonly<{ [key: string]: MapState }>>(() => ({}))
const mostKept = 24
const coarse = { columns: 24, rows: 16, strips: 1 }
const fine = { columns: 96, rows: 64, strips: 6 }
/** Parts of a strip, worked out beside each other. */
const abreast = 2
/** Whatever else is asked of a loop comes first. */
const asMap = { lane: 'side', rank: 4 } as const

/**
 * The map of a loop does not depend on where its design stands: a drag never asks for a new one. It does depend on all loops
 * that its design sees closed, wherever they stand, and on what it reads by.
 */
export function mapKey(document: Document, loop: string, integralCorner: number): string {
  const { tuning: _tuning, feedforwards: _feedforwards, keeps: _keeps, ...own } = document.loops[loop]!
  const behind = [...loopsBehind(document, loop)].sort().map((name) => [name, partHash(document.loops[name]!)])
  const { estimators = {} } = document
  return contentHash([partHash(document.machines[own.machine]!), own, behind, partHash(estimators), integralCorner])
}

/** The calm map of a loop, coarse first; nothing until then, or where there is none. */
export function useCalmMap(document: Document, loop: string, integralCorner: number): MapState | undefined {
  const key = mapKey(document, loop, integralCorner)
  const found = useMaps((maps) => maps[key])
  useEffect(() => {
    let wanted = true
    // a map that is broken off stays as far as it is
    draw(key, document, loop, integralCorner, () => wanted).catch(() => undefined)
    return () => {
      wanted = false
    }
    // the key says everything that the map depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key])
  return found
}

/** A map that nobody looks at any more is left as far as it is: the workers are wanted for the next one. */
async function draw(
  key: string,
  document: Document,
  loop: string,
  integralCorner: number,
  isWanted: () => boolean,
): Promise<void> {
  const asked = { document, subject: `map ${key}`, ...asMap }
  const range = useMaps.getState()[key]?.range ?? (await answerTo({ ...asked, name: 'rangeOfMap', rest: [loop, integralCorner] }))
  if (range === undefined) return
  for (const { columns, rows, strips } of [coarse, fine]) {
    const isCoarse = columns === coarse.columns
    const found = useMaps.getState()[key]
    if (found !== undefined && (isCoarse || !found.coarse)) continue
    const crossovers = spaced(range.crossovers, columns, 'log')
    const margins = spaced(range.margins, rows, 'linear')
    const width = columns / (strips * abreast)
    const parts: CalmMap[] = []
    for (let strip = 0; strip < strips; strip++) {
      if (!isWanted()) return
      const drawn = await Promise.all(
        Array.from({ length: abreast }, (_, i) => {
          const from = (strip * abreast + i) * width
          const rest: Arguments<'columnsOfMap'> = [loop, integralCorner, crossovers.slice(from, from + width), margins]
          return answerTo({ ...asked, name: 'columnsOfMap', rest, subject: `${asked.subject} ${i}` })
        }),
      )
      if (drawn.includes(undefined)) return
      parts.push(...(drawn as CalmMap[]))
    }
    keep(key, { range, map: parts.reduce(joined), coarse: isCoarse })
  }
}

function keep(key: string, state: MapState): void {
  const others = Object.entries(useMaps.getState()).filter(([one]) => one !== key)
  useMaps.setState(Object.fromEntries([...others.slice(-mostKept), [key, state]]), true)
}

function joined(a: CalmMap, b: CalmMap): CalmMap {
  const names = Object.keys(mapFigures) as MapFigure[]
  const figures = Object.fromEntries(names.map((name) => [name, Float64Array.from([...a.figures[name], ...b.figures[name]])]))
  return {
    crossovers: [...a.crossovers, ...b.crossovers],
    margins: a.margins,
    figures: figures as Record<MapFigure, Float64Array>,
    why: Uint8Array.from([...a.why, ...b.why]),
  }
}
