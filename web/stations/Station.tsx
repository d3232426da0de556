import { useEffect } from 'react'
import { Outlet, useParams } from 'react-router'
import { openProject, useProject } from '../state/project'
import { openRuns } from '../state/runs'

/** Opens the project that the address names; stations below it can rely on it being open. */
export function Station() {
  const { project: id } = useParams()
  const openId = useProject((state) => state.project?.id)
  const failure = useProject((state) => state.failure)

  useEffect(() => {
    if (id !== undefined) void openProject(id)
  }, [id])
  useEffect(() => {
    if (openId === undefined) return
    const { project } = useProject.getState()
    void openRuns(
      openId,
      Object.values(project!.document.tray).map((pin) => pin.run),
    )
  }, [openId])

  if (failure !== undefined) {
    return (
      <main className="p-8 max-w-xl">
        <h1>This project cannot be opened</h1>
        <p className="py-3">{failure}</p>
        <a className="button main" href="/">
          To the Yard
        </a>
      </main>
    )
  }
  if (openId !== id) return <p className="p-6 text-mist">Opening ...</p>
  return <Outlet />
}
