import { groups } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { answerTo } from '../../compute'
import type { Answer } from '../../compute'
import { printedChart } from '../../chart'
import type { Series } from '../../chart'
import { digitsOf, motionUnit, shownUnit, toShown, withUnit } from '../../units'
import { partWords } from '../partWords'
import { aside } from './ask'
import type { Block, Chapter } from './html'
import { chartSizes } from './sizes'

type Judged = NonNullable<NonNullable<Answer<'loopView'>>['now']>

/** The loops of a machine: sentence, gains, margins, findings, and the answer to a step. */
export async function loopChapter(document: Document, machine: string): Promise<Chapter> {
  const names = Object.keys(document.loops).filter((name) => document.loops[name]!.machine === machine)
  const sections: { title: string; blocks: Block[] }[] = []
  for (const name of names) {
    const view = await answerTo({
      ...{ name: 'loopView', document, rest: [name], subject: `report ${name}` },
      ...aside,
    })
    const said = partWords(document, { machine }, groups.loops, document.loops[name])
    sections.push({
      title: labelOf(document.loops[name], name),
      blocks: [
        ...(said === undefined ? [] : [{ kind: 'words' as const, words: said }]),
        ...(view?.now === undefined
          ? (view?.problems ?? []).map(({ what, remedy }) => ({
              kind: 'note' as const,
              words: `It has no design: ${what} ${remedy}`,
            }))
          : designBlocks(view, view.now)),
      ],
    })
  }
  return { title: 'Loops', blocks: names.length === 0 ? [{ kind: 'note', words: 'It has no loop.' }] : [], sections }
}

function designBlocks(view: NonNullable<Answer<'loopView'>>, { design, analysis, step, findings }: Judged): Block[] {
  const { crossover, phaseMargin, gainMargin, stable, notLinear } = analysis
  const gains = Object.entries(design.gains).map(([gain, value]) => [gain, digitsOf(value, '', 5)])
  const figures: string[][] = [
    ['closed loop', notLinear === undefined ? (stable ? 'stable' : 'not stable') : `nothing linear to tell: ${notLinear}`],
    ...(crossover === undefined ? [] : [['crossover', withUnit(crossover, 'rad/s', 3)]]),
    ...(phaseMargin === undefined ? [] : [['phase margin', withUnit(phaseMargin, 'rad', 3)]]),
    ...(gainMargin === undefined
      ? []
      : [['gain margin', `× ${digitsOf(gainMargin.factor, '', 3)} at ${withUnit(gainMargin.w, 'rad/s', 3)}`]]),
    ['sample rate', `${digitsOf(1 / design.dt, '', 4)} Hz`],
  ]
  return [
    { kind: 'table', title: 'Gains', rows: gains },
    { kind: 'table', title: 'Margins', rows: figures },
    ...(findings.length === 0 ? [] : [{ kind: 'list' as const, title: 'Findings', items: findings.map(({ words }) => words) }]),
    {
      kind: 'drawing',
      svg: stepChart(view, step),
      caption: `Its answer to what is asked of it, with all other loops as they stand`,
    },
  ]
}

function stepChart({ quantity, axis }: NonNullable<Answer<'loopView'>>, step: Judged['step']): string {
  const [held, push] = [motionUnit(quantity.unit), motionUnit(axis.unit)]
  const line = (name: string, role: Series['role'], values: Float64Array, unit: string): Series => ({
    ...{ name, role, xs: step.t },
    ys: values.map((value) => toShown(value, unit)),
  })
  return printedChart(
    [
      {
        label: `${quantity.label}, ${shownUnit(held)}`,
        series: [line('asked', 'reference', step.wanted, held), line('answer', 'prediction', step.held, held)],
      },
      { label: `push, ${shownUnit(push)}`, series: [line('push', 'command', step.push, push)] },
    ],
    'time, s',
    chartSizes(80),
  )
}
