import type { Document } from '@calm-hand/core/document'
import { coherenceOf, histogramOf, spectrumOf } from '@calm-hand/core/identification'
import type { Coherence, Histogram, Spectrum, SpectrumChoices } from '@calm-hand/core/identification'
import { rowsWithin, spanFigures } from '@calm-hand/core/simulation'
import type { SpanFigures } from '@calm-hand/core/simulation'

/** A signal of one run, or of its prediction. */
export interface SpanCurve {
  readonly name: string
  readonly time: Float64Array
  readonly values: Float64Array
  /** Another signal of the same run, with which it may go together. */
  readonly other?: Float64Array
}

/** What one of them does in a window. */
export interface SpanRead {
  readonly name: string
  readonly figures: SpanFigures
  /** Nothing of too few samples. */
  readonly spectrum: Spectrum | undefined
  /** With the other signal; nothing without one, of too few samples, or of one piece. */
  readonly coherence: Coherence | undefined
  /** Of all in the same bins. */
  readonly histogram: Histogram
}

const bins = 32

/** Figures, spectrum, coherence and histogram of signals over the same window; what has no two rows in it is left out. */
export function spanRead(
  _document: Document,
  curves: readonly SpanCurve[],
  from: number,
  to: number,
  choices: SpectrumChoices,
): readonly SpanRead[] {
  const within = curves.flatMap((curve) => {
    const figures = spanFigures(curve.time, curve.values, from, to)
    if (figures === undefined) return []
    const [first, last] = rowsWithin(curve.time, from, to)
    const within = (values: Float64Array) => values.slice(first, last + 1)
    return [{ ...curve, figures, values: within(curve.values), other: curve.other && within(curve.other) }]
  })
  const least = Math.min(...within.map(({ figures }) => figures.least.value))
  const most = Math.max(...within.map(({ figures }) => figures.most.value))
  // what stands still has one bin about it
  const [low, high] = most > least ? [least, most] : [least - 0.5, least + 0.5]
  return within.map(({ name, figures, values, other, time }) => {
    const rate = 1 / (time[1]! - time[0]!)
    return {
      ...{ name, figures, histogram: histogramOf(values, low, high, bins) },
      spectrum: spectrumOf(values, rate, choices),
      coherence: other && coherenceOf(other, values, rate, choices),
    }
  })
}
