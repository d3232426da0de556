import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { machineKinds, takenFrom } from '@calm-hand/core/machine'
import { chooseMachine } from '../../state/chosenMachine'
import { rename } from '../../state/labels'
import { edit, useOpen } from '../../state/project'
import { plainMachine } from '../yard/newMachine'
import { NameInput } from './NameField'
import { ShelfPicker } from './ShelfPicker'
import { addMachine, removeMachine } from './machineEdits'
import type { Added } from './partEdits'

/** The machines of the project: what this one is called, and others beside it. */
export function MachineList({ name }: { readonly name: string }) {
  const id = useOpen((project) => project.id)
  const document = useOpen((project) => project.document)
  const [renaming, setRenaming] = useState(false)
  const part = document.machines[name]!
  const label = labelOf(part, name)
  const others = Object.keys(document.machines).filter((one) => one !== name)
  const take = ({ name: added, change }: Added) => {
    edit(change)
    chooseMachine(id, added)
  }
  const counts = (['loops', 'trials'] as const).map((group) => {
    const count = Object.values(document[group]).filter(({ machine }) => machine === name).length
    return `${count} ${count === 1 ? group.slice(0, -1) : group}`
  })
  return (
    <section className="section text-[12.5px]" aria-label="Machines of this project">
      <div className="flex items-center gap-2">
        <h3 className="grow">{others.length === 0 ? 'This machine' : `One of ${others.length + 1} machines`}</h3>
        <ShelfPicker
          group="machines"
          title="Machines"
          kinds={machineKinds}
          onTake={(item) => take(addMachine(document, takenFrom(item, machineKinds, {}), item.name))}
        />
        <button
          className="button small"
          title="One body on a hinge, to be changed"
          onClick={() => take(addMachine(document, Object.values(plainMachine().machines)[0] as Part, 'machine'))}
        >
          <Plus size={13} /> Machine
        </button>
      </div>
      {renaming ? (
        <NameInput
          label={label}
          onTake={(words) => chooseMachine(id, rename(document, `machines.${name}`, words))}
          onDone={() => setRenaming(false)}
        />
      ) : (
        <p className="flex items-center gap-2 min-h-[24px]">
          <button
            className="underline decoration-dotted"
            aria-label={`name of this machine: ${label}`}
            onClick={() => setRenaming(true)}
          >
            {label}
          </button>
          <span className="note grow">{counts.join(', ')}</span>
          {others.length > 0 && (
            <button
              className="size-6 grid place-items-center text-mist"
              aria-label={`Remove ${label} with its loops and trials`}
              title="Remove it with its loops and trials"
              onClick={() => {
                edit(removeMachine(name))
                chooseMachine(id, others[0]!)
              }}
            >
              <Trash2 size={14} />
            </button>
          )}
        </p>
      )}
    </section>
  )
}
