import { create } from 'zustand'

/** Document paths of parts that are marked to be edited together. */
const useMarked = create<{ readonly marked: readonly string[] }>(() => ({ marked: [] }))

export function useMarks(): readonly string[] {
  return useMarked((state) => state.marked)
}

export function toggleMark(path: string): void {
  useMarked.setState(({ marked }) => ({
    marked: marked.includes(path) ? marked.filter((one) => one !== path) : [...marked, path],
  }))
}

export function clearMarks(): void {
  useMarked.setState({ marked: [] })
}
