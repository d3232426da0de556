import type { Rung } from '../../../compute/loops/rungs'
import { enoughSeparation, goodSeparation, marginWords, moveWords } from './rungs'
import type { Fact, MarginMove, Separation } from './rungs'
import { rungHand } from './rungHand'
import { most, ruler, rungEnd } from './scale'
import type { LadderScale } from './scale'

const decades = [0.01, 0.1, 1, 10, 100, 1000]

interface RulerProps {
  readonly scale: LadderScale
  /** Where words of rungs stand. */
  readonly labels: readonly number[]
}

/** px: a decade is not written where words of a rung are so near. */
const room = 12

export function Ruler({ scale: { least, y }, labels }: RulerProps) {
  const isFree = (at: number) => labels.every((label) => Math.abs(label - 5 - (at + 4)) > room)
  return (
    <>
      <rect x={ruler - 4} y={y(most)} width="8" height={y(least) - y(most)} fill="var(--fog)" stroke="var(--line-2)" />
      {decades
        .filter((w) => w >= least)
        .map((w) => (
          <g key={w}>
            <line x1={ruler - 7} x2={ruler + 7} y1={y(w)} y2={y(w)} stroke="var(--ink)" />
            {isFree(y(w)) && (
              <text x={ruler + 11} y={y(w) + 4} className="number" fontSize="10.5" fill="var(--mist)">
                {w}
              </text>
            )}
          </g>
        ))}
    </>
  )
}

export function FactMark({ fact: { name, value }, at }: { readonly fact: Fact; readonly at: number }) {
  return (
    <g>
      <line x1="0" x2={ruler - 4} y1={at} y2={at} stroke="var(--coral)" strokeWidth="1.2" />
      <text x="0" y={at - 4} fill="var(--ink)">
        {name}
      </text>
      <text x={ruler - 8} y={at - 4} textAnchor="end" className="number" fontSize="10.5" fill="var(--mist)">
        {value}
      </text>
    </g>
  )
}

interface ArcProps {
  readonly pair: Separation
  readonly from: number
  readonly to: number
  readonly move: MarginMove | undefined
  /** Of chains side by side only the chosen one is told in full. */
  readonly inChain: boolean
}

/** Between a rung and the one it commands: how many times faster that is. */
export function Arc({ pair: { outer, inner, ratio }, from, to, move, inChain }: ArcProps) {
  const tone = ratio < enoughSeparation ? 'coral' : ratio < goodSeparation ? 'ochre' : undefined
  const isTold = tone === 'coral' || inChain
  const color = tone === undefined || !isTold ? 'var(--ink)' : `var(--${tone})`
  return (
    <g data-arc={`${outer.name} ${inner.name}`}>
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
          y={(from + to) / 2 + 4}
          textAnchor="end"
          className="number"
          fontSize="11"
          fontWeight="600"
          fill={tone === undefined ? 'var(--ink)' : `var(--${tone}-text)`}
          stroke="var(--chalk)"
          strokeWidth="3"
          paintOrder="stroke"
        >
          {ratio.toPrecision(2)}×
          {move !== undefined && (
            <tspan x="299" dy="12" fontWeight="400" fill="var(--mist)">
              {moveWords(move)}
            </tspan>
          )}
        </text>
      )}
    </g>
  )
}

interface RungMarkProps {
  readonly rung: Rung
  /** rad/s: where it crosses over, or is asked to and cannot. */
  readonly w: number
  readonly scale: LadderScale
  /** Where its words stand: aside where others are near. */
  readonly label: number
  readonly isChosen: boolean
  readonly onChoose: (loop: string) => void
}

export function RungMark({ rung, w, scale, label, isChosen, onChoose }: RungMarkProps) {
  const isReached = rung.crossover !== undefined
  const color = !isReached ? 'var(--coral)' : isChosen ? 'var(--kelp)' : 'var(--ink)'
  const margin = marginWords(rung)
  const stays = rung.stays === undefined ? '' : `; stays, as ${rung.stays}`
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`${rung.label} crossover`}
      aria-valuenow={w}
      aria-valuemin={scale.least}
      aria-valuemax={most}
      aria-valuetext={`${w.toPrecision(3)} rad/s, ${rung.lacks?.words ?? margin}${stays}`}
      className={`${rung.handle === undefined ? 'cursor-pointer' : 'cursor-ns-resize'} outline-none [&:focus-visible>rect]:stroke-kelp`}
      {...rungHand(rung, scale, onChoose)}
    >
      <rect x={ruler} y={label - 20} width={rungEnd + 8 - ruler} height="24" rx="4" fill="transparent" strokeWidth="2" />
      {rung.modes !== undefined && <ModesBar modes={rung.modes} scale={scale} color={color} />}
      <path
        d={`M${ruler + 4} ${scale.y(w)} H${ruler + 16} L${ruler + 24} ${label} H${rungEnd - 4}`}
        fill="none"
        stroke={color}
        strokeWidth={isChosen ? 2.5 : 1.4}
        strokeDasharray={isReached ? undefined : '4 3'}
      />
      <circle
        cx={rungEnd}
        cy={label}
        r={isChosen ? 5.5 : 4.5}
        fill={isChosen && isReached ? 'var(--kelp)' : 'var(--chalk)'}
        stroke={color}
        strokeWidth="1.6"
      />
      <text
        x={ruler + 27}
        y={label - 5}
        fontSize="12"
        fontWeight={isChosen ? 600 : 400}
        fill={isReached ? color : 'var(--coral-text)'}
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
        {w.toPrecision(3)}
        <tspan dx="5" fill={rung.stable ? 'var(--mist)' : undefined}>
          {margin}
        </tspan>
      </text>
    </g>
  )
}

interface ModesBarProps {
  readonly modes: readonly [slowest: number, fastest: number]
  readonly scale: LadderScale
  readonly color: string
}

/** From the slowest to the fastest mode of the closed loop. */
function ModesBar({ modes: [slowest, fastest], scale: { y }, color }: ModesBarProps) {
  const top = y(fastest)
  return (
    <rect x={ruler + 5} y={top} width="6" height={Math.max(2, y(slowest) - top)} fill={color} fillOpacity="0.28" rx="3">
      <title>{`closed-loop modes from ${slowest.toPrecision(2)} to ${fastest.toPrecision(2)} rad/s`}</title>
    </rect>
  )
}
