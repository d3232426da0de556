import { isRouteErrorResponse, useLocation, useNavigate, useRouteError } from 'react-router'
import { ProjectKept } from './ProjectKept'
import { WaysBack } from './WaysBack'

/** Shown where a page cannot be. */
export function Broken() {
  const error = useRouteError()
  const { pathname } = useLocation()
  const navigate = useNavigate()
  const isUnknown = isRouteErrorResponse(error) && error.status === 404
  const what = isUnknown
    ? 'There is nothing at this address.'
    : `This page made a mistake: ${(error as Error).message ?? 'unknown'}`
  return (
    <main className="p-8 max-w-xl">
      <h1>{what}</h1>
      <p className="py-3">What you made is kept. Go back to the Yard, or reload the page.</p>
      <a className="button main" href="/">
        To the Yard
      </a>
      {!isUnknown && <WaysBack onAgain={() => void navigate(pathname, { replace: true })} />}
      <ProjectKept />
    </main>
  )
}
