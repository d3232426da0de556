import type { ReactNode } from 'react'
import { DropdownMenu } from 'radix-ui'
import { Check } from 'lucide-react'

interface SlotMenuProps {
  readonly label: string
  /** What the slot says now. */
  readonly words: string
  readonly invalid: boolean
  /** Document path, where it has one. */
  readonly path?: string
  readonly children: ReactNode
}

/** A slot of a sentence that opens a menu. */
export function SlotMenu({ label, words, invalid, path, children }: SlotMenuProps) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <button className="slot" data-path={path} data-invalid={invalid} aria-label={`${label}: ${words}`} title={label}>
          {words}
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="popover p-1 min-w-[180px] max-h-[360px] overflow-auto"
          sideOffset={6}
          collisionPadding={8}
        >
          <DropdownMenu.Label className="note px-2 py-1">{label}</DropdownMenu.Label>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

/** Stands before an item, and shows where it is chosen. */
export function Chosen() {
  return (
    <span className="w-4">
      <DropdownMenu.ItemIndicator>
        <Check size={14} />
      </DropdownMenu.ItemIndicator>
    </span>
  )
}
