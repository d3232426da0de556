import { useState } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { NumberShare, SeparatingCue, Separation } from '@calm-hand/core/identification'
import { answerTo } from '../../../compute'
import type { AskedRecord } from '../../../state/against'
import { edit, lookedAt } from '../../../state/project'
import type { Edit } from '../../../state/edits'
import { freeName } from '../../machine/partEdits'

interface SeparatingProps {
  readonly trial: string
  readonly projectId: string
  readonly asked: AskedRecord
  readonly numbers: readonly NumberShare[]
}

/** Which cue would tell apart what the record shows only together: by slopes, not flown. */
export function Separating({ trial, projectId, asked, numbers }: SeparatingProps) {
  const [found, setFound] = useState<Separation | string>()
  const [busy, setBusy] = useState(false)
  const first = numbers.find(({ mates }) => mates.length > 0)
  const mate = first?.mates[0]
  if (first === undefined || mate === undefined) return null
  const look = async () => {
    setBusy(true)
    const project = await lookedAt(projectId)
    const beside = numbers.filter((one) => one !== first).map(({ name }) => name)
    const answer =
      project === undefined
        ? undefined
        : await answerTo({
            ...{ name: 'recordSeparated', document: project.valid, lane: 'study', rank: 1, subject: `separating ${trial}` },
            rest: [project.document, trial, asked.record, asked.from, asked.to, [first.name, mate.name], beside],
          }).catch((error: Error) => error.message)
    setBusy(false)
    if (answer !== undefined)
      setFound(typeof answer === 'string' ? answer : answer.kind === 'done' ? answer.value : answer.problems[0]!.what)
  }
  return (
    <div className="py-1.5 border-t border-line" role="group" aria-label="A cue that would tell them apart">
      <div className="flex items-baseline gap-2">
        <h3 className="grow">A cue that would tell them apart</h3>
        {found === undefined && (
          <button className="button small" disabled={busy} onClick={() => void look()}>
            {busy ? 'Looking' : 'Look for one'}
          </button>
        )}
      </div>
      <p className="note">
        {first.label} from {mate.label}; by slopes, not flown.
      </p>
      {typeof found === 'string' && <p className="finding border-coral">{found}</p>}
      {typeof found === 'object' && (
        <ul className="text-[12.5px]">
          <li className="flex text-mist h-[21px]">
            <span className="grow">this record alone</span> <Known bound={found.now} />
          </li>
          {found.cues.slice(0, 4).map((one) => (
            <li key={one.label} className="flex items-baseline gap-2 h-[23px]">
              <button
                className="grow text-left underline truncate"
                title={`Add it to the trial: ${one.label}`}
                onClick={() => edit(withCue(trial, one))}
              >
                {one.label}
              </button>
              <Known bound={one.bound} />
            </li>
          ))}
          {found.cues.length === 0 && <li className="note">No cue was found with which the run goes on.</li>}
        </ul>
      )}
    </div>
  )
}

/** From 0.2 to 100 %, by decades, on a line; beyond that nothing is known. */
function Known({ bound }: { readonly bound: number }) {
  const percent = 100 * bound
  const place = Math.min(1, Math.max(0, Math.log10(Math.max(percent, 1e-9) / 0.2) / Math.log10(500)))
  return (
    <span className="flex items-center gap-2 shrink-0">
      <svg width="72" height="9" aria-hidden="true">
        <line x1="4" x2="68" y1="4.5" y2="4.5" stroke="var(--line-2)" />
        <circle cx={4 + 64 * place} cy="4.5" r="3.2" fill={place < 0.5 ? 'var(--kelp)' : 'var(--chalk)'} stroke="var(--kelp)" />
      </svg>
      <span className="number w-[62px] text-right">{percent > 999 ? 'not at all' : `± ${Number(percent.toPrecision(2))} %`}</span>
    </span>
  )
}

function withCue(trial: string, { label, cue, after }: SeparatingCue): Edit {
  return {
    label: `Add a cue: ${label}`,
    apply: (document: Document) => {
      const part = document.trials[trial]!
      const name = freeName(Object.keys(partsIn(part.cues)), 'separating')
      const next = { ...part, cues: { ...part.cues, [name]: cue }, after }
      return { ...document, trials: { ...document.trials, [trial]: next } } as Document
    },
  }
}
