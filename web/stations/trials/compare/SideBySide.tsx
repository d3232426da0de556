import { useState } from 'react'
import { X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Problem } from '@calm-hand/core/document'
import { likelySignals } from '@calm-hand/core/identification'
import { signalsOf } from '@calm-hand/core/simulation'
import { strokes } from '../../../chart'
import type { SeriesRole } from '../../../chart'
import { FileButton } from '../../../frame/FileButton'
import { ProblemItem } from '../../../frame/ProblemItem'
import { edit, useOpen } from '../../../state/project'
import { readRecord } from '../../../state/readFiles'
import type { TrialView } from '../useTrialView'
import { addRecord, compareWith, removeRecord } from './recordEdits'
import type { Comparison } from './useComparison'

interface SideBySideProps {
  readonly view: TrialView
  readonly comparison: Comparison | undefined
}

/** What stands side by side: records of the trial, its run, its prediction, and what was pinned. */
export function SideBySide({ view, comparison }: SideBySideProps) {
  const { trial } = view
  const document = useOpen((project) => project.valid)
  const [problems, setProblems] = useState<readonly Problem[]>([])
  const records = Object.entries(partsIn(document.trials[trial]!.records))
  const take = async (files: FileList | null) => {
    const file = files?.[0]
    if (file === undefined) return
    setProblems([])
    const read = await readRecord(file, likelySignals(document, trial, signalsOf(document, trial, view.record)))
    if (read.kind === 'refused') return setProblems(read.problems)
    const { part, uneven, hasHeader, every } = read.value
    edit(addRecord(document, trial, part, Number(view.end.toFixed(3)) || 10).change)
    setProblems([
      ...(hasHeader
        ? []
        : [{ where: 'line 1', what: 'Its first row holds numbers, not names.', remedy: 'Its columns are counted.' }]),
      ...(uneven === undefined
        ? []
        : [
            {
              where: `line ${uneven.line}`,
              what: `${uneven.count} rows have another number of fields than the first.`,
              remedy: 'What is missing there is left open.',
            },
          ]),
      ...(every === 1
        ? []
        : [
            {
              where: file.name,
              what: `It is long: every ${every}th row of it is kept.`,
              remedy: 'Cut out the part that matters for all of its rows.',
            },
          ]),
    ])
  }
  return (
    <section className="section" aria-label="Side by side">
      <div className="flex items-center gap-2">
        <h3 className="grow">Side by side</h3>
        <FileButton accept=".csv,.tsv,.txt,.dat,.log" onFiles={(files) => void take(files)}>
          Record from a file
        </FileButton>
      </div>
      <ul className="pt-1">
        {records.map(([name, part]) => (
          <li key={name} className="flex items-center gap-2 h-[24px] text-[13.5px]">
            <Line role="measured" />
            <button
              className={`grow text-left truncate ${name === comparison?.asked.record ? 'font-semibold' : ''}`}
              aria-pressed={name === comparison?.asked.record}
              onClick={() => edit(compareWith(trial, comparison!.asked, name))}
            >
              {String(part.file)}
            </button>
            <button
              className="text-mist"
              aria-label={`Let ${String(part.file)} go`}
              onClick={() => edit(removeRecord(trial, name))}
            >
              <X size={13} />
            </button>
          </li>
        ))}
        {(comparison?.lines ?? []).map(({ name, role, title }) => (
          <li key={name} className="flex items-center gap-2 h-[24px] text-[13.5px]">
            <Line role={role} />
            <b className="font-semibold">{name}</b> <span className="note truncate">{title}</span>
          </li>
        ))}
      </ul>
      {records.length === 0 && (
        <p className="note pt-1">
          No record yet. Give a table that a rig or another program wrote: delimited text, its first row names, one column of
          times.
        </p>
      )}
      {records.length > 0 && view.record === undefined && (
        <p className="finding border-ochre">Run the trial (R): then it stands beside the record.</p>
      )}
      {problems.map((problem) => (
        <ProblemItem key={problem.what} problem={problem} />
      ))}
    </section>
  )
}

function Line({ role }: { readonly role: SeriesRole }) {
  const { color, width, dash, shape } = strokes[role]
  return (
    <svg width="30" height="8" aria-hidden="true" className="shrink-0">
      <line
        x1="0"
        x2="30"
        y1="4"
        y2="4"
        stroke={`var(${color})`}
        strokeWidth={width}
        strokeDasharray={shape === 'dots' ? '2.5 3' : dash}
      />
    </svg>
  )
}
