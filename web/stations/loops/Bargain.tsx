import type { BargainLine } from '@calm-hand/core/tuning'
import { withUnit } from '../../units'
import type { LoopView } from '../../compute/loops/loopView'

/** What a change bought and what it cost, largest first; what hardly moved is named as kept. */
export function Bargain({ lines, view }: { readonly lines: readonly BargainLine[]; readonly view: LoopView }) {
  const kept = lines.filter(({ sort }) => sort === 'kept').map(({ figure }) => names[figure])
  return (
    <div className="text-[12.5px] leading-[18px]">
      {(['bought', 'costs'] as const).map((sort) => {
        const mine = lines.filter((line) => line.sort === sort)
        if (mine.length === 0) return null
        return (
          <div key={sort} className="pb-1">
            <div className={`text-[11px] font-semibold ${sort === 'bought' ? 'text-kelp' : 'text-ochre-text'}`}>{sort}</div>
            {mine.map((line) => (
              <div key={line.figure} className="grid grid-cols-[1fr_64px] gap-2 items-center">
                <span>{words(line, view)}</span>
                <svg height="10" width="64" aria-hidden="true">
                  <rect width="64" height="10" fill="var(--fog)" />
                  <rect
                    width={Math.min(64, 64 * line.share)}
                    height="10"
                    fill={sort === 'bought' ? 'var(--kelp)' : 'var(--ochre)'}
                  />
                </svg>
              </div>
            ))}
          </div>
        )
      })}
      {kept.length > 0 && <p className="note">kept: {kept.join(', ')}</p>}
    </div>
  )
}

const names: Record<BargainLine['figure'], string> = {
  settling: 'settling',
  rise: 'rise',
  overshoot: 'overshoot',
  steadyError: 'steady error',
  peakCommand: 'peak command',
  gainMargin: 'gain margin',
  phaseMargin: 'phase margin',
}

function words({ figure, amount, direction }: BargainLine, { quantity, axis, asked, trials }: LoopView): React.ReactNode {
  const bold = (text: string) => <b className="number font-medium">{text}</b>
  switch (figure) {
    case 'settling':
      return (
        <>
          settles {bold(`${amount.toFixed(2)} s`)} {direction === 'less' ? 'sooner' : 'later'}
        </>
      )
    case 'rise':
      return (
        <>
          rises {bold(`${amount.toFixed(2)} s`)} {direction === 'less' ? 'faster' : 'slower'}
        </>
      )
    case 'overshoot':
      return (
        <>
          overshoots by {bold(`${(100 * amount).toFixed(1)} %`)} {direction}
        </>
      )
    case 'steadyError':
      return (
        <>
          stays {bold(withUnit(amount, quantity.unit, 3))} {direction === 'less' ? 'nearer' : 'further off'}
        </>
      )
    case 'peakCommand':
      return (
        <>
          asks {bold(withUnit(amount, axis.unit, 3))} {direction} {axis.label} in{' '}
          {asked.trial === undefined ? <>a step of {bold(withUnit(asked.stepSize, quantity.unit, 3))}</> : trials[asked.trial]}
        </>
      )
    case 'gainMargin':
      return (
        <>
          {bold(`${amount.toFixed(2)}×`)} {direction} gain margin
        </>
      )
    case 'phaseMargin':
      return (
        <>
          {bold(`${((amount * 180) / Math.PI).toFixed(1)}°`)} {direction} phase in hand
        </>
      )
    default:
      return figure satisfies never
  }
}
