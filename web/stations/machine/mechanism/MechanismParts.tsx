import { Copy, FlipHorizontal2, Plus, Trash2 } from 'lucide-react'
import { memo, useState } from 'react'
import { partAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { findKind, labelOf } from '@calm-hand/core/kinds'
import {
  allocations,
  bodiesOf,
  chains,
  drives,
  expectations,
  forces,
  joints,
  linkedBody,
  mechanismSensors,
  meshShape,
  motionKind,
  pushes,
  readings,
  shapes,
  surroundings,
} from '@calm-hand/core/machine'
import type { LinkedBody, MirrorPlane, ShelfItem } from '@calm-hand/core/machine'
import { useSame } from '../../../frame/useSame'
import { ChoiceField, SlotAt } from '../../../sentence'
import { askOnce } from '../../../state/askOnce'
import { edit, partNow, useOpen, useProject } from '../../../state/project'
import { useShelf } from '../../../state/kept'
import type { ShelfProject } from '../../../state/kept'
import { LedgerRows } from '../LedgerRows'
import { MarkBox } from '../MarkBox'
import { NameField } from '../NameField'
import { OriginNote } from '../OriginNote'
import { Opener, PartGroup } from '../PartGroup'
import { ShelfPicker } from '../ShelfPicker'
import { SharedSlots } from '../SharedSlots'
import { OperatingPoints } from '../OperatingPoints'
import { Parameters } from '../Parameters'
import { MassFrom } from './MassFrom'
import { addBody, copyBody, freshSlots, hangOn, hangers, removeBody, takeBody } from './mechanismEdits'

interface MechanismPartsProps {
  readonly path: string
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
}

/** Bodies with their joints, then chains, forces and drives, each as a sentence; the chosen one unfolds its ledger. */
export function MechanismParts({ path, machine, chosen, onChoose }: MechanismPartsProps) {
  const bodies = Object.entries(bodiesOf(machine))
  const starts = freshSlots(machine)
  const fresh = useSame(starts, JSON.stringify(starts))
  const hung = Object.fromEntries(bodies.map(([body]) => [body, hangers(machine, body)]))
  const hangs = useSame(hung, JSON.stringify(hung))
  const groups = { path, machine, chosen, onChoose, fresh }
  return (
    <div>
      <SharedSlots path={path} />
      {bodies.map(([body, part]) => (
        <BodyRow key={body} {...{ path, body, part, onChoose }} hangers={hangs[body]!} open={chosen === body} />
      ))}
      <PartGroup title="Chains" group="chains" kinds={chains} {...groups} />
      <PartGroup title="Forces" group="forces" hasShelf kinds={forces} {...groups} />
      <PartGroup title="Drives" group="drives" hasShelf kinds={drives} {...groups} />
      <PartGroup title="Pushes" group="pushes" kinds={pushes} {...groups} />
      <PartGroup title="Allocation" group="allocations" kinds={allocations} {...groups} />
      <PartGroup title="Readings" group="readings" hasShelf kinds={readings} {...groups} />
      <PartGroup title="Sensors" group="sensors" hasShelf kinds={mechanismSensors} {...groups} />
      <PartGroup title="Surroundings" group="surroundings" hasShelf kinds={surroundings} {...groups} />
      <OperatingPoints {...groups} />
      <PartGroup title="Expectations" group="expectations" kinds={expectations} {...groups} />
      <PartGroup title="Motions" group="motions" kinds={motions} {...groups} />
      <Parameters />
      <div className="px-4 py-2 text-[12.5px]">
        Gravity is <SlotAt path={`${path}.gravity`} /> downwards.
      </div>
    </div>
  )
}

const motions = [motionKind]

interface BodyRowProps {
  readonly path: string
  readonly body: string
  readonly part: LinkedBody
  /** What it may hang on. */
  readonly hangers: Readonly<Record<string, string>>
  readonly open: boolean
  readonly onChoose: (part: string) => void
}

async function hang(path: string, body: string, on: string): Promise<void> {
  const judged = await askOnce('judged', useProject.getState().project!.document)
  if (judged !== undefined) edit(hangOn(path, body, on, judged.resolved))
}

/** Drawn anew where the body changed, or what it may hang on. */
const BodyRow = memo(function BodyRow({ path, body, part, hangers: hangsOn, open, onChoose }: BodyRowProps) {
  const own = `${path}.bodies.${body}`
  const joint = part.joint
  const kind = findKind(joints, joint)
  const { data: projects } = useShelf(false)
  const problem = useOpen((project) => project.problems.find(({ where }) => where.startsWith(`${own}.`) || where === own))
  return (
    <section className={`border-b border-line ${open ? 'bg-kelp-tint border-l-[3px] border-l-kelp' : ''}`}>
      <div className="relative flex flex-wrap items-center gap-x-1.5 pl-3 pr-8 py-[5px] text-[12.5px] leading-[22px]">
        <Opener open={open} title={labelOf(part, body)} onOpen={() => onChoose(body)} />
        <SlotAt path={`${own}.joint`} />{' '}
        <ChoiceField
          label="hangs on"
          value={joint.on}
          options={hangsOn}
          onChoose={(on) => void hang(path, body, on)}
          invalid={problem?.where === `${own}.joint.on`}
        />
        {!open && part.mass !== 0 && (
          <span>
            , weighs <SlotAt path={`${own}.mass`} />
          </span>
        )}
        <span className="absolute right-3 top-2.5 leading-none">
          <MarkBox path={own} name={labelOf(part, body)} />
        </span>
      </div>
      {problem !== undefined && !open && (
        <p role="alert" className="px-4 pb-1.5 text-[12px] leading-4 text-coral-text">
          {problem.what} {problem.remedy}
        </p>
      )}
      {open && (
        <div className="pl-4 pr-4 pb-2">
          <LedgerRows kind={linkedBody} without={['title', 'joint', 'shapes']} path={own} />
          <Shapes path={own} part={part} />
          <MassFrom path={own} />
          <NameField path={own} part={part} onRenamed={onChoose} />
          <h3 className="pt-1.5">Its joint</h3>
          {kind !== undefined && <LedgerRows kind={kind} without={['on']} path={`${own}.joint`} />}
          <OriginNote path={own} part={part} />
          <div className="flex flex-wrap gap-2 pt-2">
            <button className="button small" onClick={() => onChoose(edited(addBody(path, partNow(path), body)))}>
              <Plus size={13} /> Body on it
            </button>
            <span className="button small">
              <ShelfPicker
                group="bodies"
                title="Bodies"
                kinds={[{ ...linkedBody, label: 'with all that hangs on it' }]}
                onTake={(item) => {
                  const source = sourceOf(projects, item)
                  if (source !== undefined) onChoose(edited(takeBody(path, partNow(path), source, item, body)))
                }}
              />
            </span>
            <button className="button small" onClick={() => onChoose(edited(copyBody(path, partNow(path), body)))}>
              <Copy size={13} /> Copy
            </button>
            <label className="button small relative">
              <FlipHorizontal2 size={13} /> Mirror
              <select
                className="absolute inset-0 opacity-0 cursor-pointer"
                aria-label={`Mirror ${labelOf(part, body)}`}
                value=""
                onChange={(event) => onChoose(edited(copyBody(path, partNow(path), body, event.target.value as MirrorPlane)))}
              >
                <option value="" disabled>
                  Across which direction of what it hangs on?
                </option>
                {['x', 'y', 'z'].map((plane) => (
                  <option key={plane} value={plane}>
                    {plane}
                  </option>
                ))}
              </select>
            </label>
            <button
              className="button small"
              onClick={() => {
                edit(removeBody(path, partNow(path), body))
                onChoose(joint.on)
              }}
            >
              <Trash2 size={13} /> Remove
            </button>
          </div>
        </div>
      )}
    </section>
  )
})

/** What new shapes start with. */
const freshShape = { radius: 0.05, length: 0.2, size: [0.1, 0.1, 0.1] }

/** What a body is drawn as and may be weighed by; meshes come with their files. */
function Shapes({ path, part }: { readonly path: string; readonly part: Part }) {
  const [chosen, setChosen] = useState('')
  return (
    <div className="-mx-4 my-1">
      <PartGroup
        title="Shapes"
        group="shapes"
        kinds={shapes}
        notAdded={[meshShape.name]}
        path={path}
        machine={part}
        chosen={chosen}
        onChoose={setChosen}
        fresh={freshShape}
      />
    </div>
  )
}

/** The whole mechanism that an item of the shelf is of. */
function sourceOf(projects: readonly ShelfProject[] | undefined, { project, path }: ShelfItem): Part | undefined {
  const document = projects?.find(({ id }) => id === project)?.document
  return partAt(document, path.split('.').slice(0, 2).join('.'))
}

/** Makes an edit that adds something; gives the name it got. */
function edited({ name, change }: { readonly name: string; readonly change: Parameters<typeof edit>[0] }): string {
  edit(change)
  return name
}
