import { Copy, Plus, Trash2, X } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { machineNumbers } from '@calm-hand/core/machine'
import { changedParameter, override, trial as trialKind } from '@calm-hand/core/simulation'
import { MachineSwitch } from '../../frame/MachineSwitch'
import { unitAsWritten } from '../../units'
import type { UnitSaid } from '../../units'
import { Sentence, SlotAt, TextField, Toggle } from '../../sentence'
import { addPart, removePart, setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { useCheckCounts } from '../../state/verdicts'
import { Tray } from '../../tray/Tray'
import { Checks, HeldOf } from './Checks'
import { Starts } from './Starts'
import { SceneSection } from './SceneSection'
import { parameterWords } from '../parameterWords'
import type { TrialView } from './useTrialView'

interface TrialIndexProps {
  readonly trial: string
  readonly view: TrialView
  readonly hidden: ReadonlySet<string>
  readonly onToggle: (letter: string) => void
  readonly onChoose: (trial: string) => void
  readonly onMachine: () => void
  readonly onAdd: () => void
  readonly onCopy: () => void
  readonly onRemove: () => void
}

const noParameters: Readonly<Record<string, Part>> = {}
const iconButton = 'size-6 grid place-items-center text-mist shrink-0'

/** Trials, the chosen one's sentence, what it changes about the machine, its layers, and the tray. */
export function TrialIndex({ trial, view, hidden, onToggle, onChoose, onMachine, onAdd, onCopy, onRemove }: TrialIndexProps) {
  const trials = useOpen((project) => project.document.trials)
  const counts = useCheckCounts(useOpen((project) => project.valid))
  const part = trials[trial] as unknown as {
    machine: string
    overrides: Readonly<Record<string, Part>>
    realism: Readonly<Record<string, boolean | string>>
  }
  const path = `trials.${trial}`
  const numbers = machineNumbers(view.machine)
  const parameters = useOpen((project) => project.document.parameters) ?? noParameters
  const names = {
    ...parameterWords(parameters),
    ...Object.fromEntries(numbers.map(({ path: number, words }) => [number, words])),
  }
  const add = () => {
    const key = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'].find(
      (name) => part.overrides[name] === undefined,
    )
    if (key !== undefined)
      edit(
        addPart(
          `${path}.overrides.${key}`,
          { kind: override.name, parameter: numbers[0]?.path ?? '', how: 'times', amount: 1.2 },
          'Change the machine for this trial',
        ),
      )
  }
  return (
    <>
      <MachineSwitch onChoose={onMachine} />
      <section className="section">
        <div className="flex items-center pb-1">
          <h2 className="grow">Trials</h2>
          <button className="button small" onClick={onAdd}>
            <Plus size={13} /> Trial
          </button>
        </div>
        {Object.entries(trials)
          .filter(([, one]) => one.machine === part.machine)
          .map(([name, { title }]) =>
            name === trial ? (
              <div
                key={name}
                className="flex items-start gap-1 px-2 py-1 -mx-2 rounded-md bg-kelp-tint font-semibold"
                aria-current="true"
              >
                <span className="grow">
                  <TextField path={`${path}.title`} label="name of this trial" value={title} isFormula={false} />
                </span>
                <button className={iconButton} aria-label="Copy this trial" title="Copy this trial" onClick={onCopy}>
                  <Copy size={14} />
                </button>
                <button className={iconButton} aria-label="Remove this trial" title="Remove this trial" onClick={onRemove}>
                  <Trash2 size={14} />
                </button>
              </div>
            ) : (
              <button
                key={name}
                className="flex w-full text-left px-2 py-1 -mx-2 rounded-md font-semibold"
                onClick={() => onChoose(name)}
              >
                <span className="grow">{title}</span>
                {counts[name] !== undefined && <HeldOf {...counts[name]} />}
              </button>
            ),
          )}
        <Sentence
          says={trialKind.says}
          path={path}
          className="text-[13.5px] leading-[25px] pt-1"
          own={{ machine: <b className="font-semibold">{labelOf(view.machine, part.machine)}</b> }}
        />
      </section>
      <Checks view={view} />
      <SceneSection view={view} />
      <Starts view={view} />
      <section className="section" aria-label="Changes for this trial">
        <div className="flex items-center">
          <h3 className="grow">For this trial only</h3>
          <button className="button small" onClick={add}>
            <Plus size={13} /> Change
          </button>
        </div>
        {Object.keys(part.overrides).length === 0 && <p className="note pt-1">The machine is as its document says.</p>}
        <ul>
          {Object.entries(part.overrides).map(([key, change]) => (
            <li key={key} className="flex items-start gap-1">
              <Sentence
                says={override.says}
                path={`${path}.overrides.${key}`}
                className="grow text-[13px] leading-[24px]"
                own={{
                  parameter: <SlotAt path={`${path}.overrides.${key}.parameter`} names={names} />,
                  amount: <SlotAt path={`${path}.overrides.${key}.amount`} unit={unitFor(change, numbers, parameters)} />,
                }}
              />
              <button
                className="size-6 grid place-items-center text-mist shrink-0"
                aria-label="Remove this change"
                onClick={() => edit(removePart(`${path}.overrides.${key}`, 'Remove a change for this trial'))}
              >
                <X size={14} />
              </button>
            </li>
          ))}
        </ul>
      </section>
      <section className="section" aria-label="Realism layers">
        <h3 className="pb-1">Realism layers</h3>
        {view.layers.map(({ name, label, standIn }) => (
          <div key={name} className="flex items-center gap-2 min-h-6 text-[12.5px]" title={`off: ${standIn}`}>
            <Toggle
              label={label}
              on={part.realism[name] === true}
              onChange={(on) => edit(setValue(`${path}.realism.${name}`, on, `Switch ${label}`))}
            />
            <span className="whitespace-nowrap">{label}</span>
            {part.realism[name] !== true && <span className="note truncate">{standIn}</span>}
          </div>
        ))}
      </section>
      <Tray hint="P pins the run" hidden={hidden} onToggle={onToggle} />
    </>
  )
}

function unitFor(
  change: Part,
  numbers: readonly { readonly path: string; readonly unit: string }[],
  parameters: Readonly<Record<string, Part>>,
): UnitSaid {
  if (change.how === 'times') return ''
  const parameter = parameters[changedParameter(change) ?? '']
  if (parameter !== undefined) return unitAsWritten(parameter.unit as string)
  return numbers.find(({ path }) => path === change.parameter)?.unit ?? ''
}
