import { X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import { startNumber, startPose, startableStates } from '@calm-hand/core/simulation'
import { AddMenu } from '../../frame/AddMenu'
import { Sentence, SlotAt } from '../../sentence'
import { addPart, removePart } from '../../state/edits'
import { labelled } from '../../state/labels'
import { edit, useOpen } from '../../state/project'
import { motionUnit } from '../../units'
import { freeName } from '../machine/partEdits'
import { ProblemsAt } from './ProblemsAt'
import type { TrialView } from './useTrialView'

/** What the trial starts with instead of its operating point: thrown, turned over, on its way. */
export function Starts({ view }: { readonly view: TrialView }) {
  const list = useOpen((project) => project.document.trials[view.trial]?.starts)
  const path = `trials.${view.trial}.starts`
  const entries = Object.entries(partsIn(list))
  const states = startableStates(view.machine)
  const taken = new Set(entries.map(([, { state }]) => state))
  const names = Object.fromEntries(states.map(({ name }) => [name, shortName(name, view.machine)]))
  const free = states.find(({ name }) => !taken.has(name))
  const motions = partsIn(view.machine.motions)
  const [motion] = Object.keys(motions)
  const ways = [
    ...(free === undefined ? [] : [{ name: startNumber.name, label: 'at a position or speed' }]),
    ...(motion === undefined ? [] : [{ name: startPose.name, label: 'in a kept pose' }]),
  ]
  const add = ({ name: kind }: { readonly name: string }) => {
    const slots = kind === startPose.name ? { motion, pose: 1 } : { state: free!.name, value: 0 }
    const part = { kind, ...slots } as unknown as Part
    const name = freeName(
      entries.map(([one]) => one),
      'start',
    )
    edit(addPart(`${path}.${name}`, part, 'Start elsewhere'))
  }
  return (
    <section className="section" aria-label="Start">
      <div className="flex items-center">
        <h3 className="grow">
          Start <span className="font-normal text-mist">{entries.length === 0 ? 'where it rests' : 'elsewhere'}</span>
        </h3>
        {ways.length > 0 && <AddMenu label="Start" says="Start elsewhere" groups={[{ kinds: ways }]} onAdd={add} />}
      </div>
      <ul>
        {entries.map(([key, part]) => {
          const { state } = part
          const isPose = part.kind === startPose.name
          const unit = states.find(({ name }) => name === state)?.unit ?? ''
          return (
            <li key={key} className="flex items-start gap-1">
              <Sentence
                says={isPose ? startPose.says : startNumber.says}
                path={`${path}.${key}`}
                className="grow text-[13px] leading-[24px]"
                own={
                  isPose
                    ? {
                        motion: <SlotAt path={`${path}.${key}.motion`} names={labelled(motions)} />,
                      }
                    : {
                        state: <SlotAt path={`${path}.${key}.state`} names={names} />,
                        value: <SlotAt path={`${path}.${key}.value`} unit={motionUnit(unit)} />,
                      }
                }
              />
              <button
                className="size-6 grid place-items-center text-mist shrink-0"
                aria-label={isPose ? `Do not start in pose ${String(part.pose)}` : `Start with ${String(state)} at rest again`}
                onClick={() => edit(removePart(`${path}.${key}`, 'Start at rest'))}
              >
                <X size={14} />
              </button>
            </li>
          )
        })}
      </ul>
      <ProblemsAt path={path} />
      {entries.length > 0 && <p className="note">Loops and estimators begin as at the operating point.</p>}
    </section>
  )
}
