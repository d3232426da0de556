import { useOpen } from '../../state/project'
import { useOutbox } from '../../state/outbox'
import { afterChange, useKeptRuns } from '../../state/kept'
import { change } from '../../state/server'
import { NameOf } from './NameOf'
import { Sure } from './Sure'
import { moment, sizeInWords } from './words'

/** Kept runs of the project: named, deleted. */
export function RunsTab({ id }: { readonly id: string }) {
  const document = useOpen((project) => project.document)
  const waiting = useOutbox((outbox) => outbox.waiting)
  const { data: items, error } = useKeptRuns(id)
  if (error !== null) return <p role="alert">{error.message}</p>
  if (items === undefined) return <p className="text-mist">Looking ...</p>
  const pinned = new Map(Object.entries(document.tray).map(([letter, pin]) => [pin.run, letter]))
  return (
    <>
      <p className="note pb-2">
        Pinned and named runs stay, and the last run of each trial. Of the others the newest 60 stay, up to 4 GB. A run that is
        gone comes back when the same document is run again.
        {waiting > 0 && ` ${waiting} ${waiting === 1 ? 'run is' : 'runs are'} still on the way to the server.`}
      </p>
      {items.length === 0 && <p>No run is kept yet. R runs the trial that is shown.</p>}
      <ul>
        {items.map(({ hash, trial, madeAt, name, length }) => {
          const title = document.trials[trial]?.title ?? trial
          return (
            <li key={hash} className="grid grid-cols-[110px_1fr_70px_auto_auto] gap-3 items-center min-h-8 border-b border-line">
              <span className="number">{moment(madeAt)}</span>
              <span className="truncate">
                {title} {pinned.has(hash) && <span className="note">pinned as {pinned.get(hash)}</span>}
              </span>
              <span className="number text-right">{sizeInWords(length)}</span>
              <NameOf
                label={`name of the run of ${moment(madeAt)}`}
                name={name}
                onName={(next) => void afterChange(change('PATCH', `projects/${id}/runs/${hash}`, { name: next }))}
              />
              <Sure
                label="Delete"
                what="Gone for good."
                onDo={() => void afterChange(change('DELETE', `projects/${id}/runs/${hash}`))}
              />
            </li>
          )
        })}
      </ul>
    </>
  )
}
