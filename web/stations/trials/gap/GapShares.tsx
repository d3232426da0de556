import type { GapAccount, GapPlan, GapShare } from '@calm-hand/core/study'
import { Toggle } from '../../../sentence'
import { setValue } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { signalUnit, withUnit } from '../../../units'
import { causeLabel } from './causeLabel'
import type { TrialView } from '../useTrialView'

type Cause = GapPlan['causes'][number]

interface GapSharesProps {
  readonly view: TrialView
  readonly plan: GapPlan
  readonly account: GapAccount
}

/** Below this share of the whole a cause is one of those that change nothing. */
const leastShown = 0.0005

const percent = (portion: number) => `${(100 * portion).toFixed(1)} %`

/** Shares of the gap, largest first, with what each is; they add up to the whole. */
export function GapShares({ view, plan, account }: GapSharesProps) {
  const document = useOpen((project) => project.valid)
  const { whole, left, shares, pairs } = account
  const causeOf = (name: string) => plan.causes.find((one) => one.name === name)!
  const labelled = (name: string) => causeLabel(document, view, causeOf(name))
  if (whole === 0) return <p className="note pb-1">They do not differ: there is nothing to account for.</p>
  const told = shares.filter(({ portion }) => Math.abs(portion) >= leastShown)
  const silent = shares.filter((one) => !told.includes(one))
  const size = (value: number | undefined) => (value === undefined ? '' : withUnit(value, signalUnit(account.signal), 3))
  return (
    <>
      <table className="w-full text-[12.5px]" aria-label="Shares of the gap">
        <tbody>
          {told.map((one) => {
            const cause = causeOf(one.cause)
            const words =
              one.alone === undefined ? undefined : `Alone it makes ${size(one.alone)}; without it ${size(one.without)} are left.`
            return (
              <tr key={one.cause} className="h-[21px]" title={words}>
                <td className="pr-2.5">
                  <LayerSwitch trial={view.trial} cause={cause} />
                </td>
                <th scope="row" className="font-medium text-left whitespace-nowrap pr-3">
                  {causeLabel(document, view, cause)}
                </th>
                <td className="note whitespace-nowrap pr-3">{cause.detail}</td>
                <td className="w-full">
                  <Bar portion={one.portion} />
                </td>
                <td className="number text-right whitespace-nowrap pl-2">
                  {percent(one.portion)}
                  <Bound {...one} whole={whole} />
                </td>
              </tr>
            )
          })}
          {Math.abs(left / whole) >= leastShown && (
            <tr className="h-[21px]" title="What the run without any of these still differs by.">
              <td />
              <th scope="row" className="font-medium text-left whitespace-nowrap pr-3">
                Left
              </th>
              <td className="note whitespace-nowrap pr-3">software beyond its linear form</td>
              <td>
                <Bar portion={left / whole} />
              </td>
              <td className="number text-right">{percent(left / whole)}</td>
            </tr>
          )}
          <tr className="h-[21px] border-t border-line">
            <td />
            <th scope="row" className="font-semibold text-left">
              Together
            </th>
            <td className="note whitespace-nowrap" colSpan={2}>
              {silent.length > 0 && `no share: ${silent.map(({ cause }) => labelled(cause)).join(', ')}`}
            </td>
            <td className="number text-right">100.0 %</td>
          </tr>
        </tbody>
      </table>
      {pairs.slice(0, 1).map(({ causes: [one, other], portion }) => (
        <p key={one} className="finding border-slate my-1">
          <b className="font-semibold text-slate">
            Strong pair: {labelled(one)} and {labelled(other)}.
          </b>{' '}
          Together they explain <span className="number">{percent(Math.abs(portion))}</span> {portion < 0 ? 'less' : 'more'} than
          each alone.
        </p>
      ))}
    </>
  )
}

/** A layer can be switched here. */
function LayerSwitch({ trial, cause: { layer, label } }: { readonly trial: string; readonly cause: Cause }) {
  const on = useOpen(({ document }) => layer !== undefined && document.trials[trial]?.realism[layer] === true)
  if (layer === undefined) return null
  const change = (next: boolean) => edit(setValue(`trials.${trial}.realism.${layer}`, next, `Switch ${label}`))
  return <Toggle label={label} on={on} onChange={change} />
}

function Bar({ portion }: { readonly portion: number }) {
  const size = Math.min(1, Math.abs(portion))
  return (
    <svg className="w-full" height="9" preserveAspectRatio="none" viewBox="0 0 100 9" aria-hidden="true">
      <rect width="100" height="9" fill="var(--fog-2)" />
      <rect width={100 * size} height="9" fill={portion < 0 ? 'var(--mist)' : 'var(--slate)'} />
    </svg>
  )
}

function Bound({ bound, whole }: GapShare & { readonly whole: number }) {
  if (bound === undefined) return null
  return <span className="note"> ± {Number.isFinite(bound) ? ((100 * bound) / whole).toFixed(1) : '?'}</span>
}
