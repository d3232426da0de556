import { useEffect } from 'react'
import { toast } from 'sonner'
import type { Part } from '@calm-hand/core/document'
import { matricesToText, mechanismToUrdf } from '@calm-hand/core/formats'
import { mechanism } from '@calm-hand/core/machine'
import type { ModelReport } from '@calm-hand/core/simulation'
import { download } from '../../chart'
import { offerActions } from '../../frame/actions'
import type { Action } from '../../frame/actions'

/** What of a machine can be saved in open formats, offered in the command search. */
export function useSaving(name: string, machine: Part, report: ModelReport | undefined): void {
  useEffect(() => {
    const system = report?.point.kind === 'done' ? report.point.value.system : undefined
    const linear: Action[] =
      system === undefined
        ? []
        : [
            {
              name: 'Save the linear form as JSON',
              group: 'Machine',
              does: () => download(`${name}.json`, JSON.stringify(system, null, 2)),
            },
            {
              name: 'Save the linear form as CSV',
              group: 'Machine',
              does: () => download(`${name}.csv`, matricesToText(system)),
            },
          ]
    const urdf: Action[] =
      machine.kind === mechanism.name
        ? [{ name: 'Save as a robot description (URDF)', group: 'Machine', does: () => saveUrdf(name, machine) }]
        : []
    return offerActions('machineSaving', [...urdf, ...linear])
  }, [name, machine, report])
}

function saveUrdf(name: string, machine: Part): void {
  const made = mechanismToUrdf(machine, name)
  if (made.kind === 'refused') {
    const [problem] = made.problems
    toast.error(`${problem!.what} ${problem!.remedy}`)
    return
  }
  download(`${name}.urdf`, made.value.text)
  if (made.value.left.length > 0) toast(`The format has no place for ${made.value.left.join('; ')}.`)
}
