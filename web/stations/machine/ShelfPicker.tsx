import { Library } from 'lucide-react'
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { findKind } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { shelfItems } from '@calm-hand/core/machine'
import type { ShelfItem } from '@calm-hand/core/machine'
import { useOpen } from '../../state/project'
import { useShelf } from '../../state/kept'

interface ShelfPickerProps {
  /** What is looked for: `drives`, `bodies`. */
  readonly group: string
  readonly title: string
  readonly kinds: readonly (AnyKind & { readonly label?: string })[]
  readonly onTake: (item: ShelfItem) => void
}

/** The shelf: parts of the other machines of the yard, to take a copy of. */
export function ShelfPicker({ group, title, kinds, onTake }: ShelfPickerProps) {
  const [open, setOpen] = useState(false)
  const [search, setSearch] = useState('')
  const own = useOpen((project) => project.id)
  const { data: projects, error } = useShelf(open)
  const items = (projects ?? [])
    .filter(({ id }) => id !== own)
    .flatMap(({ id, document }) => shelfItems(id, document, group))
    .filter(({ name, title: from, part }) =>
      `${name} ${from} ${labelOf(kinds, part.kind)}`.toLowerCase().includes(search.toLowerCase()),
    )
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <button className="flex items-center gap-1 text-[12px] text-kelp font-semibold" aria-label={`${title} from the shelf`}>
          <Library size={13} /> Shelf
        </button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <Dialog.Content
          className="popover fixed z-50 left-1/2 top-20 w-[520px] max-h-[calc(100vh-120px)] -translate-x-1/2 p-4 flex flex-col"
          aria-describedby={undefined}
        >
          <Dialog.Title className="pb-2">{title} of other machines</Dialog.Title>
          <input
            autoFocus
            className="h-9 shrink-0 px-2 mb-2 border border-line-2 rounded-md bg-transparent"
            placeholder="Find"
            aria-label="Find on the shelf"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
          {error !== null && (
            <p role="alert" className="text-coral-text">
              {error.message}
            </p>
          )}
          {projects === undefined && error === null && <p className="note">Looking ...</p>}
          {projects !== undefined && items.length === 0 && <p className="note">No other machine of the yard has one.</p>}
          <ul className="overflow-auto" aria-label="Shelf">
            {items.map((item) => (
              <li key={`${item.project} ${item.path}`}>
                <button
                  className="w-full text-left px-2 py-1.5 rounded hover:bg-kelp-tint focus-visible:bg-kelp-tint"
                  onClick={() => {
                    onTake(item)
                    setOpen(false)
                  }}
                >
                  <b className="font-semibold">{item.name}</b> <span className="note">of {item.title}</span>
                  <span className="note block">{labelOf(kinds, item.part.kind)}</span>
                </button>
              </li>
            ))}
          </ul>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

function labelOf(kinds: ShelfPickerProps['kinds'], name: string): string {
  const kind = findKind(kinds, { kind: name })
  return kind?.label ?? ''
}
