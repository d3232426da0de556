import { Plus } from 'lucide-react'
import { edit, useOpen } from '../../../state/project'
import { FindSignal } from '../FindSignal'
import type { TrialView } from '../useTrialView'
import { watchPath, watchSignal } from './watchEdits'

/** Finds any signal of the run and watches it, over time or over another. */
export function Watch({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const first = view.watched[0]?.name ?? (view.held === undefined ? undefined : `${view.machineName}.${view.held.quantity.name}`)
  return (
    <div className="shrink-0 py-1 flex gap-1.5">
      <FindSignal
        view={view}
        withFamilies
        without={
          new Set(
            view.watches.filter(({ isPath, signals }) => !isPath && signals.length === 1).map(({ part }) => String(part.signal)),
          )
        }
        onTake={(name) => edit(watchSignal(document, view.trial, name))}
      >
        <button className="button small">
          <Plus size={13} /> Watch a signal
        </button>
      </FindSignal>
      {first !== undefined && (
        <FindSignal view={view} onTake={(name) => edit(watchPath(document, view.trial, name, first))}>
          <button className="button small" title="One signal over another: a way over the ground, a phase plane">
            <Plus size={13} /> One over another
          </button>
        </FindSignal>
      )}
    </div>
  )
}
