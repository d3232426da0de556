import { autocompletion } from '@codemirror/autocomplete'
import { linter } from '@codemirror/lint'
import { EditorState, Prec } from '@codemirror/state'
import CodeMirror, { EditorView, keymap } from '@uiw/react-codemirror'
import { useMemo } from 'react'
import { lineLook } from './look'
import { columnMark, namesAmong } from './marks'
import { useLeavingNames } from './useLeavingNames'

export interface FormulaEditorProps {
  readonly label: string
  readonly value: string
  /** Names that the formula may use. */
  readonly names: readonly string[]
  /** What is wrong with it; where it names a column it is marked there. */
  readonly problem: string | undefined
  readonly onChange: (text: string) => void
  readonly onTake: () => void
}

/** A formula on one line: what is wrong is marked where it stands, names are offered; Enter takes it. */
export function FormulaEditor({ label, value, names, problem, onChange, onTake }: FormulaEditorProps) {
  const extensions = useMemo(
    () => [
      EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
      EditorState.transactionFilter.of((transaction) => (transaction.newDoc.lines > 1 ? [] : transaction)),
      autocompletion({ override: [namesAmong(names)] }),
      Prec.high(keymap.of([{ key: 'Enter', run: () => (onTake(), true) }])),
      linter(({ state }) => (problem === undefined ? [] : [columnMark(state.doc, problem)]), { delay: 0 }),
      lineLook,
    ],
    [label, names, problem, onTake],
  )
  return (
    <CodeMirror
      autoFocus
      onCreateEditor={useLeavingNames()}
      value={value}
      onChange={onChange}
      extensions={extensions}
      theme="none"
      indentWithTab={false}
      basicSetup={{
        ...{ lineNumbers: false, foldGutter: false, highlightActiveLine: false, highlightActiveLineGutter: false },
        autocompletion: false,
      }}
    />
  )
}
