import { Phrase } from '../../frame/Phrase'
import type { LoopView } from '../../compute/loops/loopView'

const words = {
  machine: 'machine',
  law: 'law',
  filters: 'filters',
  inner: 'inner loop',
  sensing: 'sensing',
  lag: 'lag',
  hold: 'hold',
  delay: 'delay',
} as const
/** Of more parts name and phase do not fit beside each other. */
const mostBeside = 5
const degrees = (angle: number) => (angle * 180) / Math.PI

/** Which part takes how much phase at the crossover; the last column is what is left. */
export function PhaseAccount({ view }: { readonly view: LoopView }) {
  const { now } = view
  const { crossover, phaseMargin, account } = now?.analysis ?? {}
  if (crossover === undefined || phaseMargin === undefined || account === undefined) {
    return (
      <p className="px-4 py-2 note border-t border-line">
        {now === undefined || now.analysis.notLinear !== undefined
          ? ''
          : 'The loop gain never crosses 0 dB, so there is no phase account.'}
      </p>
    )
  }
  const columns = account.map(({ name, phase }, i) => {
    const before = account.slice(0, i).reduce((sum, entry) => sum + degrees(entry.phase), 0)
    return { name: words[name], value: degrees(phase), from: before, to: before + degrees(phase) }
  })
  const margin = degrees(phaseMargin)
  const isCrowded = columns.length > mostBeside
  const least = Math.min(-180, ...columns.map(({ to }) => to)) - 4
  const scale = 34 / (0 - least)
  const y = (value: number) => 2 + (0 - value) * scale
  return (
    <section className="border-t border-line px-4 pt-1.5 pb-2" aria-label="Phase account">
      <h3>
        <Phrase of="phaseAccount">Phase account</Phrase>{' '}
        <span className="font-normal text-mist">at {crossover.toPrecision(3)} rad/s, deg</span>
      </h3>
      <ol className="grid grid-flow-col auto-cols-fr text-[11px] leading-4">
        {[...columns, { name: 'in hand', value: margin, from: -180, to: -180 + margin }].map(({ name, value, from, to }, i) => (
          <li key={name}>
            <svg width="100%" height="38" viewBox="0 0 80 38" preserveAspectRatio="none" aria-hidden="true">
              <line
                x1="0"
                x2="80"
                y1={y(-180)}
                y2={y(-180)}
                stroke="var(--line-2)"
                strokeDasharray="2 2"
                vectorEffect="non-scaling-stroke"
              />
              <rect
                x="8"
                width="52"
                y={Math.min(y(from), y(to))}
                height={Math.max(1.6, Math.abs(y(from) - y(to)))}
                fill={
                  i === columns.length
                    ? 'var(--kelp)'
                    : value >= 0
                      ? 'var(--slate-tint)'
                      : i === 0
                        ? 'var(--fog)'
                        : 'var(--coral-tint)'
                }
                stroke={
                  i === columns.length ? 'var(--kelp)' : value >= 0 ? 'var(--slate)' : i === 0 ? 'var(--mist)' : 'var(--coral)'
                }
                vectorEffect="non-scaling-stroke"
              />
            </svg>
            <span className={`${isCrowded ? 'block' : ''} ${i === columns.length ? 'font-semibold' : 'text-mist'}`}>{name}</span>{' '}
            <span className={`number ${isCrowded ? 'block' : ''} ${i === columns.length ? 'font-semibold' : ''}`}>
              {i === columns.length ? '= ' : value >= 0 ? '+' : ''}
              {value.toFixed(2)}
            </span>
          </li>
        ))}
      </ol>
    </section>
  )
}
