import { Suspense, lazy, useEffect, useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { Document } from '@calm-hand/core/document'
import { judge } from '../../state/judge'
import { askAnew, useStoredProjects } from '../../state/kept'
import type { StoredProject } from '../../state/server'
import { useProject } from '../../state/project'
import { ChoiceField } from '../../sentence/ChoiceField'
import { Bin } from './Bin'
import { YardMenu } from './YardMenu'
import { shownProjects } from './yardEdits'
import type { YardOrder } from './yardEdits'

// what looks into machines is large, and comes after the cards that lead to them; readers of files come when they are wanted
const MachineDrawing = lazy(async () => ({ default: (await import('./machineSeen')).MachineDrawing }))
const MachineMass = lazy(async () => ({ default: (await import('./machineSeen')).MachineMass }))
const MachineParts = lazy(async () => ({ default: (await import('./machineSeen')).MachineParts }))
const NewMachine = lazy(async () => ({ default: (await import('./NewMachine')).NewMachine }))

const orders: Readonly<Record<YardOrder, string>> = { name: 'their names', latest: 'the last work on them' }

/** The workspace: its machines as cards. */
export function Yard() {
  const { data: projects, error, isPending } = useStoredProjects()
  const [search, setSearch] = useState('')
  const [order, setOrder] = useState<YardOrder>('name')
  useEffect(() => useProject.setState({ project: undefined, failure: undefined }), [])
  const shown = useMemo(() => shownProjects(projects ?? [], search, order), [projects, search, order])
  return (
    <main className="h-full overflow-auto">
      <div className="max-w-[1180px] mx-auto px-6 py-5">
        <div className="flex items-start justify-between gap-4 pb-4">
          <div>
            <h1>Tern Skerry</h1>
            <p className="text-mist">A lighthouse, a slipway and a relay satellite.</p>
          </div>
          <Suspense>{projects !== undefined && <NewMachine projects={projects} />}</Suspense>
        </div>
        {projects !== undefined && projects.length > 0 && (
          <div className="flex items-center gap-2 pb-3">
            <input
              className="h-9 w-64 px-2 border border-line-2 rounded-md bg-chalk"
              placeholder="Find a machine"
              aria-label="Find a machine"
              value={search}
              onChange={(event) => setSearch(event.target.value)}
            />
            <span className="grow" />
            <span className="note">in the order of</span>
            <ChoiceField
              label="order of the yard"
              value={order}
              options={orders}
              onChoose={(next) => setOrder(next as YardOrder)}
            />
          </div>
        )}
        {isPending && <p className="text-mist">Opening the yard ...</p>}
        {error !== null && (
          <div role="alert" className="finding border-coral">
            <p>{error.message}</p>
            <button className="button small mt-2" onClick={() => void askAnew()}>
              Try again
            </button>
          </div>
        )}
        {projects !== undefined && projects.length === 0 && (
          <p>
            No machine yet. Put the demo back with <code className="number">npm run demo:reset</code>.
          </p>
        )}
        {projects !== undefined && (
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] border-l border-t border-line">
            {shown.map((project) => (
              <li key={project.id} className="relative border-r border-b border-line bg-chalk">
                <MachineCard project={project} />
                <YardMenu project={project} all={projects} />
              </li>
            ))}
          </ul>
        )}
        {projects !== undefined && shown.length === 0 && projects.length > 0 && (
          <p className="note pt-3">No machine of the yard has these words.</p>
        )}
        {projects !== undefined && <Bin />}
      </div>
    </main>
  )
}

function MachineCard({ project }: { readonly project: StoredProject }) {
  const document = useResolved(project.document)
  const machine = document === undefined ? undefined : Object.values(document.machines)[0]
  const machines = Object.values(project.document.machines)
  return (
    <Link
      to={`/${project.id}/machine`}
      className="block h-[250px] p-3 hover:outline-2 hover:outline-kelp hover:-outline-offset-2"
    >
      <div className="h-[150px] grid place-items-center">
        <Suspense>{machine !== undefined && <MachineDrawing machine={machine} />}</Suspense>
      </div>
      <div className="flex justify-between gap-2 pt-2">
        <b className="font-semibold truncate">{project.document.title}</b>
        <Suspense>{machine !== undefined && <MachineMass machine={machine} />}</Suspense>
      </div>
      <div className="text-[12px] text-mist truncate">{project.document.about}</div>
      <div className="text-[12px] pt-1 min-h-[22px]">
        <Suspense>{machines.length === 1 ? <MachineParts machine={machines[0]!} /> : workInWords(project.document)}</Suspense>
      </div>
    </Link>
  )
}

function workInWords({ machines, loops, trials }: StoredProject['document']): string {
  const count = Object.keys(trials).length
  const several = Object.keys(machines).length
  return `${several > 1 ? `${several} machines, ` : ''}${Object.keys(loops).length} loops, ${count} ${count === 1 ? 'trial' : 'trials'}`
}

/** A document with its formulas worked out; nothing until then, or where it has problems, which its own stations explain. */
function useResolved(document: Document): Document | undefined {
  const [found, setFound] = useState<{ readonly of: Document; readonly resolved: Document }>()
  useEffect(() => {
    let wanted = true
    judge(document).then(
      (judged) => wanted && judged.kind === 'done' && setFound({ of: document, resolved: judged.value.resolved }),
      () => undefined, // another project was opened meanwhile
    )
    return () => {
      wanted = false
    }
  }, [document])
  return found?.of === document ? found.resolved : undefined
}
