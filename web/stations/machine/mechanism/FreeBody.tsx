import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import type { BodyLoad } from '@calm-hand/core/machine'
import { digitsOf } from '../../../units'

interface FreeBodyProps {
  readonly machine: Part
  readonly loads: readonly BodyLoad[]
}

const axes = ['x', 'y', 'z'] as const

/** What acts on a body where the machine rests: forces and moments in world axes, each about where it acts. */
export function FreeBody({ machine, loads }: FreeBodyProps) {
  return (
    <table className="text-[12px] my-1">
      <thead>
        <tr className="text-mist text-left">
          <th className="font-normal pr-4">from</th>
          {axes.map((axis) => (
            <th key={axis} className="font-normal pr-3 text-right">
              F{axis} <span className="number">N</span>
            </th>
          ))}
          {axes.map((axis) => (
            <th key={axis} className="font-normal pr-3 text-right">
              M{axis} <span className="number">N·m</span>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {loads.map(({ from, at, force, moment }) => (
          <tr key={`${from} ${at.join()}`}>
            <td className="pr-4">{shortName(from, machine)}</td>
            {[...force, ...moment].map((value, i) => (
              <td key={i} className="number text-right pr-3">
                {Math.abs(value) < 1e-6 ? '0' : digitsOf(value, '', 3)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
