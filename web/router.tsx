import { createBrowserRouter, isRouteErrorResponse, useRouteError } from 'react-router'
import { Frame } from './frame/Frame'
import { Yard } from './stations/yard/Yard'

/** Stations come with their own code: the Yard is usable before charts and 3D are loaded. */
export const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <Broken />,
    children: [
      { path: '/', element: <Yard /> },
      {
        path: '/:project',
        lazy: async () => ({ Component: (await import('./stations/Station')).Station }),
        children: [
          {
            path: 'machine',
            lazy: async () => ({ Component: (await import('./stations/machine/MachineStation')).MachineStation }),
          },
          {
            path: 'loops/:loop?',
            lazy: async () => ({ Component: (await import('./stations/loops/LoopsStation')).LoopsStation }),
          },
          {
            path: 'trials/:trial?',
            lazy: async () => ({ Component: (await import('./stations/trials/TrialsStation')).TrialsStation }),
          },
        ],
      },
    ],
    hydrateFallbackElement: <p className="p-6 text-mist">Opening ...</p>,
  },
])

function Broken() {
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
