import Joi from 'joi'
import { MoreHorizontal } from 'lucide-react'
import { Dialog, DropdownMenu } from 'radix-ui'
import { useState } from 'react'
import { toast } from 'sonner'
import { Failure, TextField, useJoiForm } from '../../form'
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

interface ProjectWords {
  readonly title: string
  readonly about: string
  readonly note: string
}

const words: Joi.ObjectSchema<ProjectWords> = Joi.object({
  title: Joi.string().trim().max(60),
  about: Joi.string().trim().max(120).allow(''),
  note: Joi.string().trim().max(20_000).allow(''),
})

/** The words that a project is known by. */
function Words({ project, onDone }: { readonly project: StoredProject; readonly onDone: () => void }) {
  const { title, about, note } = project.document
  const form = useJoiForm(words, { title, about, note })
  const keep = async (typed: ProjectWords) => {
    const answer = await saveProject(project.id, {
      revision: project.revision,
      document: { ...project.document, ...typed },
      label: `Name it ${typed.title}`,
      save: crypto.randomUUID(),
      follows: [],
    })
    if (answer.kind === 'saved') return onDone()
    const message =
      answer.kind === 'refused'
        ? `${answer.problems[0]!.what} ${answer.problems[0]!.remedy}`
        : answer.kind === 'stale'
          ? 'It has been changed elsewhere just now. Close this, and open it again.'
          : answer.what
    form.setError('root', { message })
  }
  return (
    <form className="grid gap-3" onSubmit={(event) => void form.handleSubmit(keep)(event)}>
      <TextField form={form} name="title" label="Name" />
      <TextField form={form} name="about" label="In a few words" />
      <TextField form={form} name="note" label="Note" rows={5} />
      <Failure form={form} />
      <div className="flex justify-end gap-2">
        <Dialog.Close className="button">Leave</Dialog.Close>
        <button className="button main" disabled={form.formState.isSubmitting}>
          Keep
        </button>
      </div>
    </form>
  )
}
