import { groups } from '@calm-hand/core'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { everyNumber, findKind, labelOf } from '@calm-hand/core/kinds'
import { layersOfMachine } from '@calm-hand/core/machine'
import { answerTo } from '../../compute'
import { digitsOf, motionUnit, withUnit } from '../../units'
import { partWords } from '../partWords'
import { aside } from './ask'
import type { Block, Chapter } from './html'
import { machineStill } from './still'

/** A machine in sentences and numbers: its parts as they are said, what was checked of it, where it rests, and its modes. */
export async function machineChapter(document: Document, name: string): Promise<Chapter> {
  const machine = document.machines[name]!
  const report = await answerTo({
    ...{ name: 'report', document, rest: [name, layersOfMachine(machine).map((layer) => layer.name)], subject: `report ${name}` },
    ...aside,
  })
  const checks = report.checks.map(({ name: check, holds, value, unit, note }) => [
    check,
    holds ? 'holds' : 'fails',
    withUnit(value, unit, 4),
    note,
  ])
  const point = report.point.kind === 'done' ? report.point.value : undefined
  const blocks: Block[] = [
    {
      kind: 'picture',
      address: await machineStill({ machine, machineName: name }),
      caption: `${labelOf(machine, name)}, as it is drawn`,
    },
    { kind: 'table', title: 'What was checked of it', head: ['check', '', 'value', 'note'], rows: checks },
    ...partLists(document, name),
    ...(point === undefined
      ? [{ kind: 'note' as const, words: report.point.kind === 'refused' ? (report.point.problems[0]?.what ?? '') : '' }]
      : [
          {
            kind: 'table' as const,
            title: 'What holds it where it works',
            head: ['input', 'value'],
            rows: point.inputs.map(({ label, unit, value }) => [label, withUnit(value, unit, 4)]),
          },
          {
            kind: 'table' as const,
            title: 'Its modes there',
            head: ['mode of', 'frequency', 'damping', 'time constant'],
            rows: point.modes.map(({ owner, frequency, damping, timeConstant }) => [
              owner,
              frequency === 0 ? 'does not swing' : withUnit(frequency, 'rad/s', 3),
              frequency === 0 ? '' : digitsOf(damping, '', 3),
              timeConstant === undefined ? '' : withUnit(timeConstant, 's', 3),
            ]),
          },
        ]),
    numbers(document, name),
  ]
  return { title: labelOf(machine, name), blocks }
}

/** Each group of its parts, a sentence a part. */
function partLists(document: Document, name: string): readonly Block[] {
  const machine = document.machines[name]!
  const kind = findKind(groups.machines, machine)
  return Object.entries(kind?.slots ?? {}).flatMap(([slot, definition]): Block[] => {
    if (definition.type !== 'parts') return []
    const items = Object.entries(partsIn(machine[slot])).map(([key, part]) => {
      const said = partWords(document, { machine: name }, definition.kinds, part)
      return `${labelOf(part, key)}: ${said ?? part.kind}`
    })
    return items.length === 0 ? [] : [{ kind: 'list', title: definition.label, items }]
  })
}

function numbers(document: Document, name: string): Block {
  const machine = document.machines[name]!
  const rows = everyNumber(groups.machines, machine).map(({ words, value, unit }) => [
    words,
    withUnit(value, motionUnit(unit), 6),
  ])
  return { kind: 'table', title: 'Its numbers', head: ['number', 'value'], rows }
}
