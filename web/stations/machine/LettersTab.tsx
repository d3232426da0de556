import { Copy, Download } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { Document, Part } from '@calm-hand/core/document'
import { freeBodyInLetters } from '@calm-hand/core/letters'
import type { Naming } from '@calm-hand/core/letters'
import { bodiesOf, isBodiless, shortName } from '@calm-hand/core/machine'
import type { ModelReport } from '@calm-hand/core/simulation'
import { download } from '../../state/download'
import { ChoiceField } from '../../sentence'
import { useLetters } from '../../state/reports'
import { FreeBody } from './mechanism/FreeBody'

interface LettersTabProps {
  readonly name: string
  readonly document: Document
  /** As it is written, with its formulas. */
  readonly written: Part
  readonly report: ModelReport | undefined
  /** The body whose forces are wanted. */
  readonly body?: string
}

type Typeset = (latex: string) => string

const namings: Readonly<Record<Naming, string>> = { parameters: 'its parameters', all: 'all its numbers' }

/** The mathematics: equations of motion in letters, then the linear form about where it rests. LaTeX and SVG to take away. */
export function LettersTab({ name, document, written, report, body }: LettersTabProps) {
  const machine = document.machines[name]!
  const [naming, setNaming] = useState<Naming>('all')
  const point = report?.point.kind === 'done' ? report.point.value : undefined
  const { answer, failure } = useLetters(document, name, written, naming, report)
  const typeset = useTypeset()
  const [said, setSaid] = useState('')
  if (failure !== undefined) return <p className="p-4 text-coral-text">The equations could not be derived: {failure}</p>
  if (answer === undefined || typeset === undefined) return <p className="note p-4">Deriving its equations ...</p>
  const { letters, linear, transfer } = answer
  const lines = letters.kind === 'done' ? letters.value.lines : []
  const inLetters = letters.kind === 'done' ? letters.value.linear : undefined
  const loads = body === undefined ? undefined : point?.loads[body]
  const free = loads === undefined ? [] : freeBodyInLetters(body!, hungOn(machine, body!), loads)
  const all = [...lines, ...linear, ...transfer, ...free]
  return (
    <div className="h-full min-w-0 overflow-auto px-4 pt-2 pb-3" tabIndex={0} aria-label="Mathematics">
      {letters.kind === 'refused' && (
        <p className="text-[12.5px] text-ochre-text pb-2">
          {letters.problems[0]!.what} {letters.problems[0]!.remedy}
        </p>
      )}
      <div className="flex items-center gap-2 text-[12.5px] pb-1">
        {!isBodiless(machine) && (
          <span>
            Letters for{' '}
            <ChoiceField label="letters" value={naming} options={namings} onChoose={(next) => setNaming(next as Naming)} />.
          </span>
        )}
        <span className="grow" />
        <span role="status" className="note">
          {said}
        </span>
        <button className="button small" onClick={() => void copied(all).then(setSaid)}>
          <Copy size={13} /> LaTeX
        </button>
        <button
          className="button small"
          onClick={() => download(`${name}-equations.svg`, new Blob([whole(typeset, all)], { type: 'image/svg+xml' }))}
        >
          <Download size={13} /> SVG
        </button>
      </div>
      {lines.map((line) => (
        <Formula key={line} latex={line} typeset={typeset} />
      ))}
      {letters.kind === 'done' && letters.value.legend.length > 0 && (
        <ul className="flex flex-wrap gap-x-4 gap-y-0.5 py-1 text-[12px]">
          {letters.value.legend.map(({ latex, words }) => (
            <li key={latex} className="flex items-center gap-1">
              <Formula latex={latex} typeset={typeset} /> <span className="note">{words}</span>
            </li>
          ))}
        </ul>
      )}
      {linear.length > 0 && <h3 className="pt-1.5">About where it rests</h3>}
      {linear.map((line) => (
        <Formula key={line} latex={line} typeset={typeset} />
      ))}
      {inLetters !== undefined && inLetters.note !== '' && <p className="note">{inLetters.note}</p>}
      {transfer.length > 0 && <h3 className="pt-1.5">Transfer functions</h3>}
      {transfer.map((line) => (
        <Formula key={line} latex={line} typeset={typeset} />
      ))}
      {loads !== undefined && (
        <>
          <h3 className="pt-1.5">What acts on {shortName(body!, machine)} where it rests</h3>
          {free.map((line) => (
            <Formula key={line} latex={line} typeset={typeset} />
          ))}
          <FreeBody machine={machine} loads={loads} />
        </>
      )}
    </div>
  )
}

function Formula({ latex, typeset }: { readonly latex: string; readonly typeset: Typeset }) {
  return (
    <div
      role="math"
      aria-label={latex}
      className="py-1 text-[13px] [&>svg]:max-w-none"
      // our own letters set by the typesetter: names of the document hold letters and digits only
      dangerouslySetInnerHTML={{ __html: typeset(latex).replace('role="img"', 'aria-hidden="true"') }}
    />
  )
}

function hungOn(machine: Part, body: string): string {
  return bodiesOf(machine)[body]!.joint.on
}

/** The typesetter is large, so it comes when it is wanted. */
function useTypeset(): Typeset | undefined {
  const [typeset, setTypeset] = useState<Typeset>()
  useEffect(() => {
    let wanted = true
    void import('./typeset').then((module) => wanted && setTypeset(() => module.typeset))
    return () => {
      wanted = false
    }
  }, [])
  return typeset
}

/** Puts the lines on the clipboard; says how that went. */
async function copied(lines: readonly string[]): Promise<string> {
  try {
    await navigator.clipboard.writeText(lines.map((line) => `\\[ ${line} \\]`).join('\n'))
    return 'LaTeX copied.'
  } catch {
    return 'The browser does not let the page copy.'
  }
}

/** All lines in one drawing. */
function whole(typeset: Typeset, lines: readonly string[]): string {
  return typeset(`\\begin{gathered} ${lines.join(' \\\\[1.2ex] ')} \\end{gathered}`)
}
