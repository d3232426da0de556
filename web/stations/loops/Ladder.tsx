import { useMemo, useRef } from 'react'
import type { Document } from '@calm-hand/core/document'
import { analyse, designLoop } from '@calm-hand/core/tuning'
import type { LoopAnalysis, LoopDesign } from '@calm-hand/core/tuning'
import { requirement } from '@calm-hand/core/control'
import { setValue } from '../../state/edits'
import { cancel, edit, preview } from '../../state/project'
import { AddLoop } from './AddLoop'

interface LadderProps {
  readonly document: Document
  readonly chosen: string
  readonly onChoose: (loop: string) => void
}

interface Rung {
  readonly name: string
  readonly crossover: number | undefined
  readonly phaseMargin: number | undefined
  readonly stable: boolean
  readonly byRequirement: boolean
}

const height = 560
/** rad/s */
const most = 1000
const usualLeast = 0.3
const slowLeast = 0.01
const ruler = 112

/** Loops on a frequency ruler at their crossover, beside the facts that limit them. Dragging a rung retunes its loop. */
export function Ladder({ document, chosen, onChoose }: LadderProps) {
  const rungs = useMemo(() => rungsOf(document), [document])
  // a ship needs a longer ruler than a lifter
  const least = rungs.some(({ crossover }) => crossover !== undefined && crossover < 1.3 * usualLeast) ? slowLeast : usualLeast
  const y = (w: number) => 14 + (height - 28) * (1 - Math.log(w / least) / Math.log(most / least))
  const frequencyAt = (at: number) => least * (most / least) ** (1 - (at - 14) / (height - 28))
  const facts = useMemo(() => factsOf(document, chosen), [document, chosen]).filter(({ w }) => w >= least && w <= most)
  const svg = useRef<SVGSVGElement>(null)
  const labels = spread(
    rungs.filter((rung) => rung.crossover !== undefined).map(({ name, crossover }) => ({ name, at: y(crossover!) })),
  )

  const frequencyUnder = (clientY: number): number => {
    const box = svg.current!.getBoundingClientRect()
    const w = frequencyAt(((clientY - box.top) / box.height) * height)
    return Number(Math.min(Math.max(w, least), most).toPrecision(3))
  }
  const startDrag = (name: string, event: React.PointerEvent) => {
    onChoose(name)
    const target = event.currentTarget
    target.setPointerCapture(event.pointerId)
    let moved: number | undefined
    const move = (next: Event) => {
      moved = frequencyUnder((next as PointerEvent).clientY)
      preview(setValue(`loops.${name}.tuning.crossover`, moved, `Retune ${name}`))
    }
    const end = () => {
      stop()
      if (moved !== undefined) edit(setValue(`loops.${name}.tuning.crossover`, moved, `Retune ${name}`))
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
  const byKey = (rung: Rung, event: React.KeyboardEvent) => {
    const direction = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
    if (event.key === 'Enter') onChoose(rung.name)
    if (direction === 0 || !rung.byRequirement || rung.crossover === undefined) return
    event.preventDefault()
    onChoose(rung.name)
    edit(
      setValue(
        `loops.${rung.name}.tuning.crossover`,
        Number((rung.crossover * 1.01 ** (direction * (event.shiftKey ? 10 : 1))).toPrecision(4)),
        `Retune ${rung.name}`,
      ),
    )
  }

  return (
    <section className="p-4 flex flex-col min-h-0 h-full" aria-label="Bandwidth ladder">
      <div className="flex items-center gap-2">
        <h2 className="grow">Bandwidth ladder</h2>
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
              aria-label={`${rung.name} crossover`}
              aria-valuenow={rung.crossover}
              aria-valuemin={least}
              aria-valuemax={most}
              aria-valuetext={`${rung.crossover.toPrecision(3)} rad/s, ${marginWords(rung)}`}
              className={rung.byRequirement ? 'cursor-ns-resize' : 'cursor-pointer'}
              onPointerDown={(event) => (rung.byRequirement ? startDrag(rung.name, event) : onChoose(rung.name))}
              onKeyDown={(event) => byKey(rung, event)}
            >
              <rect x={ruler} y={label - 20} width="184" height="24" fill="transparent" />
              <path
                d={`M${ruler + 4} ${at} H${ruler + 36} L${ruler + 44} ${label} H288`}
                fill="none"
                stroke={mine ? 'var(--kelp)' : 'var(--ink)'}
                strokeWidth={mine ? 2.5 : 1.4}
              />
              <circle
                cx="291"
                cy={label}
                r={mine ? 5.5 : 4.5}
                fill={mine ? 'var(--kelp)' : 'var(--chalk)'}
                stroke={mine ? 'var(--kelp)' : 'var(--ink)'}
                strokeWidth="1.6"
              />
              <text
                x={ruler + 48}
                y={label - 5}
                fontSize="12.5"
                fontWeight={mine ? 600 : 400}
                fill={mine ? 'var(--kelp)' : 'var(--ink)'}
              >
                {rung.name}
              </text>
              <text
                x="283"
                y={label - 5}
                textAnchor="end"
                className="number"
                fontSize="11.5"
                fill={rung.stable ? 'var(--ink)' : 'var(--coral-text)'}
              >
                {rung.crossover.toPrecision(3)} {marginWords(rung)}
              </text>
            </g>
          )
        })}
      </svg>
      <ul className="note">
        {rungs
          .filter(({ crossover, stable }) => crossover === undefined || !stable)
          .map(({ name, crossover, byRequirement }) => (
            <li key={name} className="text-coral-text">
              <button className="underline" onClick={() => onChoose(name)}>
                {name}
              </button>{' '}
              {crossover !== undefined
                ? 'is unstable.'
                : byRequirement
                  ? 'has no crossover: what is asked is out of reach.'
                  : 'has no crossover with its gains.'}
            </li>
          ))}
      </ul>
    </section>
  )
}

function marginWords({ phaseMargin }: Rung): string {
  return phaseMargin === undefined ? '' : `${((phaseMargin * 180) / Math.PI).toFixed(0)}°`
}

function rungsOf(document: Document): Rung[] {
  return Object.entries(document.loops).map(([name, part]) => {
    const byRequirement = (part as unknown as { tuning: { kind: string } }).tuning.kind === requirement.name
    const design = designLoop(document, name)
    if (design.kind === 'refused') return { name, crossover: undefined, phaseMargin: undefined, stable: false, byRequirement }
    const { crossover, phaseMargin, stable } = analysed(design.value)
    return { name, crossover, phaseMargin, stable, byRequirement }
  })
}

const known = new WeakMap<object, { key: string; analysis: LoopAnalysis }>()

/** Analyses are kept by plant and gains: a drag changes one rung, the others stay. */
function analysed({ model, gains }: LoopDesign): LoopAnalysis {
  const key = JSON.stringify([gains, model.dt, model.delay])
  const found = known.get(model.plant)
  if (found?.key === key) return found.analysis
  const analysis = analyse(model, gains)
  known.set(model.plant, { key, analysis })
  return analysis
}

/** What limits the chosen loop: half its rate, its delay and its plant's lags. */
function factsOf(document: Document, loop: string): { name: string; value: string; w: number }[] {
  const part = document.loops[loop] as unknown as { rate: number; delay: number; machine: string }
  const { rotors } = document.machines[part.machine] as unknown as { rotors?: { lag: number } }
  const held = (part.delay + 0.5) / part.rate
  return [
    { name: 'half rate', value: `${part.rate / 2} Hz`, w: Math.PI * part.rate },
    { name: 'delay, hold', value: `${(held * 1000).toPrecision(2)} ms`, w: 1 / held },
    ...(rotors === undefined
      ? []
      : [{ name: 'rotor lag', value: `${(rotors.lag * 1000).toPrecision(3)} ms`, w: 1 / rotors.lag }]),
  ]
}

/** Label places at least 24 px apart, as near as may be to their rungs. */
function spread(places: readonly { readonly name: string; readonly at: number }[]): Map<string, number> {
  const apart = 25
  const sorted = [...places].sort((a, b) => a.at - b.at).map((place) => ({ ...place }))
  for (let i = 1; i < sorted.length; i++) sorted[i]!.at = Math.max(sorted[i]!.at, sorted[i - 1]!.at + apart)
  return new Map(sorted.map(({ name, at }) => [name, at]))
}
