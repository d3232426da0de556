import { create } from 'zustand'
import { fetchAccess } from './server'
import type { Access } from './server'

/** Who is here: nothing until the server said so, or while it does not answer. */
export const useAccess = create<{ readonly access: Access | undefined }>(() => ({ access: undefined }))

export async function askAccess(): Promise<void> {
  const access = await fetchAccess().catch(() => undefined)
  if (access !== undefined) useAccess.setState({ access })
}

/** The passphrase again: what is not saved is kept in the browser meanwhile. */
export function signOutOfPage(): void {
  useAccess.setState({ access: { guarded: true, level: null } })
}
