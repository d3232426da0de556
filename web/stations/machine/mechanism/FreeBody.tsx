import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import type { BodyLoad } from '@calm-hand/core/machine'
import { DataTable } from '../../../table'
import type { TableColumn } from '../../../table'
import { digitsOf } from '../../../units'

interface FreeBodyProps {
  readonly machine: Part
  readonly loads: readonly BodyLoad[]
}

/** Components of what acts, with the unit of each three. */
const parts = [
  { name: 'F', unit: 'N', of: ({ force }: BodyLoad) => force },
  { name: 'M', unit: 'N·m', of: ({ moment }: BodyLoad) => moment },
]
const components = parts.flatMap(({ name, unit, of }) =>
  ['x', 'y', 'z'].map((axis, i): TableColumn<BodyLoad> => ({
    name: `${name}${axis}`,
    head: (
      <>
        {name}
        {axis} <span className="number">{unit}</span>
      </>
    ),
    className: 'number',
    by: (load) => of(load)[i],
    cell: (load) => (Math.abs(of(load)[i]!) < 1e-6 ? '0' : digitsOf(of(load)[i]!, '', 3)),
  })),
)

/** What acts on a body where the machine rests: forces and moments in world axes, each about where it acts. */
export function FreeBody({ machine, loads }: FreeBodyProps) {
  return (
    <DataTable
      caption="What acts on the body"
      className="text-[12px] my-1"
      columns={[{ name: 'from', leads: true, cell: ({ from }) => shortName(from, machine) }, ...components]}
      rows={loads}
      keyOf={({ from, at }) => `${from} ${at.join()}`}
    />
  )
}
