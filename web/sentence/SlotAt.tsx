import { memo } from 'react'
import { asCued, pushChoices } from '@calm-hand/core/control'
import { findAt, partAt, partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { isFormula } from '@calm-hand/core/formula'
import { blankPart, findKind } from '@calm-hand/core/kinds'
import type { NameSlot } from '@calm-hand/core/kinds'
import {
  batteryNames,
  coordinateNames,
  fixableNames,
  fixableOf,
  ground,
  heldQuantities,
  inputNames,
  outputNames,
  pointNames,
  pushesOf,
  runnableNames,
  shortName,
  unitFixed,
} from '@calm-hand/core/machine'
import { labelled } from '../state/labels'
import { edit, useSettled } from '../state/project'
import { setValue, setValues } from '../state/edits'
import { digitsOf } from '../units'
import type { UnitSaid } from '../units'
import { ChoiceField } from './ChoiceField'
import { NamesField } from './NamesField'
import { NumberField } from './NumberField'
import { TableField } from './TableField'
import { TextField } from './TextField'
import { Toggle } from './Toggle'
import { useSlotValue } from './useSlotValue'

interface SlotAtProps {
  /** Document path: `loops.height.rate`. */
  readonly path: string
  /** Other places with the same slot, which get the same value. */
  readonly also?: readonly string[]
  /** Which component of a vector. */
  readonly component?: number
  /** Choices for a name slot, and words for its values. */
  readonly names?: Readonly<Record<string, string>>
  /** Unit where the slot's own depends on its neighbours. */
  readonly unit?: UnitSaid
  readonly digits?: number
  readonly words?: string
  readonly shows?: 'withUnit' | 'bare'
  readonly effect?: React.ReactNode
}

/** The slot at a path of the document, in the form that its kind asks for. */
export const SlotAt = memo(function SlotAt({
  path,
  also = [],
  component,
  names,
  unit,
  digits,
  words,
  shows = 'withUnit',
  effect,
}: SlotAtProps) {
  const { slot, value, worked, problem } = useSlotValue(path)
  const document = useSettled((one) => one)
  if (slot === undefined) return <span className="text-coral-text">{path}?</span>
  const shown = problem === undefined ? undefined : `${problem.what} ${problem.remedy}`
  const choose = (next: unknown) => edit(setValues([path, ...also], next, `Set ${slot.label}`))
  const isMissing = slot.type === 'number' && worked === undefined && slot.otherwise === undefined
  const bare = isMissing
    ? 'none'
    : shows === 'bare' && slot.type === 'number'
      ? digitsOf(worked as number, unit ?? slot.unit, 12)
      : undefined
  const said = shown === undefined ? {} : { problem: shown }
  const number = { digits, words: words ?? bare, effect, ...said }
  switch (slot.type) {
    case 'number':
      return (
        <NumberField
          path={path}
          also={also}
          label={slot.label}
          unit={unit ?? (slot.unitOf === undefined ? slot.unit : unitBeside(document, path, slot.unitOf))}
          value={(worked ?? slot.otherwise) as number}
          {...formulaOf(value)}
          {...number}
          digits={slot.whole ? 12 : digits}
        />
      )
    case 'vector':
      return (
        <NumberField
          path={`${path}.${component ?? 0}`}
          also={also.map((one) => `${one}.${component ?? 0}`)}
          label={`${slot.label} ${slot.components[component ?? 0]}`}
          unit={slot.unit}
          value={(worked as readonly number[])[component ?? 0]!}
          {...formulaOf((value as readonly unknown[])[component ?? 0])}
          {...number}
        />
      )
    case 'table':
      return <TableField path={path} slot={slot} value={value as readonly (readonly (number | string)[])[]} {...said} />
    case 'formula':
      return <TextField path={path} label={slot.label} value={(value ?? '') as string} isFormula {...said} />
    case 'choice':
      return (
        <ChoiceField
          path={path}
          label={slot.label}
          value={(value ?? slot.otherwise) as string}
          options={slot.options}
          onChoose={choose}
          invalid={problem !== undefined}
        />
      )
    case 'toggle':
      return <Toggle label={slot.label} on={value === true} onChange={choose} />
    case 'name': {
      if (slot.of === 'text')
        return <TextField path={path} label={slot.label} value={(value ?? '') as string} isFormula={false} {...said} />
      if (slot.of === 'coordinates' || slot.of === 'drives' || slot.of === 'pushes')
        return (
          <NamesField
            path={path}
            label={slot.label}
            value={(value ?? '') as string}
            options={namesFor(slot.of, document, path)}
            onChange={choose}
            invalid={problem !== undefined}
          />
        )
      return (
        <ChoiceField
          path={path}
          label={slot.label}
          value={(value ?? '') as string}
          options={names ?? namesFor(slot.of, document, path)}
          onChoose={choose}
          invalid={problem !== undefined}
        />
      )
    }
    case 'part': {
      const part = value as Part
      const options = Object.fromEntries(
        slot.kinds.map((kind) => [kind.name, 'label' in kind ? (kind as { label: string }).label : kind.says]),
      )
      return (
        <ChoiceField
          path={path}
          label={slot.label}
          value={part.kind}
          options={options}
          onChoose={(kind) => edit(setValue(path, blankPart(findKind(slot.kinds, { kind })!, part), `Set ${slot.label}`))}
        />
      )
    }
    case 'parts':
      return null
    default:
      return slot satisfies never
  }
})

/** What a name may be: bodies and coordinates of the machine that the path is in, or loops. */
function namesFor(of: NameSlot['of'], document: Document, path: string): Readonly<Record<string, string>> {
  const machine = partAt(document, path.split('.').slice(0, 2).join('.'))
  switch (of) {
    case 'body': {
      // what pushes a body in a trial does nothing to the ground
      const isTrial = path.startsWith('trials.')
      const bodies = (isTrial ? ownerOf(document, path) : machine)?.bodies ?? {}
      return { ...(isTrial ? {} : listed([ground])), ...labelled(bodies as Readonly<Record<string, Part>>) }
    }
    case 'coordinate':
    case 'coordinates':
      return shown(machine === undefined ? [] : coordinateNames(machine), machine)
    case 'fixable':
      return shown(
        machine === undefined ? [] : machine.bodies === undefined ? fixableNames(machine) : fixableOf(machine),
        machine,
      )
    case 'runnable':
      return shown(
        machine === undefined ? [] : machine.bodies === undefined ? Object.keys(partsIn(machine.states)) : runnableNames(machine),
        machine,
      )
    case 'point':
      return {
        '': path.startsWith('loops.') ? 'where the machine works' : 'its own conditions',
        ...shown(pointNames(ownerOf(document, path)), ownerOf(document, path)),
      }
    case 'pushes':
      return shown(
        Object.keys(partsIn(machine?.pushes)).map((name) => `pushes.${name}`),
        machine,
      )
    case 'drives':
    case 'input':
      return shown(machine === undefined ? [] : inputNames(machine), machine)
    case 'output':
      return shown(machine === undefined ? [] : outputNames(machine), machine)
    case 'signal':
      return { '': 'nothing', ...shown(machine === undefined ? [] : outputNames(machine), machine) }
    case 'supply':
      return {
        '': 'a supply of its own',
        ...shown(machine === undefined ? [] : batteryNames(machine).map((name) => name), machine),
      }
    case 'held':
      return byLabel(heldQuantities(ownerOf(document, path)))
    case 'push':
      return byLabel(pushChoices(document, path.split('.')[1]!))
    case 'cued':
      return cuedNames(document, ownerOf(document, path))
    case 'machine':
      return labelled(document.machines)
    case 'scene':
      return labelled(document.scenes ?? {})
    default:
      return labelled(document.loops)
  }
}

/** The unit of the signal that the slot beside a number names. */
function unitBeside(document: Document, path: string, slot: string): string {
  const machine = document.machines[path.split('.')[1]!]
  const signal = findAt(document, `${path.slice(0, path.lastIndexOf('.'))}.${slot}`)
  return machine === undefined ? '' : unitFixed(machine, signal as string)
}

/** The machine that a path is in, or that the loop or trial at it is about. */
function ownerOf(document: Document, path: string): Part {
  const owner = partAt(document, path.split('.').slice(0, 2).join('.'))!
  return path.startsWith('machines.') ? owner : (document.machines[owner.machine as string] ?? { kind: '' })
}

/** What a cue may move: loops of the machine that follow cues, then its pushes. */
function cuedNames(document: Document, machine: Part): Record<string, string> {
  const loops = Object.keys(document.loops).filter((name) => {
    const loop = document.loops[name]!
    return document.machines[loop.machine] === machine && loop.reference === 'cue'
  })
  const pushes = pushesOf(machine).map(({ name, label }) => ({ name: asCued(name), label: `the push ${label}` }))
  return { ...labelled(document.loops, loops), ...byLabel(pushes) }
}

function byLabel(list: readonly { readonly name: string; readonly label: string }[]): Record<string, string> {
  return Object.fromEntries(list.map(({ name, label }) => [name, label]))
}

/** Coordinates, inputs and outputs as people say them. */
function shown(names: readonly string[], machine: Part | undefined): Record<string, string> {
  return Object.fromEntries(names.map((name) => [name, shortName(name, machine)]))
}

function listed(names: readonly string[]): Record<string, string> {
  return Object.fromEntries(names.map((name) => [name, name]))
}

function formulaOf(value: unknown): { readonly formula?: string } {
  return isFormula(value) ? { formula: value } : {}
}
