import { useOpen } from '../../state/project'
import { useOutbox } from '../../state/outbox'
import { afterChange, useKeptRuns } from '../../state/kept'
import type { KeptRun } from '../../state/server'
import { change } from '../../state/server'
import { DataTable } from '../../table'
import type { TableColumn } from '../../table'
import { NameOf } from './NameOf'
import { Sure } from './Sure'
import { moment, sizeInWords } from './words'

/** More scroll by themselves. */
const mostAtOnce = 80

/** Kept runs of the project: named, deleted. */
export function RunsTab({ id }: { readonly id: string }) {
  const document = useOpen((project) => project.document)
  const waiting = useOutbox((outbox) => outbox.waiting)
  const { data: items, error } = useKeptRuns(id)
  if (error !== null) return <p role="alert">{error.message}</p>
  if (items === undefined) return <p className="text-mist">Looking ...</p>
  const pinned = new Map(Object.entries(document.tray).map(([letter, pin]) => [pin.run, letter]))
  const titleOf = (trial: string) => document.trials[trial]?.title ?? trial
  const columns: readonly TableColumn<KeptRun>[] = [
    {
      name: 'made',
      leads: true,
      by: ({ madeAt }) => madeAt,
      className: 'number',
      cell: ({ madeAt }) => moment(madeAt),
    },
    {
      name: 'trial',
      side: 'left',
      by: ({ trial }) => titleOf(trial),
      className: 'max-w-[200px] truncate',
      cell: ({ trial, hash }) => (
        <>
          {titleOf(trial)} {pinned.has(hash) && <span className="note">pinned as {pinned.get(hash)}</span>}
        </>
      ),
    },
    { name: 'size', by: ({ length }) => length, className: 'number', cell: ({ length }) => sizeInWords(length) },
    {
      name: 'name',
      side: 'left',
      by: ({ name }) => name ?? undefined,
      cell: ({ hash, madeAt, name }) => (
        <NameOf
          label={`name of the run of ${moment(madeAt)}`}
          name={name}
          onName={(next) => void afterChange(change('PATCH', `projects/${id}/runs/${hash}`, { name: next }))}
        />
      ),
    },
    {
      name: 'delete',
      head: <span className="sr-only">delete</span>,
      cell: ({ hash }) => (
        <Sure
          label="Delete"
          what="Gone for good."
          onDo={() => void afterChange(change('DELETE', `projects/${id}/runs/${hash}`))}
        />
      ),
    },
  ]
  return (
    <>
      <p className="note pb-2">
        Pinned and named runs stay, and the last run of each trial. Of the others the newest 60 stay, up to 4 GB. A run that is
        gone comes back when the same document is run again.
        {waiting > 0 && ` ${waiting} ${waiting === 1 ? 'run is' : 'runs are'} still on the way to the server.`}
      </p>
      {items.length === 0 && <p>No run is kept yet. R runs the trial that is shown.</p>}
      {items.length > 0 && (
        <DataTable
          caption="Kept runs"
          columns={columns}
          rows={items}
          keyOf={({ hash }) => hash}
          rowProps={() => ({ className: 'h-8 border-b border-line' })}
          {...(items.length > mostAtOnce ? { rowHeight: 33 } : {})}
        />
      )}
    </>
  )
}
