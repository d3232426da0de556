import { keepMine, takeTheirs, useProject } from '../state/project'

/** What a person must know about saving: another tab was faster, or the server is away. */
export function Notices() {
  const saving = useProject((state) => state.project?.saving)
  if (saving?.kind === 'stale') {
    return (
      <div role="alert" className="bg-ochre-tint border-b border-line px-4 py-2 flex items-center gap-3">
        <span className="grow">
          <b className="font-semibold">Saved in another tab.</b> Revision <span className="number">{saving.theirs.revision}</span>{' '}
          was saved there since this one was opened. Nothing is lost: what you do not take stays in the history.
        </span>
        <button className="button small main" onClick={keepMine}>
          Keep mine on top
        </button>
        <button className="button small" onClick={takeTheirs}>
          Take what was saved
        </button>
      </div>
    )
  }
  if (saving?.kind === 'away') {
    return (
      <div role="alert" className="bg-ochre-tint border-b border-line px-4 py-2">
        <b className="font-semibold">{saving.what}</b> Your work is kept in this browser and is saved as soon as it answers. If it
        was stopped, type <code className="number">npm start</code>.
      </div>
    )
  }
  return <div />
}
