import { autocompletion, closeCompletion, completionStatus } from '@codemirror/autocomplete'
import { linter } from '@codemirror/lint'
import CodeMirror, { EditorView } from '@uiw/react-codemirror'
import { useEffect, useMemo, useRef } from 'react'
import type { Problem } from '@calm-hand/core/document'
import { markOf, namesIn } from './marks'

interface TextEditorProps {
  readonly label: string
  readonly value: string
  /** Where a place is a line (`line 3`) or the heading of a block, it is marked there; else the whole text is. */
  readonly problems: readonly Problem[]
  readonly onChange: (text: string) => void
}

/** Many lines in a notation of their own: what is wrong is marked where it stands, names that occur are offered. */
export function TextEditor({ label, value, problems, onChange }: TextEditorProps) {
  const extensions = useMemo(
    () => [
      EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
      autocompletion({ override: [namesIn] }),
      linter(({ state }) => problems.map((problem) => markOf(state.doc, problem)), { delay: 0 }),
      look,
    ],
    [label, problems],
  )
  const view = useRef<EditorView>(null)
  useEffect(() => {
    // the first Escape leaves the names that are offered: a dialog around it would take it and close with all that was written
    const leave = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || view.current === null || completionStatus(view.current.state) === null) return
      event.stopPropagation()
      closeCompletion(view.current)
    }
    window.addEventListener('keydown', leave, true)
    return () => window.removeEventListener('keydown', leave, true)
  }, [])
  return (
    <CodeMirror
      onCreateEditor={(created) => {
        view.current = created
      }}
      value={value}
      onChange={onChange}
      extensions={extensions}
      theme="none"
      height="200px"
      // Tab goes on to the next field, as everywhere
      indentWithTab={false}
      basicSetup={{ foldGutter: false, highlightActiveLine: false, highlightActiveLineGutter: false, autocompletion: false }}
    />
  )
}

const look = EditorView.theme({
  '&': { fontSize: '12.5px', border: '1px solid var(--line-2)', borderRadius: '6px', backgroundColor: 'transparent' },
  '&.cm-focused': { outline: 'none', borderColor: 'var(--kelp)' },
  '.cm-scroller': { fontFamily: 'var(--mono)', lineHeight: '20px' },
  '.cm-content': { caretColor: 'var(--ink)', color: 'var(--ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'transparent', color: 'var(--mist)', border: 'none' },
  '.cm-tooltip': { backgroundColor: 'var(--chalk)', color: 'var(--ink)', border: '1px solid var(--line-2)', borderRadius: '6px' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--kelp-tint)', color: 'var(--ink)' },
  '.cm-diagnostic-error': { borderLeftColor: 'var(--coral)' },
  '.cm-lintRange-error': { backgroundImage: 'none', borderBottom: '2px solid var(--coral)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { backgroundColor: 'var(--kelp-tint)' },
})
