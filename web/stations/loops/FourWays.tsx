import { strokes } from '../../chart'
import { digitsOf, withUnit } from '../../units'
import { combinations } from './combinations'
import { figuresOf, stepOf } from './useLoopView'
import type { Judged, LoopView } from './useLoopView'

/** Figures of the same step with both, each alone, and neither of feedback and feedforward. */
export function FourWays({ now, view }: { readonly now: Judged; readonly view: LoopView }) {
  return (
    <table className="w-full text-[12px] mt-2">
      <thead>
        <tr className="text-mist">
          <th className="text-left font-normal">with</th>
          <th className="text-right font-normal">rise</th>
          <th className="text-right font-normal">overshoot</th>
          <th className="text-right font-normal">ends off by</th>
        </tr>
      </thead>
      <tbody>
        {combinations.map(({ name, role, feedback, feedforward }) => {
          const figures = figuresOf(stepOf(now.design, view.stepSize, view.window, { feedback, feedforward }), view.stepSize)
          return (
            <tr key={name}>
              <td className="flex items-center gap-1.5">
                <svg width="14" height="4" aria-hidden="true">
                  <line
                    x1="0"
                    x2="14"
                    y1="2"
                    y2="2"
                    stroke={`var(${strokes[role].color})`}
                    strokeWidth="2"
                    strokeDasharray={strokes[role].dash}
                  />
                </svg>
                {name}
              </td>
              <td className="text-right number">{figures.rise === undefined ? 'never' : `${figures.rise.toFixed(2)} s`}</td>
              <td className="text-right number">
                {figures.overshoot > 5 ? 'runs off' : `${digitsOf(100 * figures.overshoot, '', 3)} %`}
              </td>
              <td className="text-right number">
                {Math.abs(figures.steadyError) > 20 * view.stepSize
                  ? 'runs off'
                  : withUnit(figures.steadyError, view.quantity.unit, 3)}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
