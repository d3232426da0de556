import { useState } from 'react'

interface FoldedProps {
  readonly title: string
  readonly className?: string
  readonly children: React.ReactNode
}

/** What is seen once it is unfolded; until then nothing of it is made. */
export function Folded({ title, className = 'pt-1', children }: FoldedProps) {
  const [isOpen, setOpen] = useState(false)
  return (
    <details className={className} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-semibold text-kelp">{title}</summary>
      {isOpen && children}
    </details>
  )
}
