import { Plus } from 'lucide-react'
import { askOnce } from '../../state/askOnce'
import { addPart } from '../../state/edits'
import { useMachineName } from '../../state/chosenMachine'
import { edit, useOpen } from '../../state/project'
import { freePush } from './loopEdits'

/** Adds a loop on the next push that has none; not there when every push has its loop. */
export function AddLoop({ onAdded }: { readonly onAdded: (loop: string) => void }) {
  const document = useOpen((open) => open.valid)
  const problems = useOpen((open) => open.problems.length)
  const machine = useMachineName()
  if (freePush(document, machine) === undefined) return null
  return (
    <button
      className="button small"
      disabled={problems > 0}
      onClick={() =>
        void askOnce('newLoop', document, machine).then((added) => {
          if (added === undefined) return
          edit(addPart(`loops.${added.name}`, added.part, `Add loop ${added.name}`))
          onAdded(added.name)
        })
      }
    >
      <Plus size={13} /> Loop
    </button>
  )
}
