import { memo, useMemo, useRef } from 'react'
import { findAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { innerLoops } from '@calm-hand/core/control'
import { Phrase } from '../../frame/Phrase'
import { setValue } from '../../state/edits'
import type { Edit } from '../../state/edits'
import { cancel, edit, preview, useProject } from '../../state/project'
import { useTogether } from '../../state/together'
import { AddLoop } from './AddLoop'
import { Stale } from './Stale'
import { TooClose } from './TooClose'
import { WhenAllClose } from './WhenAllClose'
import { useAnswer } from '../../compute'
import type { Handle, Rung } from '../../compute/loops/rungs'
import { enoughSeparation, factsOf, goodSeparation, marginWords, moveWords, movesOf, separations, spread, valueAt } from './rungs'

interface LadderProps {
  readonly document: Document
  readonly chosen: string
  readonly onChoose: (loop: string) => void
}

/** rad/s: where a rung stands by what is written now. */
function askedOf({ path, scale, power }: Handle): number | undefined {
  const value = findAt(useProject.getState().project?.document, path)
  return typeof value === 'number' ? (value / scale) ** (1 / power) : undefined
}

const none: readonly Rung[] = []
const height = 560
/** rad/s */
const most = 1000
const usualLeast = 0.3
const slowLeast = 0.01
const ruler = 104
/** Where rungs end and arcs begin. */
const rungEnd = 262

/** Loops on a frequency ruler at their crossover, beside the facts that limit them. Dragging a rung retunes its loop. */
export const Ladder = memo(function Ladder({ document, chosen, onChoose }: LadderProps) {
  const machine = document.loops[chosen]!.machine
  const rungs = useAnswer('rungs', document, [machine], { subject: machine, rank: 3 }).answer ?? none
  // a ship needs a longer ruler than a lifter
  const least = rungs.some(({ crossover }) => crossover !== undefined && crossover < 1.3 * usualLeast) ? slowLeast : usualLeast
  const y = (w: number) => 14 + (height - 28) * (1 - Math.log(w / least) / Math.log(most / least))
  const frequencyAt = (at: number) => least * (most / least) ** (1 - (at - 14) / (height - 28))
  const facts = useMemo(() => factsOf(document, chosen), [document, chosen]).filter(({ w }) => w >= least && w <= most)
  const { figures: together } = useTogether(document, machine, 'commands')
  const moves = movesOf(rungs, together)
  const chain = [chosen, ...innerLoops(document, chosen)]
  const inChain = (name: string) => chain.includes(name) || innerLoops(document, name).includes(chosen)
  const svg = useRef<SVGSVGElement>(null)
  const labels = spread(
    rungs.filter((rung) => rung.crossover !== undefined).map(({ name, crossover }) => ({ name, at: y(crossover!) })),
  )

  const frequencyUnder = (clientY: number): number => {
    const box = svg.current!.getBoundingClientRect()
    const w = frequencyAt(((clientY - box.top) / box.height) * height)
    return Number(Math.min(Math.max(w, least), most).toPrecision(3))
  }
  const startDrag = ({ name, handle }: Rung, event: React.PointerEvent) => {
    onChoose(name)
    if (handle === undefined) return
    const target = event.currentTarget
    target.setPointerCapture(event.pointerId)
    let change: Edit | undefined
    const move = (next: Event) => {
      change = setValue(handle.path, valueAt(handle, frequencyUnder((next as PointerEvent).clientY)), `Retune ${name}`)
      preview(change)
    }
    const end = () => {
      stop()
      if (change !== undefined) edit(change)
    }
    const escape = (key: KeyboardEvent) => {
      if (key.key !== 'Escape') return
      stop()
      cancel()
    }
    const stop = () => {
      target.removeEventListener('pointermove', move)
      target.removeEventListener('pointerup', end)
      window.removeEventListener('keydown', escape)
    }
    target.addEventListener('pointermove', move)
    target.addEventListener('pointerup', end)
    window.addEventListener('keydown', escape)
  }
  const byKey = ({ name, handle, crossover }: Rung, event: React.KeyboardEvent) => {
    const direction = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
    if (event.key === 'Enter') onChoose(name)
    if (direction === 0 || handle === undefined || crossover === undefined) return
    // quick keys outrun what is worked out: each goes on from where the last one asked
    const asked = askedOf(handle) ?? crossover
    event.preventDefault()
    onChoose(name)
    const to = asked * 1.01 ** (direction * (event.shiftKey ? 10 : 1))
    edit(setValue(handle.path, valueAt(handle, to), `Retune ${name}`))
  }

  return (
    <section className="p-4 flex flex-col min-h-0 h-full" aria-label="Bandwidth ladder">
      <div className="flex items-center gap-2">
        <h2 className="grow">
          <Phrase of="ladder">Bandwidth ladder</Phrase>
        </h2>
        <AddLoop onAdded={onChoose} />
      </div>
      <p className="note pb-1">rad/s. Drag a rung, or focus it and use the arrows.</p>
      <svg
        ref={svg}
        viewBox={`0 0 300 ${height}`}
        className="w-full grow min-h-0 select-none"
        fontSize="11.5"
        preserveAspectRatio="xMidYMin meet"
      >
        <rect x={ruler - 4} y={y(most)} width="8" height={y(least) - y(most)} fill="var(--fog)" stroke="var(--line-2)" />
        {[0.01, 0.1, 1, 10, 100, 1000]
          .filter((w) => w >= least)
          .map((w) => (
            <g key={w}>
              <line x1={ruler - 7} x2={ruler + 7} y1={y(w)} y2={y(w)} stroke="var(--ink)" />
              <text x={ruler + 11} y={y(w) + 4} className="number" fontSize="10.5" fill="var(--mist)">
                {w}
              </text>
            </g>
          ))}
        {facts.map(({ name, value, w }) => (
          <g key={name}>
            <line x1="0" x2={ruler - 4} y1={y(w)} y2={y(w)} stroke="var(--coral)" strokeWidth="1.2" />
            <text x="0" y={y(w) - 4} fill="var(--ink)">
              {name}
            </text>
            <text x={ruler - 8} y={y(w) - 4} textAnchor="end" className="number" fontSize="10.5" fill="var(--mist)">
              {value}
            </text>
          </g>
        ))}
        {separations(rungs).map((pair) => {
          const [from, to] = [pair.outer, pair.inner].map(({ name }) => labels.get(name)!) as [number, number]
          const tone = pair.ratio < enoughSeparation ? 'coral' : pair.ratio < goodSeparation ? 'ochre' : undefined
          // of chains side by side only the chosen one is told in full
          const isTold = tone === 'coral' || inChain(pair.outer.name)
          const color = tone === undefined || !isTold ? 'var(--ink)' : `var(--${tone})`
          const middle = (from + to) / 2
          return (
            <g key={pair.outer.name} data-arc={`${pair.outer.name} ${pair.inner.name}`}>
              <path
                d={`M${rungEnd + 6} ${from} C${rungEnd + 38} ${from} ${rungEnd + 38} ${to} ${rungEnd + 9} ${to}`}
                fill={tone === undefined || !isTold ? 'none' : `var(--${tone}-tint)`}
                stroke={color}
                strokeWidth={isTold ? 1.3 : 0.6}
              />
              <path d={`M${rungEnd + 6} ${to} l7 -3 v6 z`} fill={color} />
              {isTold && (
                <text
                  x="299"
                  y={middle + 4}
                  textAnchor="end"
                  className="number"
                  fontSize="11"
                  fontWeight="600"
                  fill={tone === undefined ? 'var(--ink)' : `var(--${tone}-text)`}
                  stroke="var(--chalk)"
                  strokeWidth="3"
                  paintOrder="stroke"
                >
                  {pair.ratio.toPrecision(2)}×
                  {moves.has(pair.outer.name) && (
                    <tspan x="299" dy="12" fontWeight="400" fill="var(--mist)">
                      {moveWords(moves.get(pair.outer.name)!)}
                    </tspan>
                  )}
                </text>
              )}
            </g>
          )
        })}
        {rungs.map((rung) => {
          if (rung.crossover === undefined) return null
          const at = y(rung.crossover)
          const label = labels.get(rung.name) ?? at
          const mine = rung.name === chosen
          return (
            <g
              key={rung.name}
              role="slider"
              tabIndex={0}
              aria-label={`${rung.label} crossover`}
              aria-valuenow={rung.crossover}
              aria-valuemin={least}
              aria-valuemax={most}
              aria-valuetext={`${rung.crossover.toPrecision(3)} rad/s, ${marginWords(rung)}${rung.stays === undefined ? '' : `; stays, as ${rung.stays}`}`}
              className={rung.handle === undefined ? 'cursor-pointer' : 'cursor-ns-resize'}
              onPointerDown={(event) => startDrag(rung, event)}
              onKeyDown={(event) => byKey(rung, event)}
            >
              <rect x={ruler} y={label - 20} width={rungEnd + 8 - ruler} height="24" fill="transparent" />
              {rung.modes !== undefined && (
                <rect
                  x={ruler + 5}
                  y={y(Math.min(rung.modes[1], most))}
                  width="6"
                  height={Math.max(2, y(Math.max(rung.modes[0], least)) - y(Math.min(rung.modes[1], most)))}
                  fill={mine ? 'var(--kelp)' : 'var(--ink)'}
                  fillOpacity="0.28"
                  rx="3"
                >
                  <title>{`closed-loop modes from ${rung.modes[0].toPrecision(2)} to ${rung.modes[1].toPrecision(2)} rad/s`}</title>
                </rect>
              )}
              <path
                d={`M${ruler + 4} ${at} H${ruler + 16} L${ruler + 24} ${label} H${rungEnd - 4}`}
                fill="none"
                stroke={mine ? 'var(--kelp)' : 'var(--ink)'}
                strokeWidth={mine ? 2.5 : 1.4}
              />
              <circle
                cx={rungEnd}
                cy={label}
                r={mine ? 5.5 : 4.5}
                fill={mine ? 'var(--kelp)' : 'var(--chalk)'}
                stroke={mine ? 'var(--kelp)' : 'var(--ink)'}
                strokeWidth="1.6"
              />
              <text
                x={ruler + 27}
                y={label - 5}
                fontSize="12"
                fontWeight={mine ? 600 : 400}
                fill={mine ? 'var(--kelp)' : 'var(--ink)'}
              >
                {rung.label}
              </text>
              <text
                x={rungEnd - 9}
                y={label - 5}
                textAnchor="end"
                className="number"
                fontSize="11.5"
                fill={rung.stable ? 'var(--ink)' : 'var(--coral-text)'}
              >
                {rung.crossover.toPrecision(3)}
                <tspan dx="5" fill={rung.stable ? 'var(--mist)' : undefined}>
                  {marginWords(rung)}
                </tspan>
              </text>
            </g>
          )
        })}
      </svg>
      <Stale document={document} />
      <WhenAllClose document={document} moves={moves} />
      <TooClose pairs={separations(rungs)} />
      <ul className="note">
        {rungs
          .filter(({ name, crossover, stays }) => name === chosen && crossover !== undefined && stays !== undefined)
          .map(({ name, label, stays }) => (
            <li key={name}>
              {label} stays where it is on the ruler: {stays}.
            </li>
          ))}
        {rungs
          .filter(({ crossover, stable }) => crossover === undefined || !stable)
          .map(({ name, label, crossover, handle, notLinear }) => (
            <li key={name} className={notLinear ? '' : 'text-coral-text'}>
              <button className="underline" onClick={() => onChoose(name)}>
                {label}
              </button>{' '}
              {notLinear
                ? 'has no linear form, so it has no rung.'
                : crossover !== undefined
                  ? 'is unstable.'
                  : handle !== undefined
                    ? 'has no crossover: what is asked is out of reach.'
                    : 'has no crossover with its gains.'}
            </li>
          ))}
      </ul>
    </section>
  )
})
