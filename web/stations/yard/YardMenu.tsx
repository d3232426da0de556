import { MoreHorizontal } from 'lucide-react'
import { Dialog, DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Document } from '@calm-hand/core/document'
import { askAnew } from '../../state/kept'
import { createProject, saveProject } from '../../state/server'
import type { StoredProject } from '../../state/server'
import { putIntoBin } from '../../frame/kept/putIntoBin'
import { copyTitle, freeAddress } from './yardEdits'

interface YardMenuProps {
  readonly project: StoredProject
  readonly all: readonly StoredProject[]
}

const item = 'px-3 py-1.5 rounded text-[13px] outline-none cursor-default data-[highlighted]:bg-kelp-tint'

/** What can be done with a project from outside: its words, a copy, the bin. */
export function YardMenu({ project, all }: YardMenuProps) {
  const [isOpen, setOpen] = useState(false)
  const { id, document } = project
  const { title } = document
  const copy = async () => {
    const name = freeAddress(
      all.map((one) => one.id),
      `${id}-copy`,
    )
    const made = await createProject(name, { ...document, title: copyTitle(all, title), tray: {} })
    if (made.kind === 'refused') return void toast.error(`${made.problems[0]!.what} ${made.problems[0]!.remedy}`)
    await askAnew()
  }
  const bin = async () => {
    if (await putIntoBin(id, title, () => void askAnew())) await askAnew()
  }
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <button
            className="absolute right-1.5 top-1.5 size-7 grid place-items-center rounded-md text-mist hover:bg-kelp-tint"
            aria-label={`What to do with ${title}`}
          >
            <MoreHorizontal size={16} />
          </button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="popover z-40 p-1 min-w-[170px]" align="end">
            <DropdownMenu.Item className={item} onSelect={() => setOpen(true)}>
              Name and note
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => void copy()}>
              Copy
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => void bin()}>
              Put it into the bin
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Dialog.Root open={isOpen} onOpenChange={setOpen}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
          <Dialog.Content
            className="popover fixed z-50 left-1/2 top-24 w-[480px] -translate-x-1/2 p-5"
            aria-describedby={undefined}
          >
            <Dialog.Title className="text-[17px] font-semibold pb-3">{title}</Dialog.Title>
            <Words
              project={project}
              onDone={() => {
                setOpen(false)
                void askAnew()
              }}
            />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  )
}

/** The words that a project is known by. */
function Words({ project, onDone }: { readonly project: StoredProject; readonly onDone: () => void }) {
  const [title, setTitle] = useState(project.document.title)
  const [about, setAbout] = useState(project.document.about ?? '')
  const [note, setNote] = useState(project.document.note ?? '')
  const [failure, setFailure] = useState<string>()
  const keep = async () => {
    const document: Document = { ...project.document, title: title.trim(), about: about.trim(), note: note.trim() }
    const save = {
      revision: project.revision,
      document,
      label: `Name it ${title.trim()}`,
      save: crypto.randomUUID(),
      follows: [],
    }
    const answer = await saveProject(project.id, save)
    if (answer.kind === 'saved') return onDone()
    setFailure(
      answer.kind === 'refused'
        ? `${answer.problems[0]!.what} ${answer.problems[0]!.remedy}`
        : answer.kind === 'stale'
          ? 'It has been changed elsewhere just now. Close this, and open it again.'
          : answer.what,
    )
  }
  const field = 'w-full px-2 border border-line-2 rounded-md bg-transparent'
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        void keep()
      }}
    >
      <label className="grid gap-1">
        Name
        <input className={`${field} h-9`} value={title} maxLength={60} onChange={(event) => setTitle(event.target.value)} />
      </label>
      <label className="grid gap-1">
        In a few words
        <input className={`${field} h-9`} value={about} maxLength={120} onChange={(event) => setAbout(event.target.value)} />
      </label>
      <label className="grid gap-1">
        Note
        <textarea className={`${field} py-1.5`} rows={5} value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      {failure !== undefined && (
        <p role="alert" className="text-coral-text">
          {failure}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Dialog.Close className="button">Leave</Dialog.Close>
        <button className="button main" disabled={title.trim() === ''}>
          Keep
        </button>
      </div>
    </form>
  )
}
