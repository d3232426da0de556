import { Check as Tick, Circle, X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import type { Slot } from '@calm-hand/core/kinds'
import { checks as checkKinds, countOf, signalsOf } from '@calm-hand/core/simulation'
import type { Check, CheckCount, RunSignal, Verdict } from '@calm-hand/core/simulation'
import { AddMenu } from '../../frame/AddMenu'
import { Sentence, SlotAt } from '../../sentence'
import { removePart, setValue } from '../../state/edits'
import { loopLabel } from '../../state/labels'
import { edit, useOpen } from '../../state/project'
import { digitsOf, signalUnit, withUnit } from '../../units'
import { addCheck } from './checkEdits'
import { FindSignal } from './FindSignal'
import type { TrialView } from './useTrialView'

/** What must hold in the trial, as sentences, and what the last run says of them. */
export function Checks({ view }: { readonly view: TrialView }) {
  const document = useOpen((project) => project.valid)
  const list = useOpen((project) => project.document.trials[view.trial]?.checks)
  const { trial, record, verdicts } = view
  const add = (kind: Check) => edit(addCheck({ document, trial, loop: view.held?.loop, record }, kind).change)
  const hasLoop = view.loops.length > 0
  const signals = signalsOf(document, trial, record).map(({ name }) => name)
  const offered = checkKinds.filter(
    ({ slots, suits }) => suits?.(signals) !== false && (hasLoop || !Object.values(slots).some((slot) => namesA(slot, 'loop'))),
  )
  const entries = Object.entries(partsIn(list))
  return (
    <section className="section" aria-label="Checks">
      <div className="flex items-center">
        <h3 className="grow">Checks {verdicts !== undefined && <HeldOf {...countOf(verdicts)} />}</h3>
        <AddMenu label="Check" groups={[{ kinds: offered }]} onAdd={add} />
      </div>
      {entries.length === 0 && <p className="note pt-1">Nothing has to hold yet. Add what this trial is flown for.</p>}
      <ul>
        {entries.map(([key, check]) => (
          <CheckItem
            key={key}
            {...{ view, check }}
            path={`trials.${trial}.checks.${key}`}
            verdict={verdicts?.find((one) => one.check === key)}
          />
        ))}
      </ul>
    </section>
  )
}

/** How many checks of a trial its last run held. */
export function HeldOf({ held, failed, all }: CheckCount) {
  return (
    <span
      className={`number font-medium ${failed > 0 ? 'text-coral-text' : 'text-kelp'}`}
      title={`${held} of ${all} checks hold`}
      data-testid="checks-held"
    >
      {held} / {all}
    </span>
  )
}

interface CheckItemProps {
  readonly view: TrialView
  readonly path: string
  readonly check: Part
  readonly verdict: Verdict | undefined
}

function CheckItem({ view, path, check, verdict }: CheckItemProps) {
  const document = useOpen((project) => project.valid)
  const problems = useOpen((project) => project.problems)
  const kind = findKind(checkKinds, check)
  if (kind === undefined) return null
  const own = problems.filter(({ where }) => where.startsWith(`${path}.`))
  const known = signalsOf(document, view.trial, view.record)
  const [looked] = kind.signals(check)
  const shown = known.find(({ name }) => name === looked)
  const unit = shown === undefined ? '' : signalUnit(shown)
  const units = kind.unitsOf?.(check, unit) ?? {}
  const slots = Object.entries(kind.slots).flatMap(([slot, definition]) => {
    const at = `${path}.${slot}`
    if (Object.hasOwn(units, slot)) return [[slot, <SlotAt key={slot} path={at} unit={units[slot]!} />] as const]
    if (namesA(definition, 'loop')) return [[slot, <SlotAt key={slot} path={at} names={heldNames(view, document)} />] as const]
    if (namesA(definition, 'signal'))
      return [[slot, <SignalSlot key={slot} {...{ view, known }} path={at} value={String(check[slot] ?? '')} />] as const]
    return []
  })
  return (
    <li className="flex items-start gap-1.5 py-0.5" data-check={path.split('.').at(-1)} data-outcome={verdict?.outcome ?? 'none'}>
      <Outcome verdict={verdict} isOlder={view.stale} />
      <div className="grow min-w-0">
        <Sentence
          says={kind.says}
          path={path}
          className="text-[13px] leading-[24px] [&_.slot]:whitespace-normal [&_.slot]:[overflow-wrap:anywhere]"
          own={Object.fromEntries(slots)}
        />
        {own.map(({ where, what, remedy }) => (
          <p key={where} role="alert" className="text-[12.5px] text-coral-text [overflow-wrap:anywhere]">
            {what} {remedy}
          </p>
        ))}
        {verdict !== undefined && own.length === 0 && <Margin {...{ kind, verdict, looked }} isOlder={view.stale} />}
      </div>
      <button
        className="size-6 grid place-items-center text-mist shrink-0"
        aria-label="Remove this check"
        onClick={() => edit(removePart(path, 'Remove a check'))}
      >
        <X size={14} />
      </button>
    </li>
  )
}

/** Loops by what they hold, as a check says it. */
function heldNames({ loops }: TrialView, document: Parameters<typeof loopLabel>[0]): Readonly<Record<string, string>> {
  return Object.fromEntries(loops.map((name) => [name, loopLabel(document, name)]))
}

function namesA(slot: Slot, of: 'loop' | 'signal'): boolean {
  return slot.type === 'name' && slot.of === of
}

interface SignalSlotProps {
  readonly view: TrialView
  readonly path: string
  readonly value: string
  readonly known: readonly RunSignal[]
}

function SignalSlot({ view, path, value, known }: SignalSlotProps) {
  const label = known.find(({ name }) => name === value)?.label ?? (value === '' ? 'a signal' : value)
  return (
    <FindSignal view={view} onTake={(name) => edit(setValue(path, name, 'Set what is checked'))}>
      <button className="slot" data-path={path} aria-label={`signal: ${label}`} title={value}>
        {label}
      </button>
    </FindSignal>
  )
}

const marks = {
  holds: { words: 'holds', mark: <Tick size={15} className="text-kelp" /> },
  fails: { words: 'fails', mark: <X size={15} className="text-coral" /> },
  open: { words: 'not decided', mark: <Circle size={13} strokeDasharray="2 3" className="text-mist" /> },
} as const

function Outcome({ verdict, isOlder }: { readonly verdict: Verdict | undefined; readonly isOlder: boolean }) {
  const { words, mark } = marks[verdict?.outcome ?? 'open']
  return (
    <span
      role="img"
      aria-label={verdict === undefined ? 'not run' : words}
      className={`w-4 h-6 grid place-items-center shrink-0 ${isOlder ? 'opacity-50' : ''}`}
    >
      {mark}
    </span>
  )
}

interface MarginProps {
  readonly kind: Check
  readonly verdict: Verdict
  readonly looked: string | undefined
  readonly isOlder: boolean
}

/** How far from failing, and when it was nearest. */
function Margin({ kind, verdict: { outcome, margin, unit, at, failedAt, why }, looked, isOlder }: MarginProps) {
  if (why !== undefined) return <p className="note">{why}</p>
  if (margin === undefined) return null
  const shown = signalUnit({ name: looked ?? '', unit })
  const words = kind.isShare ? `${digitsOf(100 * margin, '', 2)} %` : withUnit(margin, shown, 3)
  const tone = outcome === 'fails' ? 'text-coral-text' : 'text-kelp'
  return (
    <p className="note">
      <span className={`number font-medium ${isOlder ? '' : tone}`}>
        {margin >= 0 ? '+' : ''}
        {words}
      </span>
      {at !== undefined && `${outcome === 'open' ? ', worst so far,' : ''} at ${at.toFixed(2)} s`}
      {failedAt !== undefined && `, failed at ${failedAt.toFixed(2)} s`}
    </p>
  )
}
