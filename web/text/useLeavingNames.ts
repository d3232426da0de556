import { closeCompletion, completionStatus } from '@codemirror/autocomplete'
import type { EditorView } from '@uiw/react-codemirror'
import { useCallback, useEffect, useRef } from 'react'

/**
 * The first Escape leaves the names that are offered: a dialog or slot around the editor would take it, and close with all
 * that was written. Gives what the editor calls when it is made.
 */
export function useLeavingNames(): (created: EditorView) => void {
  const view = useRef<EditorView>(null)
  useEffect(() => {
    const leave = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || view.current === null || completionStatus(view.current.state) === null) return
      event.stopPropagation()
      closeCompletion(view.current)
    }
    window.addEventListener('keydown', leave, true)
    return () => window.removeEventListener('keydown', leave, true)
  }, [])
  return useCallback((created) => {
    view.current = created
  }, [])
}
