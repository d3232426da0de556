import { useMemo } from 'react'
import { findColumn } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { Phrase } from '../../../frame/Phrase'
import { Chart, Clipped, axisOver, niceDomain, rowsOver, usePlotScales } from '../../../chart'
import type { Axis } from '../../../chart'
import { motionUnit, shownUnit, toShown } from '../../../units'
import type { HeldView, TrialView } from '../useTrialView'
import { lineOf } from './lines'

interface WhoPushesProps {
  readonly view: TrialView
  readonly held: HeldView
  readonly time: Axis
  readonly margin: { readonly left: number; readonly right: number }
  readonly children: React.ReactNode
}

/** Fill of each term by what it comes from. */
const fills: Readonly<Record<string, { readonly fill: string; readonly label: string }>> = {
  feedforward: { fill: 'var(--ochre-tint)', label: 'beforehand' },
  proportional: { fill: 'color-mix(in srgb, var(--kelp) 42%, transparent)', label: 'error' },
  rate: { fill: 'color-mix(in srgb, var(--slate) 34%, transparent)', label: 'rate' },
  integral: { fill: 'color-mix(in srgb, var(--plum) 34%, transparent)', label: 'integral' },
}

interface Layer {
  readonly term: string
  readonly low: Float64Array
  readonly high: Float64Array
}

/** The command's terms stacked: what pushes up above 0, what pulls down below; the command on top. */
export function WhoPushes({ view, held, time, margin, children }: WhoPushesProps) {
  const { record } = view
  const { loop } = held
  const unit = motionUnit(held.push.unit)
  const { layers, command } = useMemo(() => {
    if (record === undefined) return { layers: [], command: [] }
    const values = findColumn(record, `loops.${loop}.command`)
    const line = values === undefined ? [] : [lineOf('command', 'command', record.time, values, unit)]
    return { layers: stacked(record, held), command: line }
  }, [record, loop, held, unit])
  const domain = niceDomain([...command.map(({ ys }) => ys), ...layers.flatMap(({ low, high }) => [low, high])], [0])
  return (
    <Chart
      title="who pushes"
      unit={shownUnit(unit)}
      x={time}
      y={axisOver(domain, 4)}
      series={command}
      summary="The command's terms, stacked."
      margin={margin}
      heading={
        <h3>
          <Phrase of="whoPushes" /> <span className="font-normal text-mist">{shownUnit(unit)}</span>
          <span className="font-normal text-[11px] text-mist pl-3">
            {layers.map(({ term }) => (
              <span key={term} className="pr-3">
                <i className="inline-block size-2.5 mr-1 border border-line-2" style={{ background: fills[term]?.fill }} />
                {fills[term]?.label ?? term}
              </span>
            ))}
          </span>
        </h3>
      }
    >
      {record !== undefined && <Areas layers={layers} time={record.time} />}
      {children}
    </Chart>
  )
}

function stacked(record: RunRecord, { loop, push }: HeldView): Layer[] {
  const terms = record.columns.filter(({ name, role }) => role === 'term' && name.startsWith(`loops.${loop}.`))
  const order = ['feedforward', 'proportional', 'rate', 'integral']
  const named = terms
    .map(({ name, values }) => ({
      term: name.split('.').at(-1)!,
      values: values.map((value) => toShown(value, motionUnit(push.unit))),
    }))
    .sort((a, b) => order.indexOf(a.term) - order.indexOf(b.term))
  const n = record.time.length
  const up = new Float64Array(n)
  const down = new Float64Array(n)
  return named.map(({ term, values }) => {
    const [low, high] = [new Float64Array(n), new Float64Array(n)]
    for (let k = 0; k < n; k++) {
      const side = values[k]! >= 0 ? up : down
      low[k] = side[k]!
      side[k]! += values[k]!
      high[k] = side[k]!
    }
    return { term, low, high }
  })
}

function Areas({ layers, time }: { readonly layers: readonly Layer[]; readonly time: Float64Array }) {
  const scales = usePlotScales()
  if (scales === undefined || time.length === 0) return null
  const [first, last] = rowsOver(time, scales.domain)
  const step = Math.max(1, Math.floor((last - first) / scales.width))
  return (
    <Clipped>
      {layers.map(({ term, low, high }) => {
        let top = ''
        let bottom = ''
        for (let k = first; k <= last; k += step) {
          const x = scales.x(time[k]!).toFixed(1)
          top += `${top === '' ? 'M' : 'L'}${x} ${scales.y(high[k]!).toFixed(1)}`
          bottom = `L${x} ${scales.y(low[k]!).toFixed(1)}${bottom}`
        }
        return <path key={term} d={`${top}${bottom}Z`} fill={fills[term]?.fill ?? 'var(--line)'} pointerEvents="none" />
      })}
    </Clipped>
  )
}
