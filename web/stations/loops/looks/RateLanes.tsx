import { labelOf } from '@calm-hand/core/kinds'
import { Download } from 'lucide-react'
import { useMemo, useRef } from 'react'
import { chalk, downloadPng, downloadSvg } from '../../../chart'
import { laneLayout, outAt, ribbonSize } from './laneLayout'
import type { Lanes, Ribbon } from './laneLayout'
import type { LookProps } from './look'

/** Who talks to whom, drawn from the sentences: a lane for each sample rate, holds and samplers where signals cross. */
export function RateLanes({ document, now, loop }: LookProps) {
  const machine = now.design.values.machine
  const lanes = useMemo(() => laneLayout(document, machine), [document, machine])
  const svg = useRef<SVGSVGElement>(null)
  const called = labelOf(document.machines[machine], machine)
  const file = `${machine}-lanes`
  return (
    <figure className="h-full flex flex-col min-h-0">
      <figcaption className="flex items-center gap-1 h-7 shrink-0">
        <h3 className="grow">
          Rate lanes <span className="font-normal text-mist">of {called}, the slowest first</span>
        </h3>
        <button
          className="button small"
          aria-label="Save the lanes as SVG"
          onClick={() => downloadSvg(svg.current!, file, chalk())}
        >
          <Download size={12} /> SVG
        </button>
        <button
          className="button small"
          aria-label="Save the lanes as PNG"
          onClick={() => void downloadPng(svg.current!, file, 2, chalk())}
        >
          <Download size={12} /> PNG
        </button>
      </figcaption>
      <div className="grow min-h-0 overflow-auto" tabIndex={0} role="region" aria-label="Rate lanes, to scroll">
        <svg
          ref={svg}
          width={lanes.width}
          height={lanes.height + 26}
          role="img"
          aria-label={`Rate lanes. ${lanes.ribbons.map(spoken).join(' ')}`}
          fontSize="11"
          fontFamily="var(--sans)"
        >
          {lanes.lanes.map(({ rate, top, height }, i) => (
            <g key={rate}>
              <rect x="0" y={top} width={lanes.width} height={height} fill={i % 2 === 0 ? 'var(--fog)' : 'var(--chalk)'} />
              <text x="8" y={top + 14} fill="var(--ink)" fontFamily="var(--mono)">
                {rate} Hz
              </text>
            </g>
          ))}
          <line x1="0" x2={lanes.width} y1={lanes.height} y2={lanes.height} stroke="var(--line-2)" />
          <text x="8" y={lanes.height + 17} fill="var(--mist)">
            {called}, at all times
          </text>
          {lanes.ribbons.map((ribbon) => (
            <g key={ribbon.name}>
              <Command ribbon={ribbon} lanes={lanes} />
              <RibbonShape ribbon={ribbon} isChosen={ribbon.name === loop} />
            </g>
          ))}
        </svg>
      </div>
    </figure>
  )
}

function spoken({ label, law, reads, asks }: Ribbon): string {
  return `${label}: ${law}, from ${reads} to ${asks}.`
}

function RibbonShape({ ribbon, isChosen }: { readonly ribbon: Ribbon; readonly isChosen: boolean }) {
  const { x, y, label, law, reads } = ribbon
  const { width, height } = ribbonSize
  return (
    <g>
      {/* what it reads comes in through a sampler */}
      <line x1={x - 8} x2={x} y1={y + height - 7} y2={y + height - 7} stroke="var(--kelp)" strokeWidth="1.6" />
      <circle cx={x - 8} cy={y + height - 7} r="3" fill="var(--chalk)" stroke="var(--kelp)" strokeWidth="1.6" />
      <path
        d={`M${x} ${y}h${width - 8}l8 ${height / 2}l-8 ${height / 2}h${8 - width}z`}
        fill={isChosen ? 'var(--kelp-tint)' : 'var(--slate-tint)'}
        stroke={isChosen ? 'var(--kelp)' : 'var(--slate)'}
        strokeWidth={isChosen ? 1.8 : 1}
      />
      <text x={x + 7} y={y + 13} fontWeight="600" fill="var(--ink)">
        {label}
      </text>
      <text x={x + 7} y={y + 25} fontSize="9.5" fill="var(--mist)">
        {shortened(`${law} of ${reads}`)}
      </text>
    </g>
  )
}

const mostLetters = 21

function shortened(words: string): string {
  return words.length > mostLetters ? `${words.slice(0, mostLetters - 1)}…` : words
}

/** A command to another loop, or out to the machine: held where it leaves its lane. */
function Command({ ribbon, lanes }: { readonly ribbon: Ribbon; readonly lanes: Lanes }) {
  const { x, y, commands, asks, wayX } = ribbon
  const [fromX, fromY] = [x + ribbonSize.width, y + ribbonSize.height / 2]
  const inner = lanes.ribbons.find(({ name }) => name === commands)
  if (inner === undefined) {
    return (
      <g>
        <line x1={fromX} x2={fromX + outAt} y1={fromY} y2={fromY} stroke="var(--ochre)" strokeWidth="1.6" />
        <Hold x={fromX + outAt} y={fromY} />
        <text x={fromX + outAt + 9} y={fromY + 4} fontSize="9.5" fill="var(--ink)">
          {asks}
        </text>
      </g>
    )
  }
  const [toX, toY] = [inner.x, inner.y + 9]
  const lane = lanes.lanes.find(({ top, height }) => y >= top && y < top + height)!
  const crosses = inner.y >= lane.top + lane.height
  return (
    <g>
      <path d={`M${fromX} ${fromY}H${wayX}V${toY}H${toX}`} fill="none" stroke="var(--ochre)" strokeWidth="1.6" />
      {crosses && <Hold x={wayX} y={lane.top + lane.height - stagger(ribbon)} />}
    </g>
  )
}

/** Holds of ways side by side stand one above the other. */
function stagger({ x, wayX }: Ribbon): number {
  return (Math.round(wayX - x) % 2) * 13
}

/** A stair: the value stays until the next sample. */
function Hold({ x, y }: { readonly x: number; readonly y: number }) {
  return (
    <g>
      <rect x={x - 4.5} y={y - 6} width="9" height="12" rx="2" fill="var(--chalk)" stroke="var(--ochre)" />
      <path d={`M${x - 3} ${y + 3}h2v-3h2v-3h2`} fill="none" stroke="var(--ochre)" strokeWidth="1.2" />
    </g>
  )
}
