import { Plus } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import { watched } from '@calm-hand/core/simulation'
import { addPart } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { freeName } from '../../machine/partEdits'
import { FindSignal } from '../FindSignal'
import type { TrialView } from '../useTrialView'

/** Finds any signal of the run and watches it. */
export function Watch({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const take = (name: string) => {
    const path = `trials.${view.trial}.watch`
    const keys = Object.keys(partsIn(document.trials[view.trial]!.watch))
    edit(addPart(`${path}.${freeName(keys, 'signal')}`, { kind: watched.name, signal: name }, `Watch ${name}`))
  }
  return (
    <div className="shrink-0 py-1">
      <FindSignal view={view} withFamilies without={new Set(view.watched.map(({ name }) => name))} onTake={take}>
        <button className="button small">
          <Plus size={13} /> Watch a signal
        </button>
      </FindSignal>
    </div>
  )
}
