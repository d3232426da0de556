import { Plus } from 'lucide-react'
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import { done } from '@calm-hand/core/document'
import { judge } from '../../state/judge'
import { createProject } from '../../state/server'
import type { StoredProject } from '../../state/server'
import { ProblemItem } from '../../frame/ProblemItem'
import { WrittenStart } from './WrittenStart'
import { droppedFiles, filesOf, keepMeshes, startFromFiles } from './fileStart'
import type { GivenFile } from './fileStart'
import { addressOf, plainMachine, starters, writings } from './newMachine'
import type { Writing } from './newMachine'

interface Start {
  readonly label: string
  readonly document: () => Promise<Outcome<Document>>
}

/** What could not be taken along is told, but not sixty times. */
const mostToasts = 3

/** A new machine: from a starter, files, a copy, or one body. */
export function NewMachine({ projects }: { readonly projects: readonly StoredProject[] }) {
  const [open, setOpen] = useState(false)
  const [chosen, setChosen] = useState<Start>()
  const [title, setTitle] = useState('')
  const [written, setWritten] = useState<{ writing: Writing; text: string }>()
  const [problems, setProblems] = useState<readonly Problem[]>([])
  const [making, setMaking] = useState(false)
  const navigate = useNavigate()

  const choose = (start: Start) => {
    setChosen(start)
    setWritten(undefined)
    setProblems([])
    setTitle((typed) => (typed === '' ? start.label : typed))
  }
  const readFiles = async (given: readonly GivenFile[]) => {
    setChosen(undefined)
    const start = await startFromFiles(given)
    if (start.kind === 'refused') return setProblems(start.problems)
    choose({
      label: start.value.label,
      document: async () => {
        const kept = await keepMeshes(start.value)
        if (kept.kind === 'refused') return kept
        for (const { where, what, remedy } of kept.value.left.slice(0, mostToasts)) toast(`${where}: ${what} ${remedy}`)
        return done(kept.value.document)
      },
    })
  }
  const write = (writing: Writing, text: string) => {
    choose({ label: writing.label, document: () => Promise.resolve(writing.document(text)) })
    setWritten({ writing, text })
  }
  const make = async () => {
    if (chosen === undefined || title.trim() === '') return
    setMaking(true)
    const outcome = await madeDocument(chosen, title.trim())
    const made = outcome.kind === 'done' ? await createProject(freeAddress(title, projects), outcome.value) : outcome
    setMaking(false)
    if (made.kind === 'refused') setProblems(made.problems)
    else void navigate(`/${made.value}/machine`)
  }
  const starts: Start[] = [
    ...starters.map(({ name, load }) => ({ label: name, document: async () => done(await load()) })),
    { label: 'One body', document: () => Promise.resolve(done(plainMachine())) },
  ]
  return (
    <Dialog.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next)
        setChosen(undefined)
        setWritten(undefined)
        setProblems([])
        setTitle('')
      }}
    >
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
            void droppedFiles(event.dataTransfer.items).then(readFiles)
          }}
        >
          <Dialog.Title className="pb-2">A new machine</Dialog.Title>
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
          <WrittenStart writings={writings} written={written} onWrite={write} />
          <div className="grid grid-cols-2 gap-4 pt-3">
            <div className="text-[12.5px]">
              <span className="block pb-1">or from files, also dropped here</span>
              <span className="flex gap-2">
                <label className="button small cursor-pointer focus-within:outline-2 focus-within:outline-kelp">
                  Robot, zip or project
                  <input
                    type="file"
                    className="sr-only"
                    multiple
                    accept=".urdf,.xml,.zip,.json,.stl,.obj,.glb,.gltf"
                    onChange={(event) => void readFiles(filesOf(event.target.files))}
                  />
                </label>
                <label className="button small cursor-pointer focus-within:outline-2 focus-within:outline-kelp">
                  Folder
                  <input
                    type="file"
                    className="sr-only"
                    {...{ webkitdirectory: '' }}
                    onChange={(event) => void readFiles(filesOf(event.target.files))}
                  />
                </label>
              </span>
              <span className="note block pt-1">URDF with its meshes (STL, OBJ, glTF), or a saved bundle</span>
            </div>
            <label className="text-[12.5px]">
              <span className="block pb-1">or a copy of</span>
              <select
                className="h-8 w-full border border-line rounded-md bg-transparent"
                value=""
                onChange={(event) => {
                  const project = projects.find(({ id }) => id === event.target.value)!
                  choose({ label: `${project.document.title} copy`, document: () => Promise.resolve(done(project.document)) })
                }}
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
          </div>
          <label className="block pt-3 text-[12.5px]">
            <span className="block pb-1">Its name</span>
            <input
              className="w-full h-9 px-2 border border-line-2 rounded-md bg-transparent text-[15px]"
              value={title}
              onChange={(event) => setTitle(event.target.value)}
              onKeyDown={(event) => event.key === 'Enter' && void make()}
            />
          </label>
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
              <button className="button">Leave</button>
            </Dialog.Close>
            <button
              className="button main"
              disabled={chosen === undefined || title.trim() === '' || making}
              onClick={() => void make()}
            >
              Make it
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

/** The document under its new name, checked here so that what is wrong is told before anything is sent. */
async function madeDocument(start: Start, title: string): Promise<Outcome<Document>> {
  const outcome = await start.document()
  if (outcome.kind === 'refused') return outcome
  const document = { ...outcome.value, title, tray: {} }
  const checked = await judge(document)
  return checked.kind === 'refused' ? checked : done(document)
}

function freeAddress(title: string, projects: readonly StoredProject[]): string {
  const wanted = addressOf(title)
  const taken = new Set(projects.map(({ id }) => id))
  if (!taken.has(wanted)) return wanted
  for (let i = 2; ; i++) if (!taken.has(`${wanted}-${i}`)) return `${wanted}-${i}`
}
