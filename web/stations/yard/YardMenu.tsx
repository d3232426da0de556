import { MoreHorizontal } from 'lucide-react'
import { Dialog, DropdownMenu } from 'radix-ui'
import { Suspense, lazy, useState } from 'react'
import { toast } from 'sonner'
import { menuAction } from '../../frame/menuAction'
import { askAnew } from '../../state/kept'
import { createProject } from '../../state/server'
import type { StoredProject } from '../../state/server'
import { putIntoBin } from '../../frame/kept/putIntoBin'
import { copyTitle, freeAddress } from './yardEdits'

const YardWords = lazy(async () => ({ default: (await import('./YardWords')).YardWords }))

interface YardMenuProps {
  readonly project: StoredProject
  readonly all: readonly StoredProject[]
}

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
            <DropdownMenu.Item className={menuAction} onSelect={() => setOpen(true)}>
              Name and note
            </DropdownMenu.Item>
            <DropdownMenu.Item className={menuAction} onSelect={() => void copy()}>
              Copy
            </DropdownMenu.Item>
            <DropdownMenu.Item className={menuAction} onSelect={() => void bin()}>
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
            <Suspense>
              <YardWords
                project={project}
                onDone={() => {
                  setOpen(false)
                  void askAnew()
                }}
              />
            </Suspense>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  )
}
