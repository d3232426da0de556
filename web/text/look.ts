import { EditorView } from '@uiw/react-codemirror'

const common = {
  '.cm-content': { caretColor: 'var(--ink)', color: 'var(--ink)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-tooltip': { backgroundColor: 'var(--chalk)', color: 'var(--ink)', border: '1px solid var(--line-2)', borderRadius: '6px' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--kelp-tint)', color: 'var(--ink)' },
  '.cm-diagnostic-error': { borderLeftColor: 'var(--coral)' },
  '.cm-lintRange-error': { backgroundImage: 'none', borderBottom: '2px solid var(--coral)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': { backgroundColor: 'var(--kelp-tint)' },
}

/** Many lines in a box. */
export const look = EditorView.theme({
  ...common,
  '&': { fontSize: '12.5px', border: '1px solid var(--line-2)', borderRadius: '6px', backgroundColor: 'transparent' },
  '&.cm-focused': { outline: 'none', borderColor: 'var(--kelp)' },
  '.cm-scroller': { fontFamily: 'var(--mono)', lineHeight: '20px' },
  '.cm-gutters': { backgroundColor: 'transparent', color: 'var(--mist)', border: 'none' },
})

/** One line over a rule, as the fields of slots. */
export const lineLook = EditorView.theme({
  ...common,
  '&': { fontSize: '15px', borderBottom: '1px solid var(--line-2)', backgroundColor: 'transparent' },
  '&.cm-focused': { outline: 'none', borderBottomColor: 'var(--kelp)' },
  '.cm-scroller': { fontFamily: 'var(--mono)', lineHeight: '26px' },
  '.cm-line': { padding: '0' },
})
