import { useMemo } from 'react'
import { calmBands, errorSignal, findColumn, rowAt } from '@calm-hand/core/simulation'
import { Band, VerticalMark } from '../../../chart'
import { useOpen } from '../../../state/project'
import { toShown } from '../../../units'
import type { TrialView } from '../useTrialView'

interface CalmBandsProps {
  readonly view: TrialView
  /** The signal of the strip, and the unit in which it is shown. */
  readonly signal: string
  readonly unit: string
  /** The loop that holds it: what may be off its reference is drawn about that. */
  readonly loop?: string
}

/** As good as without an end on any strip. */
const endless = 1e12
/** Points along a reference: it bends. */
const points = 300

/** Where the checks of the trial hold, behind the lines of a strip, and where one of them first failed. */
export function CalmBands({ view, signal, unit, loop }: CalmBandsProps) {
  const document = useOpen((project) => project.valid)
  const bands = useMemo(() => {
    const { record, trial } = view
    if (record === undefined) return []
    const { time } = record
    const end = time.at(-1) ?? 0
    const about = loop === undefined ? undefined : findColumn(record, `loops.${loop}.reference`)
    const within = (value: number) => Math.min(Math.max(value, -endless), endless)
    return calmBands(document, trial).flatMap(({ check, from, least, most, ...band }) => {
      const isError = loop !== undefined && band.signal === errorSignal(loop)
      if (band.signal !== signal && !(isError && about !== undefined)) return []
      const xs = isError ? Array.from({ length: points + 1 }, (_, k) => from + ((end - from) * k) / points) : [from, end]
      const middle = (t: number) => (isError ? about![rowAt(record, t)]! : 0)
      const edge = (by: number) => xs.map((t) => toShown(middle(t) + within(by), unit))
      return from < end ? [{ check, xs, least: edge(least), most: edge(most) }] : []
    })
  }, [document, view, signal, unit, loop])
  const failed = new Map((view.verdicts ?? []).flatMap((one) => (one.outcome === 'fails' ? [[one.check, one.failedAt]] : [])))
  return bands.map(({ check, ...band }) => (
    <g key={check} data-failed={failed.has(check) ? check : undefined}>
      <Band tone="calm" {...band} />
      {failed.get(check) !== undefined && <VerticalMark at={failed.get(check)!} tone="coral" label="fails" />}
    </g>
  ))
}
