import { useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { rename } from '../../state/labels'
import { useOpen } from '../../state/project'

interface NameFieldProps {
  /** Document path of the part. */
  readonly path: string
  readonly part: Part
  /** The part has another identifier now. */
  readonly onRenamed: (name: string) => void
}

/** What a part is called, in any letters: taken with Enter or on leaving, and followed by all that names it. */
export function NameField({ path, part, onRenamed }: NameFieldProps) {
  const document = useOpen((project) => project.document)
  const name = path.split('.').at(-1)!
  const label = labelOf(part, name)
  return <NameInput key={`${path} ${label}`} label={label} onTake={(words) => onRenamed(rename(document, path, words))} />
}

interface NameInputProps {
  /** As a heading, without the word before it. */
  readonly bare?: boolean
  readonly label: string
  readonly onTake: (words: string) => void
  /** It was taken or left. */
  readonly onDone?: () => void
}

/** A field for a name: Enter takes it, Escape puts it back. */
export function NameInput({ label, onTake, onDone, bare = false }: NameInputProps) {
  const [text, setText] = useState(label)
  const take = () => {
    if (text.trim() === '') setText(label)
    else if (text.trim() !== label) onTake(text.trim())
    onDone?.()
  }
  return (
    <label className={bare ? 'block' : 'flex items-baseline justify-between gap-2 min-h-[24px] text-[12.5px]'}>
      {!bare && <span>name</span>}
      <input
        aria-label={bare ? 'name' : undefined}
        className={`bg-transparent border-b outline-none focus:border-kelp ${bare ? 'w-full text-[17px] font-semibold border-line-2' : 'w-[180px] text-right border-line-2'}`}
        autoFocus={bare}
        maxLength={60}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take()
          if (event.key !== 'Escape') return
          setText(label)
          onDone?.()
        }}
      />
    </label>
  )
}
