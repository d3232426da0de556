import { isRouteErrorResponse, useRouteError } from 'react-router'

/** Shown where a page cannot be. */
export function Broken() {
  const error = useRouteError()
  const what =
    isRouteErrorResponse(error) && error.status === 404
      ? 'There is nothing at this address.'
      : `This page made a mistake: ${(error as Error).message ?? 'unknown'}`
  return (
    <main className="p-8 max-w-xl">
      <h1>{what}</h1>
      <p className="py-3">What you made is kept. Go back to the Yard, or reload the page.</p>
      <a className="button main" href="/">
        To the Yard
      </a>
    </main>
  )
}
