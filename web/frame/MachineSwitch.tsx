import { labelOf } from '@calm-hand/core/kinds'
import { ChoiceField } from '../sentence'
import { chooseMachine, useMachineName } from '../state/chosenMachine'
import { useOpen } from '../state/project'

interface MachineSwitchProps {
  /** Another machine is looked at: what a station shows of it may have to change too. */
  readonly onChoose?: (machine: string) => void
}

/** Which machine a station looks at; nothing where the project has one. */
export function MachineSwitch({ onChoose }: MachineSwitchProps) {
  const id = useOpen((project) => project.id)
  const machines = useOpen((project) => project.document.machines)
  const name = useMachineName()
  if (Object.keys(machines).length < 2) return null
  return (
    <p className="px-4 pt-2.5 text-[13.5px]">
      Of the machines here{' '}
      <ChoiceField
        label="machine that is looked at"
        value={name}
        options={Object.fromEntries(Object.entries(machines).map(([one, part]) => [one, labelOf(part, one)]))}
        onChoose={(machine) => {
          chooseMachine(id, machine)
          onChoose?.(machine)
        }}
      />
    </p>
  )
}
