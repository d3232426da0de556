import { placeInWords } from '@calm-hand/core'
import type { Document, Problem } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { format } from 'date-fns'
import { answerTo } from '../../compute'
import { withUnit } from '../../units'
import { aside } from './ask'
import type { Block, Chapter, Report } from './html'
import { loopChapter } from './loopChapter'
import { machineChapter } from './machineChapter'
import { trialTold } from './trialChapter'

export interface Asked {
  readonly projectId: string
  /** Resolved, without problems. */
  readonly document: Document
  readonly problems: readonly Problem[]
  readonly machine: string
  readonly trials: readonly string[]
  readonly isWanted: () => boolean
  readonly tell: (share: number) => void
}

/** Everything that a report says: of one machine, its loops, and some of its trials; nothing that is not in the document or worked out from it. */
export async function gathered(asked: Asked): Promise<Report | undefined> {
  const { projectId, document, problems, machine, trials, isWanted, tell } = asked
  const steps = 3 + trials.length
  let done = 0
  const next = async <Made>(work: Promise<Made>): Promise<Made> => {
    const made = await work
    tell(++done / steps)
    return made
  }
  const body = await next(machineChapter(document, machine))
  if (!isWanted()) return undefined
  const loops = await next(loopChapter(document, machine))
  const told = []
  for (const trial of trials) {
    if (!isWanted()) return undefined
    told.push(await next(trialTold(document, projectId, trial)))
  }
  const open = [
    ...problems.map(({ where, what }) => `${placeInWords(document, where)}: ${what}`),
    ...(await next(stale(document))),
    ...told.flatMap((one) => one.open),
  ]
  const chapters: Chapter[] = [
    { title: 'What is open', blocks: [open.length === 0 ? nothingOpen : { kind: 'list', items: open }] },
    ...(parameters(document).length === 0 ? [] : [{ title: 'Parameters', blocks: parameters(document) }]),
    body,
    loops,
    { title: 'Trials', blocks: [], sections: told },
  ]
  return {
    title: document.title,
    about: [document.about, ...document.note.split(/\n+/)].filter((words) => words.trim() !== ''),
    made: `${labelOf(document.machines[machine], machine)}, made ${format(new Date(), 'd MMMM yyyy, HH:mm')} with Calm Hand.`,
    chapters,
  }
}

const nothingOpen: Block = { kind: 'words', words: 'Nothing: every trial was run as it stands, and what must hold, holds.' }

async function stale(document: Document): Promise<readonly string[]> {
  const ask = { document, rest: [] as [], subject: 'report', ...aside } as const
  const [older, beyond] = [await answerTo({ ...ask, name: 'stale' }), await answerTo({ ...ask, name: 'beyondReach' })]
  return [
    ...older.map(({ name }) => `${labelOf(document.loops[name], name)}: its gains are older than the machine.`),
    ...beyond.map((name) => `${labelOf(document.loops[name], name)}: what is asked of it cannot be reached.`),
  ]
}

function parameters(document: Document): readonly Block[] {
  const rows = Object.entries(document.parameters ?? {}).map(([name, { value, unit }]) => [
    labelOf(document.parameters![name], name),
    typeof value === 'number' ? withUnit(value, { name: String(unit ?? ''), size: 1 }, 6) : String(value),
  ])
  return rows.length === 0 ? [] : [{ kind: 'table', head: ['parameter', 'value'], rows }]
}
