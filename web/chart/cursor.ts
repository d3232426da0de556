import { create } from 'zustand'

/** What an axis is of: charts of the same share their cursor. */
export type CursorOf = 'time' | 'frequency'

/** Where the cursors stand, in s and rad/s; nothing where none is set. */
export const useCursors = create<Readonly<{ [Of in CursorOf]?: number }>>(() => ({}))

export function placeCursor(of: CursorOf, at: number | undefined): void {
  useCursors.setState({ [of]: at })
}
