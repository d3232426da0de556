import { useState } from 'react'

interface NameOfProps {
  readonly label: string
  readonly name: string | null
  readonly onName: (name: string | null) => void
  /** What stands where there is none. */
  readonly empty?: string
}

/** The name that a person gives to something that is kept; without one it may go by its rule. */
export function NameOf({ label, name, onName, empty = 'name it' }: NameOfProps) {
  const [text, setText] = useState<string>()
  if (text === undefined)
    return (
      <button className="slot" aria-label={`${label}: ${name ?? 'no name'}`} onClick={() => setText(name ?? '')}>
        {name ?? empty}
      </button>
    )
  const take = () => {
    setText(undefined)
    if (text.trim() !== (name ?? '')) onName(text.trim() === '' ? null : text.trim())
  }
  return (
    <input
      autoFocus
      maxLength={100}
      className="w-[150px] h-7 bg-transparent border-b border-line-2 outline-none focus:border-kelp"
      aria-label={label}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take()
        if (event.key === 'Escape') {
          event.stopPropagation()
          setText(undefined)
        }
      }}
    />
  )
}
