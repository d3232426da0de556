import { create } from 'zustand'

/** What lies over the screen, at most one at a time. */
export const useOverlay = create<{ open: 'search' | 'help' | undefined }>(() => ({ open: undefined }))

export function showOverlay(open: 'search' | 'help' | undefined): void {
  useOverlay.setState({ open })
}
