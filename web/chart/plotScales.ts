import { createContext, useContext } from 'react'
import type { Axis } from './axis'

export interface PlotScales {
  /** What of x is on the plot. */
  readonly domain: readonly [number, number]
  readonly x: (value: number) => number
  readonly y: (value: number) => number
  readonly left: number
  readonly top: number
  readonly width: number
  readonly height: number
}

export const ScalesContext = createContext<PlotScales | undefined>(undefined)

/** The scales of the chart around, for marks drawn over it; absent until it is measured. */
export function usePlotScales(): PlotScales | undefined {
  return useContext(ScalesContext)
}

/** The same plot with another part of a linear x on it. */
export function placedOver(scales: PlotScales, { domain, scale }: Axis): PlotScales {
  if (scale === 'log') return scales
  const [from, to] = domain
  return { ...scales, domain, x: (value) => scales.left + (scales.width * (value - from)) / (to - from) }
}

type Under = Pick<React.PointerEvent<SVGRectElement>, 'clientX' | 'clientY' | 'currentTarget'>

/** Where a pointer is over an element, as shares from its upper left corner: of a chart, over a rectangle on its plot. */
export function shareUnder({ clientX, clientY, currentTarget }: Under): { x: number; y: number } {
  const { left, top, width, height } = currentTarget.getBoundingClientRect()
  return { x: (clientX - left) / width, y: (clientY - top) / height }
}
