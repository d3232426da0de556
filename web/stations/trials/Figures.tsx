import type { ResponseFigures } from '@calm-hand/core/tuning'
import { Chip } from '../../tray/Tray'
import { useOpen } from '../../state/project'
import { digitsOf, withUnit } from '../../units'
import { leftOut } from './leftOut'
import type { TrialView } from './useTrialView'

/** The same figures for simulation, prediction and pinned runs. */
export function Figures({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const rows: [React.ReactNode, string, ResponseFigures | undefined][] = [
    ['simulated', 'simulated', view.figures.simulated],
    ['predicted', 'predicted', view.figures.predicted],
    ...view.pinned.map(({ letter, figures, title }): [React.ReactNode, string, ResponseFigures | undefined] => [
      <span key={letter} className="flex items-center gap-1.5" title={title}>
        <Chip letter={letter} /> pinned
      </span>,
      `pinned ${letter}`,
      figures,
    ]),
  ]
  const { unit } = view.quantity
  return (
    <section className="border-t border-line px-4 py-2 overflow-auto max-h-[190px]" aria-label="Figures">
      <h3 className="pb-0.5">
        Figures of {view.quantity.label} <span className="font-normal text-mist">rise 10-90 %, settling within 2 %</span>
      </h3>
      <table className="w-full text-[12.5px]">
        <thead>
          <tr className="text-mist text-[11.5px]">
            <th className="text-left font-normal"> </th>
            <th className="text-right font-normal">rise</th>
            <th className="text-right font-normal">overshoot</th>
            <th className="text-right font-normal">settling</th>
            <th className="text-right font-normal">steady error</th>
            <th className="text-right font-normal">peak command</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([words, name, figures]) => (
            <tr key={name} className="h-[22px]" data-figures={name}>
              <th className="text-left font-medium">{words}</th>
              <td className="text-right number">
                {figures === undefined ? '–' : figures.rise === undefined ? 'never' : `${figures.rise.toFixed(2)} s`}
              </td>
              <td className="text-right number">
                {figures === undefined ? '–' : `${digitsOf(100 * figures.overshoot, '', 3)} %`}
              </td>
              <td className="text-right number">
                {figures === undefined ? '–' : figures.settling === undefined ? 'never' : `${figures.settling.toFixed(2)} s`}
              </td>
              <td className="text-right number">
                {figures === undefined
                  ? '–'
                  : Math.abs(figures.steadyError) < 1e-6
                    ? `0 ${unit}`
                    : withUnit(figures.steadyError, unit, 2)}
              </td>
              <td className="text-right number">
                {figures === undefined ? '–' : withUnit(figures.peakCommand, view.push.unit, 3)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {view.prediction !== undefined && <p className="note pt-1">{leftOut(document, view.trial).join(' ')}</p>}
    </section>
  )
}
