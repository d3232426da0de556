import { partsIn } from '@calm-hand/core/document'
import { Plus } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { signalsOf, watched } from '@calm-hand/core/simulation'
import type { RunSignal } from '@calm-hand/core/simulation'
import { addPart } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { shownUnit, signalUnit } from '../../../units'
import { freeName } from '../../machine/partEdits'
import type { TrialView } from '../useTrialView'

const mostListed = 40

/** Finds any signal of the run by its words, name or unit, and watches it. */
export function Watch({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const [open, setOpen] = useState(false)
  const [search, setSearch] = useState('')
  const already = new Set(view.watched.map(({ name }) => name))
  const words = search.toLowerCase().split(/\s+/)
  const found = open
    ? signalsOf(document, view.trial, view.record).filter(
        (signal) => !already.has(signal.name) && words.every((word) => textOf(signal).includes(word)),
      )
    : []
  const take = ({ name, label }: RunSignal) => {
    const path = `trials.${view.trial}.watch`
    const keys = Object.keys(partsIn(document.trials[view.trial]!.watch))
    edit(addPart(`${path}.${freeName(keys, 'signal')}`, { kind: watched.name, signal: name }, `Watch ${label}`))
    setOpen(false)
    setSearch('')
  }
  return (
    <div className="shrink-0 py-1">
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <button className="button small">
            <Plus size={13} /> Watch a signal
          </button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            className="popover z-40 w-[420px] p-2 flex flex-col max-h-[380px]"
            align="start"
            side="top"
            sideOffset={4}
          >
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
    </div>
  )
}

function textOf(signal: RunSignal): string {
  const { label, name, unit } = signal
  return `${label} ${name} ${shownUnit(signalUnit(signal))} ${unit}`.toLowerCase()
}
