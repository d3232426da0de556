import { Dialog, Tabs } from 'radix-ui'
import { useProject } from '../state/project'
import { HistoryTab } from './kept/HistoryTab'
import { ProjectTab } from './kept/ProjectTab'
import { RunsTab } from './kept/RunsTab'
import { showOverlay, useOverlay } from './overlays'

const tabs = [
  { name: 'history', label: 'History', Content: HistoryTab },
  { name: 'runs', label: 'Runs', Content: RunsTab },
  { name: 'project', label: 'This project', Content: ProjectTab },
] as const

/** What is kept of the open project, by which rule, and what can be done with it. */
export function ProjectKept() {
  const isOpen = useOverlay((state) => state.open === 'kept')
  const id = useProject((state) => state.project?.id)
  const title = useProject((state) => state.project?.document.title)
  if (id === undefined) return null
  return (
    <Dialog.Root open={isOpen} onOpenChange={(next) => showOverlay(next ? 'kept' : undefined)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <Dialog.Content
          className="popover fixed z-50 left-1/2 top-16 w-[760px] max-h-[calc(100vh-96px)] -translate-x-1/2 p-5 flex flex-col"
          aria-describedby={undefined}
        >
          <Dialog.Title className="text-[17px] font-semibold pb-2">What is kept of {title}</Dialog.Title>
          <Tabs.Root defaultValue="history" className="min-h-0 flex flex-col">
            <Tabs.List className="flex gap-4 border-b border-line" aria-label="What is kept">
              {tabs.map(({ name, label }) => (
                <Tabs.Trigger
                  key={name}
                  value={name}
                  className="h-8 text-mist border-b-2 border-transparent data-[state=active]:border-kelp data-[state=active]:text-ink data-[state=active]:font-semibold"
                >
                  {label}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            {tabs.map(({ name, Content }) => (
              <Tabs.Content key={name} value={name} className="min-h-0 overflow-auto pt-3" tabIndex={0}>
                <Content id={id} />
              </Tabs.Content>
            ))}
          </Tabs.Root>
          <Dialog.Close className="button mt-4 self-start">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
