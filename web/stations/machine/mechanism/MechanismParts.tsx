import { ChevronDown, ChevronRight, Plus, Trash2 } from 'lucide-react'
import { Fragment } from 'react'
import type { Part } from '@calm-hand/core/document'
import { findKind, pieces } from '@calm-hand/core/kinds'
import type { AnyKind, Slot } from '@calm-hand/core/kinds'
import { chains, drives, forces, joints, linkedBody, mechanismSensors, surroundings } from '@calm-hand/core/machine'
import { Sentence, SlotAt } from '../../../sentence'
import { edit, useOpen } from '../../../state/project'
import { useSlotValue } from '../../../sentence/useSlotValue'
import { digitsOf, shownUnit } from '../../../units'
import { LedgerRow } from '../LedgerRow'
import { Parameters } from '../Parameters'
import { MassFrom } from './MassFrom'
import { addBody, addEffect, removeBody, removeEffect } from './mechanismEdits'

interface MechanismPartsProps {
  readonly path: string
  readonly machine: Part
  readonly chosen: string
  readonly onChoose: (part: string) => void
}

/** Bodies with their joints, then chains, forces and drives, each as a sentence; the chosen one unfolds its ledger. */
export function MechanismParts({ path, machine, chosen, onChoose }: MechanismPartsProps) {
  const bodies = Object.keys(machine.bodies as object)
  return (
    <div>
      {bodies.map((body) => (
        <BodyRow
          key={body}
          path={path}
          body={body}
          machine={machine}
          open={chosen === body}
          onOpen={() => onChoose(body)}
          onChoose={onChoose}
        />
      ))}
      <Group title="Chains" group="chains" kinds={chains} {...{ path, machine, chosen, onChoose }} />
      <Group title="Forces" group="forces" kinds={forces} {...{ path, machine, chosen, onChoose }} />
      <Group title="Drives" group="drives" kinds={drives} {...{ path, machine, chosen, onChoose }} />
      <Group title="Sensors" group="sensors" kinds={mechanismSensors} {...{ path, machine, chosen, onChoose }} />
      <Group title="Surroundings" group="surroundings" kinds={surroundings} {...{ path, machine, chosen, onChoose }} />
      <Parameters />
      <div className="px-4 py-2 text-[12.5px]">
        Gravity is <SlotAt path={`${path}.gravity`} /> downwards.
      </div>
    </div>
  )
}

interface BodyRowProps {
  readonly path: string
  readonly body: string
  readonly machine: Part
  readonly open: boolean
  readonly onOpen: () => void
  readonly onChoose: (part: string) => void
}

function BodyRow({ path, body, machine, open, onOpen, onChoose }: BodyRowProps) {
  const own = `${path}.bodies.${body}`
  const part = (machine.bodies as Readonly<Record<string, Part>>)[body]!
  const joint = part.joint as Part
  const kind = findKind(joints, joint)
  const problem = useOpen((project) => project.problems.find(({ where }) => where.startsWith(`${own}.`) || where === own))
  return (
    <section className={`border-b border-line ${open ? 'bg-kelp-tint border-l-[3px] border-l-kelp' : ''}`}>
      <div className="flex flex-wrap items-center gap-x-1.5 pl-3 pr-3 py-[5px] text-[12.5px] leading-[22px]">
        <Opener open={open} title={body} onOpen={onOpen} />
        <SlotAt path={`${own}.joint`} /> <SlotAt path={`${own}.joint.on`} />
        {!open && part.mass !== 0 && (
          <span>
            , weighs <SlotAt path={`${own}.mass`} />
          </span>
        )}
      </div>
      {problem !== undefined && !open && (
        <p role="alert" className="px-4 pb-1.5 text-[12px] leading-4 text-coral-text">
          {problem.what} {problem.remedy}
        </p>
      )}
      {open && (
        <div className="pl-4 pr-4 pb-2">
          {ledgerRows(linkedBody, ['title', 'joint', 'shapes'], own)}
          <MassFrom path={own} />
          <h3 className="pt-1.5">Its joint</h3>
          {kind !== undefined && ledgerRows(kind, ['on'], `${own}.joint`)}
          <div className="flex gap-2 pt-2">
            <button className="button small" onClick={() => onChoose(edited(addBody(path, machine, body)))}>
              <Plus size={13} /> Body on it
            </button>
            <button
              className="button small"
              onClick={() => {
                edit(removeBody(path, machine, body))
                onChoose(joint.on as string)
              }}
            >
              <Trash2 size={13} /> Remove
            </button>
          </div>
        </div>
      )}
    </section>
  )
}

interface GroupProps extends MechanismPartsProps {
  readonly title: string
  readonly group: 'chains' | 'forces' | 'drives' | 'sensors' | 'surroundings'
  readonly kinds: readonly (AnyKind & { readonly label: string })[]
}

function Group({ title, group, kinds, path, machine, chosen, onChoose }: GroupProps) {
  const parts = Object.entries((machine[group] ?? {}) as Readonly<Record<string, Part>>)
  return (
    <section aria-label={title}>
      <div className="flex items-center justify-between px-4 pt-2.5 pb-1 border-b border-line">
        <h3>{title}</h3>
        <label className="text-[12px] text-kelp font-semibold relative">
          <span className="flex items-center gap-1">
            <Plus size={13} /> Add
          </span>
          <select
            className="absolute inset-0 opacity-0 cursor-pointer"
            aria-label={`Add to ${title.toLowerCase()}`}
            value=""
            onChange={(event) =>
              onChoose(
                edited(
                  addEffect(
                    path,
                    machine,
                    group,
                    kinds.find(({ name }) => name === event.target.value)!,
                  ),
                ),
              )
            }
          >
            <option value="" disabled>
              Which?
            </option>
            {kinds.map(({ name, label }) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
        </label>
      </div>
      {parts.map(([name, part]) => {
        const kind = findKind(kinds, part)
        const open = chosen === name
        const own = `${path}.${group}.${name}`
        if (kind === undefined) return null
        const inSentence = pieces(kind.says).flatMap((piece) => ('slot' in piece ? [piece.slot] : []))
        return (
          <section key={name} className={`border-b border-line ${open ? 'bg-kelp-tint border-l-[3px] border-l-kelp' : ''}`}>
            <div className="pl-3 pr-3 py-1">
              <Opener open={open} title={name} onOpen={() => onChoose(name)} />
              {open && (
                <Fragment>
                  <Sentence says={kind.says} path={own} className="text-[12.5px] leading-[23px] py-1" />
                  {ledgerRows(kind, inSentence, own)}
                  <button className="button small mt-1.5" onClick={() => edit(removeEffect(path, group, name))}>
                    <Trash2 size={13} /> Remove
                  </button>
                </Fragment>
              )}
            </div>
          </section>
        )
      })}
    </section>
  )
}

function Opener({ open, title, onOpen }: { readonly open: boolean; readonly title: string; readonly onOpen: () => void }) {
  return (
    <button className="inline-flex items-center gap-1 font-semibold text-[12.5px]" aria-expanded={open} onClick={onOpen}>
      {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
      {title}
    </button>
  )
}

/** Every slot of a kind that is a number, as a row. */
function ledgerRows(kind: AnyKind, without: readonly string[], path: string) {
  return Object.entries(kind.slots)
    .filter(([slot]) => !without.includes(slot))
    .flatMap(([slot, definition]) => rowsOf(slot, definition, path))
}

function rowsOf(slot: string, definition: Slot, path: string) {
  if (definition.type === 'vector') {
    // three in a row: a place, a direction, the moments, the products
    return definition.components
      .map((_, i) => i)
      .filter((i) => i % 3 === 0)
      .map((from) => (
        <VectorRow
          key={slot + from}
          path={`${path}.${slot}`}
          from={from}
          label={definition.label}
          components={definition.components}
        />
      ))
  }
  return definition.type === 'part' || definition.type === 'parts' ? [] : [<LedgerRow key={slot} path={`${path}.${slot}`} />]
}

interface VectorRowProps {
  readonly path: string
  readonly from: number
  readonly label: string
  readonly components: readonly string[]
}

/** Three components of a vector in one row. */
function VectorRow({ path, from, label, components }: VectorRowProps) {
  const { slot, worked, problem } = useSlotValue(path)
  const unit = slot?.type === 'vector' ? slot.unit : ''
  const names = components.slice(from, from + 3)
  return (
    <>
      <div className="flex items-baseline justify-between gap-2 min-h-[24px] text-[12.5px]">
        <span>
          {label} <span className="note whitespace-nowrap">{names.join(' ')}</span>
        </span>
        <span className="flex items-baseline gap-1.5">
          {names.map((name, i) => (
            <SlotAt
              key={name}
              path={path}
              component={from + i}
              words={digitsOf((worked as readonly number[] | undefined)?.[from + i] ?? NaN, unit, 3)}
            />
          ))}
          <span className="note number w-[38px]">{shownUnit(unit)}</span>
        </span>
      </div>
      {problem !== undefined && from === 0 && (
        <p role="alert" className="text-[12px] leading-4 text-coral-text pb-1.5">
          {problem.what} {problem.remedy}
        </p>
      )}
    </>
  )
}

/** Makes an edit that adds something; gives the name it got. */
function edited({ name, change }: { readonly name: string; readonly change: Parameters<typeof edit>[0] }): string {
  edit(change)
  return name
}
