import { Suspense, lazy, useEffect } from 'react'
import { Outlet, useLocation } from 'react-router'
import { Toaster } from 'sonner'
import { CommandSearch } from './CommandSearch'
import { Header } from './Header'
import { Help } from './Help'
import { Notices } from './Notices'
import { useKeyboard } from './keyboard'
import { ProjectKept } from './ProjectKept'
import { usePageTitle } from './usePageTitle'
import { askAccess, useAccess } from '../state/access'

const SignIn = lazy(async () => ({ default: (await import('./SignIn')).SignIn }))

/** Header, notices and the station; the same on every screen. */
export function Frame() {
  useKeyboard()
  usePageTitle()
  const { pathname, search } = useLocation()
  const access = useAccess((state) => state.access)
  useEffect(() => void askAccess(), [])
  if (access?.level === null)
    return (
      <Suspense>
        <SignIn />
      </Suspense>
    )
  return (
    <div className="h-full grid grid-rows-[56px_auto_1fr]">
      <Header />
      <Notices />
      <div className="min-h-0" data-address={pathname + search}>
        <Outlet />
      </div>
      <CommandSearch />
      <Help />
      <ProjectKept />
      <Toaster
        position="bottom-center"
        toastOptions={{
          style: { background: 'var(--chalk)', color: 'var(--ink)', borderColor: 'var(--line-2)', fontFamily: 'var(--sans)' },
        }}
      />
    </div>
  )
}
