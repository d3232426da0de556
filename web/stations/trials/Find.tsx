import { Popover } from 'radix-ui'
import { useState } from 'react'

const mostListed = 40

/** Something that can be found by its words, name or unit. */
export interface Found {
  readonly name: string
  readonly label: string
  /** As it is shown. */
  readonly unit: string
  /** Words that find it too: what it is in the run. */
  readonly role?: string
}

interface FindProps {
  /** What is looked for: "signal". */
  readonly sort: string
  readonly example: string
  /** What there is to find; asked for while it is open. */
  readonly all: () => readonly Found[]
  /** What is said where nothing is found. */
  readonly none: string
  /** The button that opens the search. */
  readonly children: React.ReactNode
  readonly onTake: (name: string) => void
}

/** Finds one of many by its words, name or unit. */
export function Find({ sort, example, all, none, children, onTake }: FindProps) {
  const [open, setOpen] = useState(false)
  const [search, setSearch] = useState('')
  const words = search.toLowerCase().split(/\s+/)
  const found = open ? all().filter((one) => words.every((word) => textOf(one).includes(word))) : []
  const take = ({ name }: Found) => {
    onTake(name)
    setOpen(false)
    setSearch('')
  }
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>{children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="popover z-40 w-[420px] p-2 flex flex-col max-h-[380px]" align="start" sideOffset={4}>
          <input
            autoFocus
            className="h-9 shrink-0 px-2 mb-1 border border-line-2 rounded-md bg-transparent"
            placeholder={`Find a ${sort}: ${example}`}
            aria-label={`Find a ${sort}`}
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && found[0] !== undefined) take(found[0])
            }}
          />
          <ul className="overflow-auto" aria-label={`${sort.charAt(0).toUpperCase()}${sort.slice(1)}s`}>
            {found.slice(0, mostListed).map((one) => (
              <li key={one.name}>
                <button
                  className="w-full text-left px-2 py-1 rounded hover:bg-kelp-tint focus-visible:bg-kelp-tint flex gap-2 items-baseline"
                  onClick={() => take(one)}
                >
                  <span className="grow">{one.label}</span>
                  <span className="note">{one.unit}</span>
                  <span className="note truncate max-w-[170px]">{one.name}</span>
                </button>
              </li>
            ))}
          </ul>
          {found.length === 0 && <p className="note px-2">{none}</p>}
          {found.length > mostListed && <p className="note px-2">And {found.length - mostListed} more: type to find them.</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function textOf({ label, name, unit, role = '' }: Found): string {
  return `${label} ${name} ${unit} ${role}`.toLowerCase()
}
