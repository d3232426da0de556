import { useState } from 'react'

interface FoldedProps {
  readonly title: string
  readonly className?: string
  /** Whether it is unfolded when it is first seen. */
  readonly startsOpen?: boolean
  readonly children: React.ReactNode
}

/** What is seen once it is unfolded; until then nothing of it is made. */
export function Folded({ title, className = 'pt-1', startsOpen = false, children }: FoldedProps) {
  const [isOpen, setOpen] = useState(startsOpen)
  return (
    <details className={className} open={isOpen} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-semibold text-kelp">{title}</summary>
      {isOpen && children}
    </details>
  )
}
