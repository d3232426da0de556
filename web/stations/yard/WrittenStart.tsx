import type { Writing } from './newMachine'

interface WrittenStartProps {
  readonly writings: readonly Writing[]
  readonly written: { readonly writing: Writing; readonly text: string } | undefined
  readonly onWrite: (writing: Writing, text: string) => void
}

/** A machine that is written down: which way, then the text, which begins with an example. Files can be read into it. */
export function WrittenStart({ writings, written, onWrite }: WrittenStartProps) {
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
          <textarea
            rows={9}
            wrap="off"
            spellCheck={false}
            className="number w-full text-[12.5px] leading-5 bg-transparent border border-line-2 rounded-md p-2 outline-none focus:border-kelp"
            aria-label={written.writing.label}
            value={written.text}
            onChange={(event) => onWrite(written.writing, event.target.value)}
          />
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
