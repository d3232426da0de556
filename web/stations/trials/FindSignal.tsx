import { familySignals, signalsOf } from '@calm-hand/core/simulation'
import { useOpen } from '../../state/project'
import { shownSignal } from './cueWords'
import { Find } from './Find'
import type { TrialView } from './useTrialView'

interface FindSignalProps {
  readonly view: Pick<TrialView, 'trial' | 'record'>
  /** The button that opens the search. */
  readonly children: React.ReactNode
  readonly without?: ReadonlySet<string>
  /** Whether families can be taken as a whole. */
  readonly withFamilies?: boolean
  readonly onTake: (signal: string) => void
}

/** Finds any signal of the run by its words, name or unit. */
export function FindSignal({ view, children, without, withFamilies = false, onTake }: FindSignalProps) {
  const document = useOpen((project) => project.valid)
  const all = () =>
    [...(withFamilies ? familySignals(view.record) : []), ...signalsOf(document, view.trial, view.record)].filter(
      ({ name }) => without?.has(name) !== true,
    )
  return (
    <Find
      sort="signal"
      example="error, rate, N·m"
      all={() => all().map(shownSignal)}
      none="No signal of that name. A run shows all that there are."
      onTake={onTake}
    >
      {children}
    </Find>
  )
}
