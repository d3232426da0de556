import { useEffect } from 'react'
import { Outlet, useParams } from 'react-router'
import { openProject, useProject } from '../state/project'
import { openRuns } from '../state/runs'
import { answersNow } from '../state/server'

/** Between two looks whether a server that was away is back, ms. */
const againMs = 3_000

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
    void openRuns(openId, project!.valid)
  }, [openId])

  useEffect(() => {
    if (failure?.passes !== true || id === undefined) return
    const timer = window.setInterval(() => void openOnceAnswered(id), againMs)
    return () => window.clearInterval(timer)
  }, [failure, id])

  if (failure !== undefined) {
    return (
      <main className="p-8 max-w-xl">
        <h1>This project cannot be opened{failure.passes ? ' yet' : ''}</h1>
        <p className="py-3">{withCode(failure.what)}</p>
        {failure.passes && <p className="pb-3 text-mist">It opens by itself once there is an answer.</p>}
        <a className="button main" href="/">
          To the Yard
        </a>
      </main>
    )
  }
  if (openId !== id) return <p className="p-6 text-mist">Opening ...</p>
  return <Outlet />
}

async function openOnceAnswered(id: string): Promise<void> {
  if (await answersNow()) await openProject(id)
}

/** Words with what is typed in a terminal, which stands between backticks, in the letters of one. */
function withCode(words: string): React.ReactNode[] {
  return words.split('`').map((piece, i) =>
    i % 2 === 0 ? (
      piece
    ) : (
      <code key={i} className="number">
        {piece}
      </code>
    ),
  )
}
