import { useLayoutEffect } from 'react'
import { toast } from 'sonner'
import type { Part } from '@calm-hand/core/document'
import { keptPlaces, matricesToText, mechanismToUrdf, packBundle } from '@calm-hand/core/formats'
import { mechanism } from '@calm-hand/core/machine'
import type { ModelReport } from '@calm-hand/core/simulation'
import { download } from '../../state/download'
import { offerActions } from '../../frame/actions'
import type { Action } from '../../frame/actions'
import { useProject } from '../../state/project'
import { fetchMesh } from '../../state/server'

/** What of a machine can be saved in open formats, offered in the command search. */
export function useSaving(name: string, machine: Part, report: ModelReport | undefined): void {
  useLayoutEffect(() => {
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
    const bundle = { name: 'Save as a bundle, meshes and all', group: 'Machine', does: () => void saveBundle(name) }
    return offerActions('machineSaving', [bundle, ...urdf, ...linear])
  }, [name, machine, report])
}

async function saveBundle(name: string): Promise<void> {
  const { document } = useProject.getState().project!
  const hashes = new Set(keptPlaces(document).map(({ hash }) => hash))
  const found = await Promise.all([...hashes].map(async (hash) => [hash, await fetchMesh(hash)] as const))
  const lost = found.filter(([, content]) => content === undefined).length
  if (lost > 0)
    toast.error(`${lost} of ${found.length} meshes and records are not kept here any more. Give their files again, then save.`)
  else download(`${name}.zip`, new Blob([packBundle(document, new Map(found as [string, Uint8Array][])) as BlobPart]))
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
