import { useMemo } from 'react'
import type { Axis } from '../../../chart'
import { stripMargin } from './lines'
import type { Spell } from './states'

interface StateLaneProps {
  readonly title: string
  readonly time: Axis
  readonly states: readonly Spell[] | undefined
  readonly heading: React.ReactNode
}

/** Logic, modes and counts over time: what holds, from when to when. */
export function StateLane({ title, time, states, heading }: StateLaneProps) {
  const [from, to] = time.domain
  const shown = useMemo(() => (states ?? []).filter((one) => one.to > from && one.from < to), [states, from, to])
  const place = (t: number) => `${(100 * (Math.min(Math.max(t, from), to) - from)) / (to - from)}%`
  const told = shown.map(({ value, from: at }) => `${value} from ${at.toFixed(2)} s`).join(', ')
  return (
    <figure>
      <figcaption>{heading}</figcaption>
      <div
        className="relative h-5 my-1 overflow-hidden"
        style={{ marginLeft: stripMargin.left, marginRight: stripMargin.right }}
        role="img"
        aria-label={`${title}: ${told}`}
      >
        {shown.map((one) => (
          <span
            key={one.from}
            className={`absolute top-0 h-5 px-1 text-[11px] leading-[18px] border border-line-2 rounded-sm overflow-hidden number ${one.value === 0 ? '' : 'bg-kelp-tint'}`}
            style={{ left: place(one.from), width: `calc(${place(one.to)} - ${place(one.from)})` }}
            title={`${one.value}, ${one.from.toFixed(2)} s to ${one.to.toFixed(2)} s`}
          >
            {one.value}
          </span>
        ))}
      </div>
    </figure>
  )
}
