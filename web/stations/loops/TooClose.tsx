import { setValue } from '../../state/edits'
import { edit } from '../../state/project'
import type { Rung } from '../../compute/loops/rungs'
import { enoughSeparation, valueAt } from './ladder/rungs'
import type { Separation } from './ladder/rungs'

/** The pair of loops that lie nearest together, where they are too near, with the two numbers that would cure it. */
export function TooClose({ pairs }: { readonly pairs: readonly Separation[] }) {
  const worst = pairs.reduce<Separation | undefined>((a, b) => (a === undefined || b.ratio < a.ratio ? b : a), undefined)
  if (worst === undefined || worst.ratio >= enoughSeparation) return null
  const { outer, inner, ratio } = worst
  return (
    <p className="finding border-ochre text-[12.5px] leading-[18px] mb-1">
      <b className="font-semibold text-ochre-text">
        {inner.label} is {ratio.toPrecision(2)} times faster than {outer.label};
      </b>{' '}
      {enoughSeparation} is the least.
      <Cure rung={outer} to={inner.crossover! / enoughSeparation} verb="Lower" />
      <Cure rung={inner} to={outer.crossover! * enoughSeparation} verb="Raise" />
    </p>
  )
}

function Cure({ rung, to, verb }: { readonly rung: Rung; readonly to: number; readonly verb: string }) {
  const { handle } = rung
  if (handle === undefined) return null
  const value = Number(to.toPrecision(3))
  return (
    <>
      {' '}
      {verb} {rung.label} to{' '}
      <button
        className="number font-semibold text-kelp underline"
        aria-label={`${verb} ${rung.label} to ${value} rad/s`}
        onClick={() => edit(setValue(handle.path, valueAt(handle, value), `Retune ${rung.label}`))}
      >
        {value}
      </button>
      .
    </>
  )
}
