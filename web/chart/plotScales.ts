import { createContext, useContext } from 'react'

export interface PlotScales {
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

type Under = Pick<React.PointerEvent<SVGRectElement>, 'clientX' | 'clientY' | 'currentTarget'>

/** Where a pointer is over an element, as shares from its upper left corner: of a chart, over a rectangle on its plot. */
export function shareUnder({ clientX, clientY, currentTarget }: Under): { x: number; y: number } {
  const { left, top, width, height } = currentTarget.getBoundingClientRect()
  return { x: (clientX - left) / width, y: (clientY - top) / height }
}
