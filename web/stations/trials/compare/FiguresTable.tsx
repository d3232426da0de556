import { Check as Tick, X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { checks as checkKinds } from '@calm-hand/core/simulation'
import type { SpanFigures } from '@calm-hand/core/simulation'
import { Words } from '../../../sentence'
import { useOpen } from '../../../state/project'
import { digitsOf, motionUnit, shownUnit, withUnit } from '../../../units'
import type { TrialView } from '../useTrialView'
import type { Comparison } from './useComparison'

const rows: readonly (readonly [string, (figures: SpanFigures) => number])[] = [
  ['at the end less at the beginning', ({ change }) => change],
  ['mean', ({ mean }) => mean],
  ['least', ({ least }) => least.value],
  ['most', ({ most }) => most.value],
]

/** What each signal comes to in the record and in every run, and what they say of the checks. */
export function FiguresTable({ view, comparison }: { readonly view: TrialView; readonly comparison: Comparison }) {
  const { told, signals, lines, part } = comparison
  const checks = useOpen((project) => project.valid.trials[view.trial]?.checks)
  if (told?.measured === undefined) return null
  const runs = ['', ...lines.map(({ name }) => name)]
  const head = (run: string) => (run === '' ? String(part.file) : run)
  const record = told.verdicts.find(({ run }) => run === '')?.said ?? []
  const judged = Object.entries(partsIn(checks)).filter(([key]) =>
    record.some(({ check, outcome }) => check === key && outcome !== 'open'),
  )
  const open = Object.keys(partsIn(checks)).length - judged.length
  return (
    <table className="w-full text-[12.5px] mt-2" aria-label="Figures and verdicts">
      <thead>
        <tr className="border-b border-line">
          <th scope="col" className="text-left">
            <h3>Figures and verdicts</h3>
          </th>
          {runs.map((run) => (
            <th key={run} scope="col" className={`text-right ${run === '' ? 'font-semibold' : 'font-normal'}`}>
              {head(run)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {signals.flatMap(({ name, label, unit }) =>
          rows.map(([words, of]) => (
            <tr key={`${name} ${words}`} className="h-[22px] border-b border-line">
              <th scope="row" className="text-left font-normal">
                {label}, {words} <span className="text-mist">{shownUnit(unit)}</span>
              </th>
              {runs.map((run) => {
                const figures = told.figures.find((one) => one.run === run && one.signal === name)?.figures
                return (
                  <td key={run} className={`number text-right ${run === '' ? 'font-semibold' : ''}`}>
                    {figures === undefined ? '' : digitsOf(of(figures), unit, 3)}
                  </td>
                )
              })}
            </tr>
          )),
        )}
        {judged.map(([key, check]) => (
          <tr key={key} className="h-[24px] border-b border-line">
            <th scope="row" className="text-left font-normal">
              <Words says={findKind(checkKinds, check)?.says ?? key} path={`trials.${view.trial}.checks.${key}`} />
            </th>
            {runs.map((run) => {
              const said = told.verdicts.find((one) => one.run === run)?.said.find((one) => one.check === key)
              const holds = said?.outcome === 'holds'
              return (
                <td key={run} className="number text-right whitespace-nowrap" title={said?.why}>
                  {said !== undefined && said.outcome !== 'open' && (
                    <span className={holds ? 'text-kelp' : 'text-coral-text'}>
                      {holds ? (
                        <Tick size={12} className="inline" aria-label="holds" />
                      ) : (
                        <X size={12} className="inline" aria-label="fails" />
                      )}{' '}
                      {said.margin === undefined ? '' : withUnit(said.margin, motionUnit(said.unit), 3)}
                    </span>
                  )}
                </td>
              )
            })}
          </tr>
        ))}
        {open > 0 && (
          <tr>
            <td colSpan={runs.length + 1} className="note">
              {open === 1 ? 'One check looks' : `${open} checks look`} at what the record does not tell.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  )
}
