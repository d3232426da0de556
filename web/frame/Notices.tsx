import { format } from 'date-fns'
import { signOutOfPage } from '../state/access'
import { download, downloadDocument } from '../state/download'
import { useOutbox } from '../state/outbox'
import { forgetDamaged, keepMine, letGo, putBack, takeLeft, takeTheirs, useProject } from '../state/project'
import type { Saving } from '../state/project'
import { useRuns } from '../state/runs'
import { useWork } from '../state/work'

/** What a person must know about saving, and work that takes a while. */
export function Notices() {
  const saving = useProject((state) => state.project?.saving)
  return (
    <div>
      {saving !== undefined && <SavingNotice saving={saving} />}
      <NotKept />
      <LeftWork />
      <Outstanding />
      <WorkBars />
    </div>
  )
}

function SavingNotice({ saving }: { readonly saving: Saving }) {
  const isKept = useProject(({ project }) => project?.isKept ?? true)
  switch (saving.kind) {
    case 'stale':
      return (
        <Bar>
          <span className="grow">
            <b className="font-semibold">Saved in another tab.</b> Revision{' '}
            <span className="number">{saving.theirs.revision}</span> was saved there since this one was opened. Nothing is lost:
            what you do not take stays in the history.
          </span>
          <button className="button small main" onClick={keepMine}>
            Keep mine on top
          </button>
          <button className="button small" onClick={takeTheirs}>
            Take what was saved
          </button>
        </Bar>
      )
    case 'away':
      return (
        <Bar>
          <span className="grow">
            <b className="font-semibold">{saving.what}</b> {isKept ? 'Your work is kept in this browser and is' : 'Your work is'}{' '}
            saved as soon as it answers. If it was stopped, type <code className="number">npm start</code>.
          </span>
        </Bar>
      )
    case 'refused':
      if (saving.why === 'document') return null // told where it is mended
      return (
        <Bar sort="coral">
          <span className="grow">
            <b className="font-semibold">Not saved.</b> {saving.what} {isKept && 'Your work is kept in this browser.'}
          </span>
          {saving.why === 'gone' && (
            <button className="button small main" onClick={() => void putBack()}>
              Put it there again
            </button>
          )}
          {(saving.why === 'signedOut' || saving.why === 'readOnly') && (
            <button className="button small main" onClick={signOutOfPage}>
              Sign in
            </button>
          )}
          <SaveFile />
        </Bar>
      )
    default:
      return null
  }
}

/** The browser's storage is full or forbidden: what is not on the server is nowhere. */
function NotKept() {
  const isLost = useProject(({ project }) => project !== undefined && !project.isKept && project.saving.kind !== 'saved')
  const runsKept = useRuns((runs) => runs.isKept)
  if (!isLost && runsKept) return null
  return (
    <Bar sort="coral">
      <span className="grow">
        <b className="font-semibold">{isLost ? 'This work is not kept anywhere yet.' : 'The last run is not kept.'}</b> This
        browser has no room for it, or may not store anything. Make room on its disk or allow this page to store data
        {isLost ? '; until it is saved, do not close the page.' : ', then run again.'}
      </span>
      {isLost && <SaveFile />}
    </Bar>
  )
}

/** Work that other tabs left behind, and drafts that cannot be read. */
function LeftWork() {
  const left = useProject(({ project }) => project?.left)
  const damaged = useProject(({ project }) => project?.damaged)
  return (
    <>
      {left?.map((draft) => (
        <Bar key={draft.tab}>
          <span className="grow">
            <b className="font-semibold">Another tab left work that was not saved</b>, last at{' '}
            <span className="number">{format(draft.at, 'dd/MM/yyyy, HH:mm')}</span>: {draft.label}.
          </span>
          <button className="button small main" onClick={() => takeLeft(draft)}>
            Take it
          </button>
          <button className="button small" onClick={() => letGo(draft)}>
            Let it go
          </button>
        </Bar>
      ))}
      {damaged !== undefined && damaged.length > 0 && (
        <Bar sort="coral">
          <span className="grow">
            <b className="font-semibold">Work that this browser kept cannot be read.</b> What the server has is shown. Save the
            damaged part as a file to look into it.
          </span>
          <button className="button small" onClick={() => download('damaged-draft.json', damaged.join('\n'))}>
            Save it as a file
          </button>
          <button className="button small" onClick={forgetDamaged}>
            Let it go
          </button>
        </Bar>
      )}
    </>
  )
}

function Outstanding() {
  const refused = useOutbox((outbox) => outbox.refused)
  if (refused === undefined) return null
  return (
    <Bar>
      <span>
        <b className="font-semibold">The server does not take a run.</b> {refused} It stays in this browser.
      </span>
    </Bar>
  )
}

function WorkBars() {
  const all = useWork((work) => work.all)
  return [...all].map(([id, { label, share, cancel }]) => (
    <Bar key={id} sort="plain">
      <span role="status" className="grow">
        {label} {share === undefined ? '...' : <span className="number">{Math.round(100 * share)} %</span>}
      </span>
      <button className="button small" onClick={cancel}>
        Cancel
      </button>
    </Bar>
  ))
}

function SaveFile() {
  return (
    <button
      className="button small"
      onClick={() => {
        downloadDocument(useProject.getState().project!.document)
      }}
    >
      Save it as a file
    </button>
  )
}

interface BarProps {
  readonly sort?: 'ochre' | 'coral' | 'plain'
  readonly children: React.ReactNode
}

function Bar({ sort = 'ochre', children }: BarProps) {
  const look = { ochre: 'bg-ochre-tint', coral: 'bg-coral-tint', plain: 'bg-fog-2' }[sort]
  return (
    <div
      {...(sort === 'plain' ? {} : { role: 'alert' })}
      className={`${look} border-b border-line px-4 py-2 flex items-center gap-3`}
    >
      {children}
    </div>
  )
}
