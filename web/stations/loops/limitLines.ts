import { keptBy } from '@calm-hand/core/control'
import type { LoopPart } from '@calm-hand/core/document'
import type { CalmMap } from '@calm-hand/core/tuning'

/** From corner to corner of places: columns across, rows up. */
export type Edge = readonly [x1: number, y1: number, x2: number, y2: number]

export interface LimitLine {
  readonly label: string
  readonly edges: readonly Edge[]
}

/** Where each requirement of a loop begins and ends to hold on its map: the edges between places that keep it and that do not. */
export function limitLines(
  { crossovers, margins, figures, why }: CalmMap,
  part: LoopPart,
  stepSize: number,
): readonly LimitLine[] {
  const { overshoot, settling, peakCommand, sensitivityPeak, phaseMargin } = keptBy(part)
  const rows = margins.length
  const wanted: readonly [string, number | undefined, (at: number) => number][] = [
    ['overshoot', overshoot, (at) => figures.overshoot[at]! / 100],
    ['settling', settling, (at) => figures.settling[at]!],
    ['command', peakCommand, (at) => figures.peakCommand[at]! * Math.abs(stepSize)],
    ['sensitivity', sensitivityPeak, (at) => figures.sensitivityPeak[at]!],
    // a margin is a least
    ['in hand', phaseMargin === undefined ? undefined : -phaseMargin, (at) => -margins[at % rows]!],
  ]
  return wanted.flatMap(([label, limit, value]): LimitLine[] => {
    if (limit === undefined) return []
    // nothing where no design is: its border is drawn anyway
    const keeps = (column: number, row: number): boolean | undefined => {
      if (column < 0 || row < 0 || column >= crossovers.length || row >= rows) return undefined
      const at = column * rows + row
      return why[at] === 0 ? value(at) <= limit : undefined
    }
    const edges: Edge[] = []
    for (let column = 0; column < crossovers.length; column++) {
      for (let row = 0; row < rows; row++) {
        const here = keeps(column, row)
        if (here === undefined) continue
        const [right, above] = [keeps(column + 1, row), keeps(column, row + 1)]
        if (right !== undefined && right !== here) edges.push([column + 1, row, column + 1, row + 1])
        if (above !== undefined && above !== here) edges.push([column, row + 1, column + 1, row + 1])
      }
    }
    return edges.length === 0 ? [] : [{ label, edges }]
  })
}
