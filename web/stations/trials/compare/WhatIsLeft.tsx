import type { AccountedSignal, LeftLook } from '@calm-hand/core/identification'
import { signalUnit, withUnit } from '../../../units'

const looks: Readonly<Record<LeftLook['looks'], string>> = {
  white: 'There is nothing more to find in it',
  offset: 'It looks like an offset: a bias, or a number that holds it there',
  drifting: 'It looks drifting: something warms, wears or leaks',
  atOneFrequency: 'It swings at one frequency',
  slow: 'It looks slow: something that the machine does not have',
  coloured: 'It is coloured: a number that is not fitted, or another noise',
}

/** What no number explains, signal by signal: how large, whether white, and if not, how it looks. */
export function WhatIsLeft({ signals }: { readonly signals: readonly AccountedSignal[] }) {
  return (
    <div className="pt-1" role="group" aria-label="What is left">
      <div className="flex items-baseline">
        <h3 className="grow">What is left</h3>
        <span className="note">autocorrelation, 1 … {signals[0]?.look.correlation.length ?? 0} rows</span>
      </div>
      {signals.map(({ name, label, unit, after, noise, look }) => {
        const size = (value: number) => withUnit(value, signalUnit({ name, unit }), 2)
        const isWhite = look.looks === 'white'
        return (
          <div key={name} className="flex gap-2 py-1 items-center">
            <Bars look={look} label={label} />
            <p className="text-[12.5px] leading-[17px]">
              <b className={`font-semibold ${isWhite ? 'text-kelp' : 'text-coral-text'}`}>
                {label}: {isWhite ? 'white' : 'not white'}.
              </b>{' '}
              <span className="number">{size(after)}</span>, its noise is <span className="number">{size(noise)}</span>;{' '}
              <span className="number">
                {look.inside} of {look.correlation.length}
              </span>{' '}
              inside. {looks[look.looks]}
              {look.frequency !== undefined && (
                <>
                  , <span className="number">{look.frequency.toFixed(2)} Hz</span>
                </>
              )}
              .
            </p>
          </div>
        )
      })}
    </div>
  )
}

const [width, height] = [104, 46]

function Bars({ look, label }: { readonly look: LeftLook; readonly label: string }) {
  const { correlation, band } = look
  const middle = height / 2
  const each = width / Math.max(1, correlation.length)
  return (
    <svg
      width={width}
      height={height}
      className="shrink-0 border border-line"
      role="img"
      aria-label={`Autocorrelation of what is left of ${label}`}
    >
      <rect y={middle * (1 - band)} width={width} height={Math.max(1, middle * 2 * band)} fill="var(--band)" />
      <line x2={width} y1={middle} y2={middle} stroke="var(--line-2)" />
      {correlation.map((r, k) => (
        <rect
          key={k}
          x={k * each + 0.6}
          width={Math.max(1, each - 1.2)}
          y={middle - Math.max(0, r) * middle}
          height={Math.abs(r) * middle}
          fill={Math.abs(r) > band ? 'var(--coral)' : 'var(--kelp)'}
        />
      ))}
    </svg>
  )
}
