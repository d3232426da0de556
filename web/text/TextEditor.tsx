import { autocompletion } from '@codemirror/autocomplete'
import { linter } from '@codemirror/lint'
import CodeMirror, { EditorView } from '@uiw/react-codemirror'
import { useMemo } from 'react'
import type { Problem } from '@calm-hand/core/document'
import { look } from './look'
import { markOf, namesTyped } from './marks'
import { useLeavingNames } from './useLeavingNames'

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
      autocompletion({ override: [namesTyped] }),
      linter(({ state }) => problems.map((problem) => markOf(state.doc, problem)), { delay: 0 }),
      look,
    ],
    [label, problems],
  )
  const view = useLeavingNames()
  return (
    <CodeMirror
      onCreateEditor={view}
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
