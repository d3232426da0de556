import { create } from 'zustand'
import { useOpen } from './project'

/** The machine that was looked at last, by project. */
const useChosen = create<Readonly<Record<string, string>>>(() => ({}))

export function chooseMachine(project: string, machine: string): void {
  useChosen.setState({ [project]: machine })
}

/** The machine of the open project that stations look at: the one chosen last, or the first. */
export function useMachineName(): string {
  const id = useOpen((project) => project.id)
  const chosen = useChosen((all) => all[id])
  return useOpen(({ document }) =>
    chosen !== undefined && chosen in document.machines ? chosen : Object.keys(document.machines)[0]!,
  )
}
