import { Dialog } from 'radix-ui'
import { allActions } from './actions'
import { showOverlay, useOverlay } from './overlays'

const slotKeys: [string, string][] = [
  ['Enter', 'opens a slot, takes a value'],
  ['Esc', 'leaves a picker; puts back what a drag began with'],
  ['Arrows', 'move what has the focus: a rung, the cursor (Shift: ten times)'],
  ['Tab', 'goes to the next slot'],
]

/** The keys that work here, and the words that are ours. */
export function Help() {
  const open = useOverlay((state) => state.open === 'help')
  const keyed = open ? allActions(() => undefined).filter(({ keys }) => keys !== undefined) : []
  return (
    <Dialog.Root open={open} onOpenChange={(next) => showOverlay(next ? 'help' : undefined)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <Dialog.Content
          className="popover fixed z-50 left-1/2 top-20 w-[560px] -translate-x-1/2 p-5"
          aria-describedby={undefined}
        >
          <Dialog.Title className="text-[17px] font-semibold pb-3">Keys</Dialog.Title>
          <dl className="grid grid-cols-[110px_1fr] gap-y-1.5">
            {[...keyed.map(({ keys, name }): [string, string] => [keys!, name]), ...slotKeys].map(([keys, meaning]) => (
              <div key={keys + meaning} className="contents">
                <dt>
                  <span className="key">{keys}</span>
                </dt>
                <dd>{meaning}</dd>
              </div>
            ))}
          </dl>
          <p className="note pt-4">
            A <b>station</b> is one of the main views. A <b>cue</b> is anything that happens in a trial. A <b>realism layer</b> is
            one effect that can be switched off as a whole. The <b>tray</b> holds pinned runs. A <b>bargain</b> is what a change
            bought and what it cost. Click any underlined word to set it.
          </p>
          <Dialog.Close className="button mt-4">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
