import { createBrowserRouter } from 'react-router'
import { Broken } from './frame/Broken'
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
            path: 'report',
            lazy: async () => ({ Component: (await import('./stations/report/ReportPage')).ReportPage }),
          },
          {
            path: 'machine',
            lazy: async () => ({ Component: (await import('./stations/machine/MachineStation')).MachineStation }),
          },
          {
            path: 'loops/:loop?',
            lazy: async () => ({ Component: (await import('./stations/loops/LoopsStation')).LoopsStation }),
          },
          {
            path: 'trials/:trial?/:look?',
            lazy: async () => ({ Component: (await import('./stations/trials/TrialsStation')).TrialsStation }),
          },
        ],
      },
    ],
    hydrateFallbackElement: <p className="p-6 text-mist">Opening ...</p>,
  },
])
