import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { signOutOfPage, useAccess } from '../../state/access'
import { downloadDocument } from '../../state/download'
import { useProject } from '../../state/project'
import { change } from '../../state/server'
import { showOverlay } from '../overlays'
import { Sure } from './Sure'
import { putIntoBin } from './putIntoBin'

/** The project as a whole: as a file, or into the bin; and who is signed in. */
export function ProjectTab({ id }: { readonly id: string }) {
  const navigate = useNavigate()
  const access = useAccess((state) => state.access)
  const bin = async () => {
    if (!(await putIntoBin(id, 'The project', () => void navigate(`/${id}/machine`)))) return
    showOverlay(undefined)
    await navigate('/')
  }
  const leave = async (path: string) => {
    const problem = await change('DELETE', path)
    if (problem === undefined) signOutOfPage()
    else toast.error(`${problem.what} ${problem.remedy}`)
  }
  return (
    <div className="grid gap-3">
      <div className="flex items-center gap-3">
        <span className="grow">The document as one file, to keep elsewhere or to start from again.</span>
        <button className="button small" onClick={() => downloadDocument(useProject.getState().project!.document)}>
          Save it as a file
        </button>
      </div>
      <div className="flex items-center gap-3 border-t border-line pt-3">
        <span className="grow">Out of the Yard, with its history and runs. It can be taken back from the bin for 30 days.</span>
        <button className="button small" onClick={() => void bin()}>
          Put it into the bin
        </button>
      </div>
      {access?.guarded === true && (
        <div className="flex items-center gap-3 border-t border-line pt-3">
          <span className="grow">{access.level === 'read' ? 'Signed in for reading only.' : 'Signed in with full access.'}</span>
          <button className="button small" onClick={() => void leave('session')}>
            Sign out
          </button>
          {access.level === 'full' && (
            <Sure label="Sign out everywhere" what="Everybody must sign in again." onDo={() => void leave('session/all')} />
          )}
        </div>
      )}
    </div>
  )
}
