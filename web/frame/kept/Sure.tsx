import { useState } from 'react'

interface SureProps {
  readonly label: string
  /** What cannot be taken back, before it is done. */
  readonly what: string
  readonly onDo: () => void
}

/** A button for what cannot be undone: pressed once it says what would be lost, pressed again it does it. */
export function Sure({ label, what, onDo }: SureProps) {
  const [asked, setAsked] = useState(false)
  if (!asked)
    return (
      <button className="button small" onClick={() => setAsked(true)}>
        {label}
      </button>
    )
  return (
    <span className="inline-flex items-center gap-2" role="alert">
      <span className="text-coral-text">{what}</span>
      <button
        autoFocus
        className="button small"
        onClick={() => {
          setAsked(false)
          onDo()
        }}
      >
        {label}
      </button>
      <button className="button small" onClick={() => setAsked(false)}>
        Keep it
      </button>
    </span>
  )
}
