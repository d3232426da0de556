import { toast } from 'sonner'
import { judge } from '../../state/judge'
import { edit } from '../../state/project'
import { afterChange, useSavedStates } from '../../state/kept'
import { change, fetchState } from '../../state/server'
import type { KeptState } from '../../state/server'
import { showOverlay } from '../overlays'
import { NameOf } from './NameOf'
import { Sure } from './Sure'
import { moment } from './words'

/** Saved states of the project: brought back, named, let go. */
export function HistoryTab({ id }: { readonly id: string }) {
  const { data, error, fetchNextPage, hasNextPage } = useSavedStates(id)
  if (error !== null) return <p role="alert">{error.message}</p>
  if (data === undefined) return <p className="text-mist">Looking ...</p>
  const all = data.pages.flat()
  const bringBack = async ({ number }: KeptState) => {
    try {
      const judged = await judge(await fetchState(id, number))
      if (judged.kind === 'refused') return void toast.error(`${judged.problems[0]!.what} ${judged.problems[0]!.remedy}`)
      edit({ label: `Bring back revision ${number}`, apply: () => judged.value.document })
      showOverlay(undefined)
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  return (
    <>
      <p className="note pb-2">
        Every save is kept for a day, then the last of each hour for a month, then the last of each day. What has a name stays
        always. Bringing a state back is one step of undo.
      </p>
      <ul>
        {all.map((state, i) => (
          <li
            key={state.number}
            className="grid grid-cols-[44px_110px_1fr_auto_auto] gap-3 items-center min-h-8 border-b border-line"
          >
            <span className="number text-mist">{state.number}</span>
            <span className="number">{moment(state.savedAt)}</span>
            <span className="truncate" title={state.label}>
              {state.label}
            </span>
            <NameOf
              label={`name of revision ${state.number}`}
              name={state.name}
              onName={(name) => void afterChange(change('PATCH', `projects/${id}/revisions/${state.number}`, { name }))}
            />
            {i === 0 ? (
              <span className="note">the present one</span>
            ) : (
              <button
                className="button small"
                onClick={() => void bringBack(state)}
                aria-label={`Bring back revision ${state.number}`}
              >
                Bring back
              </button>
            )}
          </li>
        ))}
      </ul>
      <div className="flex gap-3 pt-3">
        {hasNextPage && (
          <button className="button small" onClick={() => void fetchNextPage()}>
            Older ones
          </button>
        )}
        <Sure
          label="Delete the history"
          what="All states without a name go for good, but the present one."
          onDo={() => void afterChange(change('DELETE', `projects/${id}/revisions`))}
        />
      </div>
    </>
  )
}
