import { useEffect, useRef, useState } from 'react'
import { ArrowLeft, Download, Printer } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { labelOf } from '@calm-hand/core/kinds'
import { useMachineName } from '../../state/chosenMachine'
import { download, fileNameOf } from '../../state/download'
import { useOpen } from '../../state/project'
import { toggled } from '../../state/toggled'
import { Working } from '../trials/Working'
import { gathered } from './gather'
import { reportHtml } from './html'

type Made =
  | { readonly kind: 'none' }
  | { readonly kind: 'working'; readonly share: number }
  | { readonly kind: 'done'; readonly html: string; readonly of: unknown }
  | { readonly kind: 'failed'; readonly what: string }

/** A report of a machine: put together once, then looked at, printed, or saved as one file. */
export function ReportPage() {
  const { project } = useParams()
  const machine = useMachineName()
  const document = useOpen((open) => open.valid)
  const problems = useOpen((open) => open.problems)
  const own = Object.entries(document.trials).filter(([, part]) => part.machine === machine)
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set())
  const [made, setMade] = useState<Made>({ kind: 'none' })
  const page = useRef<HTMLIFrameElement>(null)
  const turn = useRef(0)
  useEffect(() => () => void turn.current++, [])
  const make = async () => {
    const mine = ++turn.current
    const isWanted = () => turn.current === mine
    setMade({ kind: 'working', share: 0 })
    try {
      const report = await gathered({
        ...{ projectId: project!, document, problems, machine, isWanted },
        trials: own.map(([name]) => name).filter((name) => !without.has(name)),
        tell: (share) => isWanted() && setMade({ kind: 'working', share }),
      })
      if (report !== undefined && isWanted()) setMade({ kind: 'done', html: reportHtml(report), of: document })
    } catch (error) {
      if (isWanted()) setMade({ kind: 'failed', what: (error as Error).message })
    }
  }
  const toggle = (name: string) => setWithout((now) => toggled(now, name))
  return (
    <div className="h-full grid grid-cols-[300px_minmax(0,1fr)]">
      <aside className="panel border-r border-line" aria-label="Index" tabIndex={0}>
        <div className="section flex items-baseline gap-2">
          <h2 className="grow truncate">Report of {labelOf(document.machines[machine], machine)}</h2>
          <Link className="note underline flex items-center gap-1 whitespace-nowrap" to={`/${project}/trials`}>
            <ArrowLeft size={12} /> Trials
          </Link>
        </div>
        <section className="section">
          <p className="note pb-2">
            The machine in sentences and numbers, its loops, its trials with stills, charts and verdicts, and what is open. The
            account of a gap is in it where it was worked out.
          </p>
          <h3>Trials in it</h3>
          <ul className="py-1">
            {own.map(([name, { title }]) => (
              <li key={name}>
                <label className="flex items-center gap-2 min-h-7">
                  <input type="checkbox" className="accent-kelp" checked={!without.has(name)} onChange={() => toggle(name)} />
                  {title}
                </label>
              </li>
            ))}
          </ul>
          {own.length === 0 && <p className="note">It has no trial yet.</p>}
          <button className="button main mt-2" disabled={made.kind === 'working'} onClick={() => void make()}>
            Make the report
          </button>
        </section>
        {made.kind === 'done' && (
          <section className="section grid gap-2 justify-items-start">
            <button className="button" onClick={() => page.current?.contentWindow?.print()}>
              <Printer size={14} /> Print, or save as PDF
            </button>
            <button
              className="button"
              onClick={() => download(`${fileNameOf(document.title)} report.html`, made.html, 'text/html')}
            >
              <Download size={14} /> Save as one HTML file
            </button>
            {made.of !== document && <p className="finding border-ochre">The document has changed since. Make it anew.</p>}
          </section>
        )}
      </aside>
      <main className="h-full min-h-0 bg-fog">
        {made.kind === 'done' ? (
          <iframe
            ref={page}
            title="The report"
            className="w-full h-full bg-white"
            srcDoc={made.html}
            sandbox="allow-same-origin allow-modals"
          />
        ) : (
          <div className="p-6 max-w-[420px] mx-auto">
            {made.kind === 'working' && (
              <Working
                words="Puts it together"
                share={made.share}
                onCancel={() => {
                  turn.current++
                  setMade({ kind: 'none' })
                }}
              />
            )}
            {made.kind === 'failed' && (
              <p role="alert" className="finding border-coral">
                The report could not be made: {made.what}
              </p>
            )}
            {made.kind === 'none' && <p className="note text-center">The report stands here once it is made.</p>}
          </div>
        )}
      </main>
    </div>
  )
}
