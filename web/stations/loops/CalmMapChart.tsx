import { memo, useId, useMemo, useState } from 'react'
import type { Document, LoopPart } from '@calm-hand/core/document'
import { mapFigures, requirement, unreached } from '@calm-hand/core/tuning'
import type { CalmMap as Map, LoopAnalysis, MapFigure } from '@calm-hand/core/tuning'
import { Phrase } from '../../frame/Phrase'
import { Chart, VerticalMark, shareUnder, usePlotScales } from '../../chart'
import { ChoiceField } from '../../sentence'
import { useCalmMap } from '../../state/calmMaps'
import type { MapState } from '../../state/calmMaps'
import type { Series } from '../../chart'
import { dragged } from '../../state/dragged'
import type { PointerPlace } from '../../state/dragged'
import { setValue } from '../../state/edits'
import type { Edit } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { limitLines } from './limitLines'
import { classEdges, classOf, fills } from './mapClasses'
import type { LoopView } from '../../compute/loops/loopView'

const degrees = (angle: number) => (angle * 180) / Math.PI
const options = Object.fromEntries(Object.entries(mapFigures).map(([name, { label }]) => [name, label]))

interface CalmMapProps {
  readonly document: Document
  readonly loop: string
  readonly view: LoopView
}

const degreesWords = (value: number) => `${value}°`

/** All designs of the loop: crossover across, phase margin up, coloured by a figure. A click, a drag or an arrow key takes one. */
export function CalmMapChart({ document, loop, view }: CalmMapProps) {
  const [figure, setFigure] = useState<MapFigure>('settling')
  const tuning = document.loops[loop]!.tuning
  const corner = (tuning.integralCorner as number | undefined) ?? requirement.slots.integralCorner.otherwise!
  const state = useCalmMap(document, loop, corner)
  // a drag of its own design leaves the map as it is
  const map = state?.map
  const edges = useMemo(() => (map === undefined ? [] : classEdges(figure, map.figures[figure])), [map, figure])
  const tabled = useMemo(() => (map === undefined ? undefined : tableOf(map, figure)), [map, figure])
  if (state === undefined || map === undefined || tabled === undefined)
    return <p className="p-2 note">Working out every design of this loop ...</p>
  const { range } = state
  const placed = (w: number, margin: number) => {
    const within = (value: number, [least, most]: readonly [number, number]) => Math.min(Math.max(value, least), most)
    return setValue(
      `loops.${loop}.tuning`,
      {
        ...(tuning.kind === requirement.name ? tuning : { kind: requirement.name }),
        crossover: Number(within(w, range.crossovers).toPrecision(4)),
        phaseMargin: Number(within(margin, range.margins).toPrecision(5)),
      },
      `Retune ${loop}`,
    )
  }
  const [least, most] = range.crossovers
  const ticks = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500].filter((w) => w >= least && w <= most)
  return (
    <Chart
      title="Calm map"
      unit=""
      x={{ domain: [least, most], ticks, scale: 'log', label: 'crossover, rad/s', format: String }}
      y={{ domain: [degrees(range.margins[0]), degrees(range.margins[1])], ticks: [15, 30, 45, 60, 75], format: degreesWords }}
      series={[]}
      tabled={tabled}
      summary={`Designs by crossover and phase margin, coloured by ${mapFigures[figure].label}.`}
      legend={false}
      isHeld
      heading={
        <h3 className="whitespace-nowrap flex items-baseline gap-1.5">
          <Phrase of="calmMap">Calm map</Phrase>
          <span className="font-normal text-[12px]">
            <ChoiceField label="figure" value={figure} options={options} onChoose={(next) => setFigure(next as MapFigure)} />
          </span>
          <Key edges={edges} unit={mapFigures[figure].unit} />
        </h3>
      }
    >
      <Picture map={map} figure={figure} edges={edges} />
      <Limits map={map} part={document.loops[loop]!} stepSize={view.asked.stepSize} />
      <Hand loop={loop} state={state} view={view} placed={placed} />
    </Chart>
  )
}

function Key({ edges, unit }: { readonly edges: readonly number[]; readonly unit: string }) {
  return (
    <span className="flex items-baseline font-normal text-[10.5px] text-mist" aria-hidden="true">
      {fills.map(({ color, opacity }, i) => (
        <span key={i} className="flex items-baseline">
          <span className="w-2.5 h-2 inline-block" style={{ background: color, opacity }} />
          {i % 2 === 0 && i < edges.length && <span className="number px-px">{edges[i]}</span>}
        </span>
      ))}
      <span className="pl-1">{unit}</span>
    </span>
  )
}

interface PictureProps {
  readonly map: Map
  readonly figure: MapFigure
  readonly edges: readonly number[]
}

function Picture(props: PictureProps) {
  const scales = usePlotScales()
  if (scales === undefined) return null
  const { left, top, width, height } = scales
  return <Painted {...props} {...{ left, top, width, height }} />
}

interface PaintedProps extends PictureProps {
  readonly left: number
  readonly top: number
  readonly width: number
  readonly height: number
}

/**
 * Places of one class in a column become one rectangle; what is out of reach is hatched, with the reason. Thousands of them:
 * painted anew only for another map, figure or size.
 */
const Painted = memo(function Painted({ map, figure, edges, ...scales }: PaintedProps) {
  const hatch = useId()
  const runs = useMemo(() => runsOf(map, figure, edges), [map, figure, edges])
  const reason = useMemo(() => reasonOf(map), [map])
  const width = scales.width / map.crossovers.length
  const height = scales.height / map.margins.length
  const bottom = scales.top + scales.height
  return (
    <g>
      <pattern id={hatch} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="6" stroke="var(--line-2)" strokeWidth="1" />
      </pattern>
      <rect x={scales.left} y={scales.top} width={scales.width} height={scales.height} fill={`url(#${hatch})`} />
      <g shapeRendering="crispEdges">
        {runs.map(({ column, from, to }) => (
          <rect
            key={`${column} ${from}`}
            x={scales.left + column * width}
            y={bottom - to * height}
            width={width}
            height={(to - from) * height}
            fill="var(--chalk)"
          />
        ))}
        {runs.map(({ column, from, to, rank }) => (
          <rect
            key={`${column} ${from} ${rank}`}
            x={scales.left + column * width}
            y={bottom - to * height}
            width={width}
            height={(to - from) * height}
            fill={fills[rank]!.color}
            fillOpacity={fills[rank]!.opacity}
          />
        ))}
      </g>
      {reason.map((line, i) => (
        <text
          key={line}
          x={scales.left + scales.width - 5}
          y={scales.top + 13 + 12 * i}
          textAnchor="end"
          fontSize="10.5"
          fill="var(--ink)"
          stroke="var(--chalk)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {line}
        </text>
      ))}
      <text
        x={scales.left + 5}
        y={bottom - 5}
        fontSize="10.5"
        fill="var(--ink)"
        stroke="var(--chalk)"
        strokeWidth="3"
        paintOrder="stroke"
      >
        crossover, rad/s
      </text>
    </g>
  )
})

interface Run {
  readonly column: number
  readonly from: number
  readonly to: number
  readonly rank: number
}

function runsOf({ crossovers, margins, figures, why }: Map, figure: MapFigure, edges: readonly number[]): Run[] {
  const rows = margins.length
  return crossovers.flatMap((_, column) => {
    const ranks = margins.map((__, row) => {
      const at = column * rows + row
      return why[at] === unreached.reached ? classOf(figures[figure][at]!, edges) : undefined
    })
    const runs: Run[] = []
    for (let from = 0; from < rows;) {
      let to = from + 1
      while (to < rows && ranks[to] === ranks[from]) to++
      const rank = ranks[from]
      if (rank !== undefined) runs.push({ column, from, to, rank })
      from = to
    }
    return runs
  })
}

const reasons: Readonly<Record<number, readonly string[]>> = {
  [unreached.tooMuchMargin]: ['out of reach:', 'law, lags and delay', 'leave no more phase'],
  [unreached.tooLittleMargin]: ['out of reach:', 'a gain would have', 'to turn its sign'],
  [unreached.unstable]: ['unstable', 'when closed'],
  [unreached.tooFast]: ['above half', 'the sample rate'],
}

/** The commonest reason among the places that are out of reach, in short lines. */
function reasonOf({ why }: Map): readonly string[] {
  const counts = Object.keys(reasons).map((reason) => ({
    reason: Number(reason),
    count: why.filter((one) => one === Number(reason)).length,
  }))
  const most = counts.reduce((a, b) => (b.count > a.count ? b : a))
  return most.count === 0 ? [] : reasons[most.reason]!
}

const rowsTabled = 9

/** The same numbers to read: one column for each of some margins. */
function tableOf({ crossovers, margins, figures }: Map, figure: MapFigure): Series[] {
  const every = Math.max(1, Math.floor((margins.length - 1) / (rowsTabled - 1)))
  return margins.flatMap((margin, row) =>
    row % every === 0
      ? [
          {
            name: `${degrees(margin).toFixed(0)}°`,
            role: 'prediction',
            xs: crossovers,
            ys: crossovers.map((_, column) => figures[figure][column * margins.length + row]!),
          },
        ]
      : [],
  )
}

interface LimitsProps {
  readonly map: Map
  readonly part: LoopPart
  readonly stepSize: number
}

/** Where the requirements of the loop begin and end to hold, as lines with their names. */
function Limits({ map, part, stepSize }: LimitsProps) {
  const scales = usePlotScales()
  const lines = useMemo(() => limitLines(map, part, stepSize), [map, part, stepSize])
  if (scales === undefined) return null
  const width = scales.width / map.crossovers.length
  const height = scales.height / map.margins.length
  const x = (column: number) => (scales.left + column * width).toFixed(1)
  const y = (row: number) => (scales.top + scales.height - row * height).toFixed(1)
  return (
    <g pointerEvents="none" data-limits>
      {lines.map(({ label, edges }) => {
        const first = edges.reduce((a, b) => (b[1] > a[1] ? b : a), edges[0]!)
        return (
          <g key={label}>
            <path
              d={edges.map(([x1, y1, x2, y2]) => `M${x(x1)} ${y(y1)}L${x(x2)} ${y(y2)}`).join('')}
              stroke="var(--ink)"
              strokeWidth="1.2"
              fill="none"
            />
            <text
              x={Math.min(Number(x(first[0])) + 3, scales.left + scales.width - 70)}
              y={Number(y(first[1])) + 11}
              fontSize="10.5"
              fill="var(--ink)"
              stroke="var(--chalk)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {label}
            </text>
          </g>
        )
      })}
    </g>
  )
}

interface HandProps {
  readonly loop: string
  readonly state: MapState
  readonly view: LoopView
  readonly placed: (crossover: number, margin: number) => Edit
}

/** Where the design stands: as it is asked for, so that the dot is where the hand is; of other methods as it was found. */
function usePlace(loop: string, { now }: LoopView): Partial<Pick<LoopAnalysis, 'crossover' | 'phaseMargin'>> {
  const tuning = useOpen((project) => project.document.loops[loop]?.tuning)
  if (now === undefined || tuning === undefined) return now?.analysis ?? {}
  const { kind, crossover, phaseMargin } = tuning
  const isAsked = kind === requirement.name && typeof crossover === 'number' && typeof phaseMargin === 'number'
  return isAsked ? { crossover, phaseMargin } : now.analysis
}

/** The design as a dot, and the hand that moves it. */
function Hand({ loop, state, view, placed }: HandProps) {
  const scales = usePlotScales()
  const { crossover, phaseMargin } = usePlace(loop, view)
  if (scales === undefined) return null
  const [least, most] = state.range.crossovers
  const [low, high] = state.range.margins
  const byPointer = (event: React.PointerEvent<SVGRectElement>) => {
    const { currentTarget } = event
    const at = (place: PointerPlace) => {
      const { x, y } = shareUnder({ clientX: place.clientX, clientY: place.clientY, currentTarget })
      return placed(least * (most / least) ** x, low + (high - low) * (1 - y))
    }
    dragged(event, at, { atOnce: true })
  }
  const byKey = (event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 10 : 1
    const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0
    const up = { ArrowDown: -1, ArrowUp: 1 }[event.key] ?? 0
    if ((across === 0 && up === 0) || crossover === undefined || phaseMargin === undefined) return
    event.preventDefault()
    edit(placed(crossover * 1.01 ** (across * step), phaseMargin + (up * step * 0.5 * Math.PI) / 180))
  }
  const shown = crossover !== undefined && phaseMargin !== undefined && crossover >= least && crossover <= most
  return (
    <g>
      {shown && (
        <>
          <VerticalMark at={crossover} opacity={0.5} />
          <circle
            cx={scales.x(crossover)}
            cy={scales.y(degrees(phaseMargin))}
            r="5"
            fill="var(--ink)"
            stroke="var(--chalk)"
            strokeWidth="1.5"
          />
        </>
      )}
      <rect
        x={scales.left}
        y={scales.top}
        width={scales.width}
        height={scales.height}
        fill="transparent"
        strokeWidth="2"
        className="cursor-crosshair outline-none focus-visible:stroke-kelp"
        role="slider"
        tabIndex={0}
        aria-label="Design on the calm map: arrows move crossover and phase margin"
        aria-valuenow={crossover ?? least}
        aria-valuemin={least}
        aria-valuemax={most}
        aria-valuetext={
          shown ? `${crossover.toPrecision(3)} rad/s with ${degrees(phaseMargin).toFixed(1)}° in hand` : 'no design on the map'
        }
        onPointerDown={byPointer}
        onKeyDown={byKey}
      />
    </g>
  )
}
