import { useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { conditions, operatingPointKind } from '@calm-hand/core/machine'
import { SlotAt } from '../../sentence'
import { PartGroup } from './PartGroup'

interface OperatingPointsProps {
  readonly path: string
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
  readonly fresh: Readonly<Record<string, unknown>>
}

/** The conditions of the machine's own operating point, other points by name, and at which of them it works. */
export function OperatingPoints(groups: OperatingPointsProps) {
  const { path, machine, fresh } = groups
  return (
    <>
      <PartGroup title="Operating point" group="conditions" kinds={conditions} isShort {...groups} />
      <PartGroup
        title="Other operating points"
        group="points"
        kinds={[operatingPointKind]}
        within={(own, part) => <Conditions path={own} point={part} fresh={fresh} />}
        {...groups}
      />
      {machine.points !== undefined && (
        <p className="px-4 py-2 text-[12.5px] border-b border-line">
          It works at <SlotAt path={`${path}.worksAt`} />.
        </p>
      )}
    </>
  )
}

interface ConditionsProps {
  readonly path: string
  readonly point: Part
  readonly fresh: Readonly<Record<string, unknown>>
}

function Conditions({ path, point, fresh }: ConditionsProps) {
  const [chosen, setChosen] = useState('')
  return (
    <div className="-mx-3 my-1">
      <PartGroup
        title="Its conditions"
        group="conditions"
        kinds={conditions}
        isShort
        path={path}
        machine={point}
        chosen={chosen}
        onChoose={setChosen}
        fresh={fresh}
      />
    </div>
  )
}
