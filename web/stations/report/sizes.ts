import { paperColours } from '../../chart'
import type { PrintedChoices } from '../../chart'

/** mm: the text of an A4 page is this wide. */
const pageWidth = 178

/** A chart as wide as the page. */
export function chartSizes(height: number): PrintedChoices {
  return { width: pageWidth, height, decimal: 'point', colour: paperColours() }
}
