import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { allActions } from './actions'
import { showOverlay, useOverlay } from './overlays'
import { phrases } from './phrases'
import type { PhraseEntry } from './phrases'

const slotKeys: [string, string][] = [
  ['Enter', 'opens a slot, takes a value'],
  ['Esc', 'leaves a picker; puts back what a drag began with'],
  ['Arrows', 'move what has the focus: a rung, the cursor (Shift: ten times)'],
  ['Tab', 'goes to the next slot'],
]

/** The job in its order: what to do at each station, and where. */
const job: readonly (readonly [string, string])[] = [
  ['Yard', 'Start a machine from a starter, a robot description or equations, or open one that is there.'],
  ['Machine', 'Give its bodies, joints and drives their numbers. Read the model checks, what holds it still, and its modes.'],
  [
    'Loops',
    'Let a loop hold something, inner ones first. Say how fast and how calm, or what it shall keep; then look at all loops together.',
  ],
  ['Trials', 'Ask the whole machine for something, or push it yourself. Compare run and prediction, and read what limited it.'],
]

/** The job in its order, the keys that work here, and the phrase book. */
export function Help() {
  const open = useOverlay((state) => state.open === 'help')
  const [search, setSearch] = useState('')
  const keyed = open ? allActions(() => undefined).filter(({ keys }) => keys !== undefined) : []
  const words = Object.values<PhraseEntry>(phrases)
    .filter(({ word, means }) => `${word} ${means}`.toLowerCase().includes(search.toLowerCase()))
    .sort((a, b) => a.word.localeCompare(b.word))
  return (
    <Dialog.Root open={open} onOpenChange={(next) => showOverlay(next ? 'help' : undefined)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <Dialog.Content
          className="popover fixed z-50 left-1/2 top-16 w-[640px] max-h-[calc(100vh-100px)] overflow-auto -translate-x-1/2 p-5"
          aria-describedby={undefined}
        >
          <Dialog.Title className="text-[17px] font-semibold pb-2">Help</Dialog.Title>
          <h3 className="pb-1">The job, in its order</h3>
          <ol className="grid gap-1 pb-3">
            {job.map(([place, does], i) => (
              <li key={place} className="grid grid-cols-[110px_1fr]">
                <b className="font-semibold">
                  {i + 1}. {place}
                </b>
                <span>{does}</span>
              </li>
            ))}
          </ol>
          <p className="note pb-3">
            Click any underlined word to set it. Every edit can be undone; the state at the top says where the work is kept.
          </p>
          <h3 className="pb-1">Keys</h3>
          <dl className="grid grid-cols-[110px_1fr] gap-y-1.5 pb-3">
            {[...keyed.map(({ keys, name }): [string, string] => [keys!, name]), ...slotKeys].map(([keys, meaning]) => (
              <div key={keys + meaning} className="contents">
                <dt>
                  <span className="key">{keys}</span>
                </dt>
                <dd>{meaning}</dd>
              </div>
            ))}
          </dl>
          <div className="flex items-center gap-3 pb-1">
            <h3 className="grow">Phrase book</h3>
            <input
              className="h-8 w-48 px-2 border border-line-2 rounded-md bg-transparent text-[12.5px]"
              placeholder="Find a word"
              aria-label="Find a word"
              value={search}
              onChange={(event) => setSearch(event.target.value)}
            />
          </div>
          <dl className="grid grid-cols-[140px_1fr] gap-y-1.5">
            {words.map(({ word, means }) => (
              <div key={word} className="contents">
                <dt className="font-semibold">{word}</dt>
                <dd>{means}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="button mt-4">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
