import { create } from 'zustand'

export type Overlay = 'search' | 'help' | 'kept'

/** What lies over the screen, at most one at a time. */
export const useOverlay = create<{ open: Overlay | undefined }>(() => ({ open: undefined }))

export function showOverlay(open: Overlay | undefined): void {
  useOverlay.setState({ open })
}
