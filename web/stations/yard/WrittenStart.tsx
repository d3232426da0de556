import { Suspense, lazy, useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import type { Writing } from './newMachine'

/** An editor is large: it comes when something is written. */
const TextEditor = lazy(async () => ({ default: (await import('../../text/TextEditor')).TextEditor }))

interface WrittenStartProps {
  readonly writings: readonly Writing[]
  readonly written: { readonly writing: Writing; readonly text: string } | undefined
  readonly onWrite: (writing: Writing, text: string) => void
}

/** A machine that is written down: which way, then the text, which begins with an example. Files can be read into it. */
export function WrittenStart({ writings, written, onWrite }: WrittenStartProps) {
  const made = useMemo(() => written?.writing.document(written.text), [written])
  return (
    <div className="pt-3">
      <span className="block text-[12.5px] pb-1">or write it down as</span>
      <div className="flex flex-wrap gap-2">
        {writings.map((writing) => (
          <button
            key={writing.label}
            className={`button ${written?.writing === writing ? 'chosen' : ''}`}
            aria-pressed={written?.writing === writing}
            onClick={() => onWrite(writing, written?.writing === writing ? written.text : writing.example)}
          >
            {writing.label}
          </button>
        ))}
      </div>
      {written !== undefined && (
        <div className="pt-2">
          <p className="note pb-1">{written.writing.help}</p>
          <Suspense fallback={<p className="note h-[200px]">Opening the editor ...</p>}>
            <TextEditor
              label={written.writing.label}
              value={written.text}
              problems={made?.kind === 'refused' ? made.problems : noProblems}
              onChange={(text) => onWrite(written.writing, text)}
            />
          </Suspense>
          <p className="note min-h-5">{summaryOf(made)}</p>
          <label className="text-[12.5px]">
            <span className="pr-2">or from a file</span>
            <input
              type="file"
              accept=".txt,.csv,.json"
              onChange={(event) => void event.target.files?.[0]?.text().then((text) => onWrite(written.writing, text))}
            />
          </label>
        </div>
      )}
    </div>
  )
}

const noProblems: readonly Problem[] = []

/** What the text makes, while it is typed, or what is wrong with it. */
function summaryOf(made: Outcome<Document> | undefined): string {
  if (made === undefined) return ''
  if (made.kind === 'refused') return `${made.problems[0]!.where}: ${made.problems[0]!.what}`.replace(/^: /, '')
  const machine = Object.values(made.value.machines)[0]!
  const names = (group: string) => Object.keys(partsIn(machine[group]))
  return ['bodies', 'states', 'inputs', 'outputs']
    .map((group) => (names(group).length === 0 ? '' : `${group}: ${names(group).join(', ')}`))
    .filter((words) => words !== '')
    .join('; ')
}
