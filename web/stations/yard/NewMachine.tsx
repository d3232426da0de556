import { Plus } from 'lucide-react'
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import type { StoredProject } from '../../state/server'
import { TextField } from '../../form'
import { ProblemItem } from '../../frame/ProblemItem'
import { WrittenStart } from './WrittenStart'
import { droppedFiles, filesOf } from './fileStart'
import { writings } from './newMachine'
import { starts, useNewMachine } from './useNewMachine'
import type { NewMachineState } from './useNewMachine'

interface NewMachineProps {
  readonly projects: readonly StoredProject[]
}

interface StateProps {
  readonly state: NewMachineState
}

/** A new machine: from a starter, files, a copy, or one body. */
export function NewMachine({ projects }: NewMachineProps) {
  const [open, setOpen] = useState(false)
  const state = useNewMachine(projects)
  const show = (next: boolean) => {
    setOpen(next)
    state.forget()
  }
  return (
    <Dialog.Root open={open} onOpenChange={show}>
      <Dialog.Trigger asChild>
        <button className="button main">
          <Plus size={15} /> New machine
        </button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <Dialog.Content
          className="popover fixed z-50 left-1/2 top-16 w-[640px] max-h-[calc(100vh-100px)] overflow-auto -translate-x-1/2 p-4"
          aria-describedby={undefined}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault()
            void droppedFiles(event.dataTransfer.items).then(state.readFiles)
          }}
        >
          <Dialog.Title className="pb-2">A new machine</Dialog.Title>
          <Starters state={state} />
          <WrittenStart writings={writings} written={state.written} onWrite={state.write} />
          <div className="grid grid-cols-2 gap-4 pt-3">
            <FromFiles state={state} />
            <CopyOf state={state} projects={projects} />
          </div>
          <NameAndMake state={state} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

function Starters({ state: { chosen, choose } }: StateProps) {
  return (
    <>
      <h3 className="pb-1">Start from</h3>
      <div className="flex flex-wrap gap-1.5" role="group" aria-label="Start from">
        {starts.map((start) => (
          <button
            key={start.label}
            className={`button small ${chosen?.label === start.label ? 'chosen' : ''}`}
            aria-pressed={chosen?.label === start.label}
            onClick={() => choose(start)}
          >
            {start.label}
          </button>
        ))}
      </div>
    </>
  )
}

function FromFiles({ state: { readFiles } }: StateProps) {
  const look = 'button small cursor-pointer focus-within:outline-2 focus-within:outline-kelp'
  const read = (event: React.ChangeEvent<HTMLInputElement>) => void readFiles(filesOf(event.target.files))
  return (
    <div className="text-[12.5px]">
      <span className="block pb-1">or from files, also dropped here</span>
      <span className="flex gap-2">
        <label className={look}>
          Robot, zip or project
          <input type="file" className="sr-only" multiple accept=".urdf,.xml,.zip,.json,.stl,.obj,.glb,.gltf" onChange={read} />
        </label>
        <label className={look}>
          Folder
          <input type="file" className="sr-only" {...{ webkitdirectory: '' }} onChange={read} />
        </label>
      </span>
      <span className="note block pt-1">URDF with its meshes (STL, OBJ, glTF), or a saved bundle</span>
    </div>
  )
}

function CopyOf({ state: { copy }, projects }: StateProps & NewMachineProps) {
  return (
    <label className="text-[12.5px]">
      <span className="block pb-1">or a copy of</span>
      <select
        className="h-8 w-full border border-line rounded-md bg-transparent"
        value=""
        onChange={(event) => copy(projects.find(({ id }) => id === event.target.value)!)}
      >
        <option value="" disabled>
          a machine of the yard
        </option>
        {projects.map(({ id, document }) => (
          <option key={id} value={id}>
            {document.title}
          </option>
        ))}
      </select>
    </label>
  )
}

function NameAndMake({ state: { chosen, form, make, problems } }: StateProps) {
  const { isSubmitting } = form.formState
  const title = useWatch({ control: form.control, name: 'title' })
  return (
    <form className="pt-3 text-[12.5px]" onSubmit={(event) => void form.handleSubmit(make)(event)}>
      <TextField form={form} name="title" label="Its name" />
      {problems.length > 0 && (
        <ul className="pt-3 max-h-[200px] overflow-auto">
          {problems.map((problem) => (
            <li key={problem.where + problem.what}>
              <ProblemItem problem={problem} leads={false} />
            </li>
          ))}
        </ul>
      )}
      <div className="flex justify-end gap-2 pt-4">
        <Dialog.Close asChild>
          <button type="button" className="button">
            Leave
          </button>
        </Dialog.Close>
        <button className="button main" disabled={chosen === undefined || title.trim() === '' || isSubmitting}>
          Make it
        </button>
      </div>
    </form>
  )
}
