import { Popover } from 'radix-ui'
import { useState } from 'react'
import { signalsOf } from '@calm-hand/core/simulation'
import type { RunSignal } from '@calm-hand/core/simulation'
import { useOpen } from '../../state/project'
import { shownUnit, signalUnit } from '../../units'
import type { TrialView } from './useTrialView'

const mostListed = 40

interface FindSignalProps {
  readonly view: Pick<TrialView, 'trial' | 'record'>
  /** The button that opens the search. */
  readonly children: React.ReactNode
  readonly without?: ReadonlySet<string>
  readonly onTake: (signal: RunSignal) => void
}

/** Finds any signal of the run by its words, name or unit. */
export function FindSignal({ view, children, without, onTake }: FindSignalProps) {
  const document = useOpen((project) => project.valid)
  const [open, setOpen] = useState(false)
  const [search, setSearch] = useState('')
  const words = search.toLowerCase().split(/\s+/)
  const found = open
    ? signalsOf(document, view.trial, view.record).filter(
        (signal) => without?.has(signal.name) !== true && words.every((word) => textOf(signal).includes(word)),
      )
    : []
  const take = (signal: RunSignal) => {
    onTake(signal)
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
            placeholder="Find a signal: error, rate, N·m"
            aria-label="Find a signal"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && found[0] !== undefined) take(found[0])
            }}
          />
          <ul className="overflow-auto" aria-label="Signals">
            {found.slice(0, mostListed).map((signal) => (
              <li key={signal.name}>
                <button
                  className="w-full text-left px-2 py-1 rounded hover:bg-kelp-tint focus-visible:bg-kelp-tint flex gap-2 items-baseline"
                  onClick={() => take(signal)}
                >
                  <span className="grow">{signal.label}</span>
                  <span className="note">{shownUnit(signalUnit(signal))}</span>
                  <span className="note truncate max-w-[170px]">{signal.name}</span>
                </button>
              </li>
            ))}
          </ul>
          {found.length === 0 && <p className="note px-2">No signal of that name. A run shows all that there are.</p>}
          {found.length > mostListed && <p className="note px-2">And {found.length - mostListed} more: type to find them.</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function textOf(signal: RunSignal): string {
  const { label, name, unit } = signal
  return `${label} ${name} ${shownUnit(signalUnit(signal))} ${unit}`.toLowerCase()
}
