import { useState } from 'react'
import { toast } from 'sonner'
import { useAnswer } from '../../compute'
import { judge } from '../../state/judge'
import { edit, useOpen } from '../../state/project'
import { afterChange, useSavedState, useSavedStates } from '../../state/kept'
import { change, fetchState } from '../../state/server'
import type { KeptState } from '../../state/server'
import { showOverlay } from '../overlays'
import { ChangeList } from './ChangeList'
import { NameOf } from './NameOf'
import { Sure } from './Sure'
import { moment } from './words'

/** Saved states of the project: brought back, named, let go. */
export function HistoryTab({ id }: { readonly id: string }) {
  const [looked, setLooked] = useState<number>()
  const { data, error, fetchNextPage, hasNextPage } = useSavedStates(id)
  if (error !== null) return <p role="alert">{error.message}</p>
  if (data === undefined) return <p className="text-mist">Looking ...</p>
  const all = data.pages.flat()
  const toggle = (number: number) => setLooked(looked === number ? undefined : number)
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
            <button
              className="truncate text-left underline decoration-line-2"
              title={`${state.label}: what changed`}
              aria-expanded={looked === state.number}
              onClick={() => toggle(state.number)}
            >
              {state.label}
            </button>
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
            {looked === state.number && <Looked id={id} state={state} before={all[i + 1]} isPresent={i === 0} />}
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

interface LookedProps {
  readonly id: string
  readonly state: KeptState
  /** The state that is kept before it. */
  readonly before: KeptState | undefined
  readonly isPresent: boolean
}

/** What changed from the state before to this one, and from this one to the present one. */
function Looked({ id, state, before, isPresent }: LookedProps) {
  const present = useOpen((project) => project.document)
  const { data: it, error } = useSavedState(id, state.number)
  const { data: earlier } = useSavedState(id, before?.number)
  const asked = { subject: String(state.number), lane: 'side' } as const
  const { answer: then } = useAnswer(
    'changed',
    it ?? present,
    it === undefined || earlier === undefined ? undefined : [earlier],
    {
      ...asked,
      key: `${id} ${state.number} ${before?.number}`,
    },
  )
  const { answer: since } = useAnswer('changed', present, it === undefined || isPresent ? undefined : [it], {
    ...asked,
    subject: `since ${state.number}`,
  })
  if (error !== null) return <p role="alert">{error.message}</p>
  return (
    <div className="col-span-full grid grid-cols-2 gap-4 pb-2 pl-[44px]">
      <div>
        <h4 className="note">Changed with it{before === undefined ? '' : `, from ${before.number}`}</h4>
        {before === undefined ? (
          <p className="note">It is the first that is kept.</p>
        ) : (
          then && <ChangeList changes={then} none="Nothing that the document says." />
        )}
      </div>
      {!isPresent && (
        <div>
          <h4 className="note">Changed since</h4>
          {since && <ChangeList changes={since} none="Nothing: it is as the present one." />}
        </div>
      )}
    </div>
  )
}
