import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { groups } from '@calm-hand/core'
import { labelOf } from '@calm-hand/core/kinds'
import { findHeld } from '@calm-hand/core/machine'
import { pushOf } from '@calm-hand/core/control'
import { sceneOf } from '@calm-hand/core/scene'
import {
  asItCame,
  checks as checkKinds,
  cues as cueKinds,
  findColumn,
  override,
  rowAt,
  runHash,
} from '@calm-hand/core/simulation'
import type { Record as RunRecord, Verdict } from '@calm-hand/core/simulation'
import { answerTo } from '../../compute'
import { printedChart } from '../../chart'
import type { PrintedPanel, Series } from '../../chart'
import { gapKey, ofSignal, useGap } from '../../state/gap'
import { loadRun, useRuns } from '../../state/runs'
import { judgedPart } from '../../state/verdicts'
import { motionUnit, shownUnit, signalUnit, withUnit } from '../../units'
import { causeLabel } from '../trials/gap/causeLabel'
import { lineOf } from '../trials/strips/lines'
import { partWords } from '../partWords'
import { aside } from './ask'
import type { Block } from './html'
import { chartSizes } from './sizes'
import { machineStill } from './still'

/** What a report says of a trial, and what of it is open. */
export interface TrialTold {
  readonly title: string
  readonly blocks: readonly Block[]
  readonly open: readonly string[]
}

/** A trial: what happens, a still, charts of what its cues move, its verdicts, and the account of the gap where it was worked out. */
export async function trialTold(document: Document, projectId: string, trial: string): Promise<TrialTold> {
  const part = document.trials[trial]!
  const said = (kinds: Parameters<typeof partWords>[2], one: Part) => partWords(document, { trial }, kinds, one) ?? one.kind
  const { record, isOlder } = await runOf(document, projectId, trial)
  const blocks: Block[] = [
    { kind: 'words', words: said(groups.trials, part) },
    list(
      'What happens',
      Object.values(partsIn(part.cues)).map((cue) => said(cueKinds, cue)),
    ),
    list(
      'What it changes of the machine',
      Object.values(partsIn(part.overrides)).map((one) => said([override], one)),
    ),
  ].filter((block): block is Block => block !== undefined)
  const title = String(part.title)
  if (record === undefined) {
    const note: Block = { kind: 'note', words: 'It has not been run.' }
    return { title, blocks: [...blocks, note], open: [`${title} has not been run.`] }
  }
  const verdicts = await verdictsTold(document, trial, record)
  return {
    title,
    blocks: [
      ...blocks,
      ...(isOlder ? [{ kind: 'note' as const, words: 'Its run is older than the machine, the loops or the trial.' }] : []),
      await still(document, trial, record, verdicts),
      ...(await charts(document, trial, record)),
      verdictTable(document, trial, verdicts),
      ...(await account(document, trial, record)),
      { kind: 'note', words: `Run ${record.hash}, seed ${record.seed}, ${record.time.at(-1)!.toFixed(2)} s.` },
    ],
    open: [
      ...(isOlder ? [`${title}: its run is older than what it is of.`] : []),
      ...verdicts.flatMap(({ check, outcome, why }) => {
        if (outcome === 'holds') return []
        const words = said(checkKinds, partsIn(part.checks)[check]!)
        return [`${title}: ${words} ${outcome === 'fails' ? 'It fails.' : `It is open. ${why ?? ''}`}`]
      }),
    ],
  }
}

function list(title: string, items: readonly string[]): Block | undefined {
  return items.length === 0 ? undefined : { kind: 'list', title, items }
}

/** The run of just this document, else the last one. */
async function runOf(document: Document, projectId: string, trial: string) {
  const current = runHash(document, trial)
  const { records, latest } = useRuns.getState()
  const hash = records[current] === undefined ? latest[trial]?.hash : current
  if (hash === undefined) return { record: undefined, isOlder: false }
  await loadRun(projectId, hash)
  return { record: useRuns.getState().records[hash], isOlder: hash !== current }
}

async function verdictsTold(document: Document, trial: string, record: RunRecord): Promise<readonly Verdict[]> {
  if (Object.keys(partsIn(document.trials[trial]!.checks)).length === 0) return []
  return answerTo({
    ...{ name: 'verdicts', document, rest: [trial, judgedPart(document, trial, record)], subject: `report ${trial}` },
    ...aside,
  })
}

function verdictTable(document: Document, trial: string, verdicts: readonly Verdict[]): Block {
  if (verdicts.length === 0) return { kind: 'note', words: 'Nothing has to hold in it.' }
  const all = partsIn(document.trials[trial]!.checks)
  const rows = verdicts.map(({ check, outcome, margin, unit, at }) => [
    partWords(document, { trial }, checkKinds, all[check]) ?? check,
    outcome,
    margin === undefined ? '' : withUnit(margin, motionUnit(unit), 3),
    at === undefined ? '' : `${at.toFixed(2)} s`,
  ])
  return { kind: 'table', title: 'What must hold', head: ['check', 'outcome', 'margin', 'nearest at'], rows }
}

/** Where the first check failed, else in the middle of the run. */
async function still(document: Document, trial: string, record: RunRecord, verdicts: readonly Verdict[]): Promise<Block> {
  const failed = verdicts.find(({ outcome, failedAt }) => outcome === 'fails' && failedAt !== undefined)?.failedAt
  const at = failed ?? record.time.at(-1)! / 2
  const { machine: machineName } = document.trials[trial]!
  const address = await machineStill({
    ...{ machine: document.machines[machineName]!, machineName, scene: sceneOf(document, trial) },
    ...{ record, row: rowAt(record, at) },
  })
  return { kind: 'picture', address, caption: `At ${at.toFixed(2)} s${failed === undefined ? '' : ', where a check fails'}` }
}

/** mm */
const panelHeight = 42

/** A chart of each loop that the cues move: what is held with what was asked and predicted, and the command. */
async function charts(document: Document, trial: string, record: RunRecord): Promise<readonly Block[]> {
  const clocked = asItCame(document, trial, record.cues)
  const cued = Object.values(partsIn(document.trials[trial]!.cues)).map(({ loop }) => String(loop))
  const loops = [...new Set(cued)].filter((loop) => document.loops[loop] !== undefined)
  const blocks: Block[] = []
  for (const loop of loops) {
    const prediction = await answerTo({
      ...{ name: 'predicted', document: clocked, rest: [trial, loop], subject: `report ${trial} ${loop}` },
      ...aside,
    })
    const part = document.loops[loop]!
    const machine = document.machines[part.machine]!
    const [held, push] = [findHeld(machine, part.holds)!, pushOf(document, part)!]
    const column = (name: string, words: string, role: Series['role'], unit: string): Series[] => {
      const values = findColumn(record, name)
      return values === undefined ? [] : [lineOf(words, role, record.time, values, unit)]
    }
    const [unit, pushUnit] = [motionUnit(held.unit), motionUnit(push.unit)]
    const panels: PrintedPanel[] = [
      {
        label: `${held.label}, ${shownUnit(unit)}`,
        series: [
          ...column(`loops.${loop}.reference`, 'reference', 'reference', unit),
          ...column(`${part.machine}.${part.holds}`, 'actual', 'actual', unit),
          ...(prediction === undefined ? [] : [lineOf('prediction', 'prediction', prediction.t, prediction.held, unit)]),
        ],
      },
      { label: `command, ${shownUnit(pushUnit)}`, series: column(`loops.${loop}.command`, 'command', 'command', pushUnit) },
    ]
    const svg = printedChart(panels, 'time, s', chartSizes(2 * panelHeight))
    blocks.push({ kind: 'drawing', svg, caption: `${labelOf(part, loop)}: simulated and predicted` })
  }
  return blocks
}

/** The account of the gap as it was worked out last, where it is of this run. */
async function account(document: Document, trial: string, record: RunRecord): Promise<readonly Block[]> {
  const { key, state } = useGap.getState()
  const asked = document.trials[trial]!.gap as { readonly signal: string; readonly from: number; readonly to: number } | undefined
  if (state.kind !== 'done' || asked === undefined || key !== gapKey(document, trial, record)) return []
  const { signal, from, to } = asked
  const { plan, runs } = ofSignal(state.found, signal)
  const told = await answerTo({
    ...{ name: 'gapShares', document, rest: [plan, runs, signal, from, to], subject: `report ${trial}` },
    ...aside,
  })
  if (told.kind === 'refused') return []
  const { machine: machineName } = document.trials[trial]!
  const of = { trial, machineName, machine: document.machines[machineName]! }
  const rows = told.value.shares.map(({ cause, portion }) => {
    const found = plan.causes.find(({ name }) => name === cause)!
    return [causeLabel(document, of, found), found.detail, `${(100 * portion).toFixed(1)} %`]
  })
  const unit = signalUnit(told.value.signal)
  return [
    {
      ...{ kind: 'table', head: ['cause', '', 'share'], rows },
      title: `Account for the gap: of ${told.value.signal.label}, from ${from} s to ${to} s, ${withUnit(told.value.whole, unit, 3)} rms`,
    },
  ]
}
