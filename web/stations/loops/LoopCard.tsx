import { Pin, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import type { RecoveryFigures, WishName } from '@calm-hand/core/tuning'
import { keptBy, keptFrom } from '@calm-hand/core/control'
import { poleLocations, typedGains, weights } from '@calm-hand/core/tuning'
import { findAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { findHeld, shortName } from '@calm-hand/core/machine'
import { Phrase } from '../../frame/Phrase'
import { NumberField, SlotAt } from '../../sentence'
import { rename } from '../../state/labels'
import { edit, useOpen, useSettled } from '../../state/project'
import { Chip, Tray } from '../../tray/Tray'
import { digitsOf, motionUnit, unitOver, withUnit } from '../../units'
import { NameInput } from '../machine/NameField'
import { Around } from './Around'
import { Bargain } from './Bargain'
import { Estimators } from './Estimators'
import { FourWays } from './FourWays'
import { PlantSeen } from './PlantSeen'
import { withoutLoop } from './loopEdits'
import type { Judged, LoopView } from '../../compute/loops/loopView'
import type { Way } from '../../compute/loops/ways'

interface LoopCardProps {
  readonly loop: string
  readonly view: LoopView
  readonly comparing: boolean
  /** The loop run the four ways, while they are compared. */
  readonly ways: readonly Way[]
  readonly onCompare: (on: boolean) => void
  readonly onPin: () => void
  /** Leaves this answer on the chart beside the next ones. */
  readonly onKeep: () => void
  /** Sections before the plant. */
  readonly children: React.ReactNode
}

const gainNames: Readonly<Record<string, string>> = { kp: 'error', ki: 'its integral', kd: 'rate' }

/** Findings first; then the bargain, the ledger of the sentence, and the plant the loop sees. */
export function LoopCard({ loop, view, comparing, ways, onCompare, onPin, onKeep, children }: LoopCardProps) {
  const { now, pinned } = view
  const part = useSettled((document) => document.loops[loop]!)
  const valid = useOpen((project) => project.valid)
  const { delay } = part as unknown as { delay: number }
  const path = `loops.${loop}`
  return (
    <>
      <section className="section flex items-center gap-2">
        <h2 className="grow min-w-0">
          <Title key={loop} loop={loop} />
        </h2>
        <button className="button small" onClick={onKeep}>
          Keep <span className="key">K</span>
        </button>
        <button className="button small" onClick={onPin}>
          <Pin size={14} /> Pin <span className="key">P</span>
        </button>
        <button
          className="text-mist p-1"
          aria-label={`Remove the loop ${labelOf(part, loop)}`}
          title="Remove the loop and its cues"
          onClick={() => edit({ label: `Remove ${labelOf(part, loop)}`, apply: (document) => withoutLoop(document, loop) })}
        >
          <Trash2 size={14} />
        </button>
      </section>
      {now !== undefined && <Findings now={now} view={view} limits={keptBy(valid.loops[loop]!)} />}
      {pinned !== undefined && (
        <section className="section" aria-label="Bargain">
          <div className="flex items-center gap-2 pb-1">
            <h3>
              <Phrase of="bargain">Bargain</Phrase> against
            </h3>
            <Chip letter={pinned.letter} />
          </div>
          <Bargain lines={view.bargain} view={view} />
        </section>
      )}
      <section className="section" aria-label="Ledger">
        <h3 className="pb-1">Ledger of the sentence</h3>
        {now !== undefined && <Gains loop={loop} view={view} now={now} />}
        <Around loop={loop} view={view} />
        <div className="ledger-row items-center">
          <span>feedback</span>
          <span />
          <SlotAt path={`${path}.closed`} />
        </div>
        <div className="ledger-row items-center">
          <span>computation delay</span>
          <SlotAt path={`${path}.delay`} words={`${String(delay)} ${delay === 1 ? 'sample' : 'samples'}`} />
          <span />
        </div>
        <button
          className={`button small mt-2 ${comparing ? 'chosen' : ''}`}
          aria-pressed={comparing}
          onClick={() => onCompare(!comparing)}
        >
          Compare the four ways <span className="key">F</span>
        </button>
        {comparing && now !== undefined && <FourWays view={view} ways={ways} />}
      </section>
      {children}
      <Estimators loop={loop} />
      {now !== undefined && <PlantSeen key={loop} document={valid} loop={loop} now={now} view={view} />}
      <Tray hint="P pins the design" />
    </>
  )
}

/** The loop's name, in any letters: all that names it follows. */
function Title({ loop }: { readonly loop: string }) {
  const document = useSettled((one) => one)
  const navigate = useNavigate()
  const { project } = useParams()
  const take = (words: string) =>
    void navigate(`/${project}/loops/${rename(document, `loops.${loop}`, words)}`, { replace: true })
  const [isOpen, setOpen] = useState(false)
  const label = labelOf(document.loops[loop], loop)
  if (isOpen) return <NameInput bare label={label} onTake={take} onDone={() => setOpen(false)} />
  return (
    <button
      className="block max-w-full truncate text-[17px] font-semibold hover:underline underline-offset-4"
      aria-label={`name of this loop: ${label}`}
      title="Rename it"
      onClick={() => setOpen(true)}
    >
      {label}
    </button>
  )
}

function Findings({ now, view, limits }: MissedProps) {
  const { analysis, figures, design } = now
  const margin = analysis.phaseMargin === undefined ? undefined : (analysis.phaseMargin * 180) / Math.PI
  if (analysis.notLinear !== undefined) return <p className="section finding border-ochre">{analysis.notLinear}</p>
  if (!design.values.closed)
    return <p className="section finding border-ochre">The feedback is open: the margins below are of the loop when it closes.</p>
  const { recovery } = now
  const found = view.asked.trial === undefined && recovery === undefined ? now.findings : []
  return (
    <section className="section grid gap-1.5" aria-label="Findings">
      {found
        .filter(({ name }) => name !== 'follows')
        .map(({ name, sort, words }) => (
          <p key={name} role={sort === 'wrong' ? 'alert' : undefined} className={`finding ${tones[sort]}`}>
            {words}
          </p>
        ))}
      {analysis.stable && Object.keys(limits).length > 0 && <Missed view={view} now={now} limits={limits} />}
      {recovery !== undefined && analysis.stable && <Recovery recovery={recovery} view={view} />}
      {analysis.stable && !found.some(({ name }) => name === 'notHeld') && (
        <p className="finding border-kelp">
          Stable,{' '}
          {margin === undefined ? (
            'no crossover'
          ) : (
            <>
              <span className="number font-medium">{margin.toFixed(1)}°</span> <Phrase of="inHand" />
            </>
          )}
          {analysis.gainMargin !== undefined && (
            <>
              {' '}
              and <span className="number font-medium">{(20 * Math.log10(analysis.gainMargin.factor)).toFixed(1)} dB</span>
            </>
          )}
          ; peak sensitivity <span className="number font-medium">{analysis.margins.sensitivityPeak.factor.toFixed(2)}</span>. A
          step overshoots by <span className="number font-medium">{(100 * figures.overshoot).toFixed(1)} %</span>
          {figures.settling !== undefined && (
            <>
              {' '}
              and settles in <span className="number font-medium">{figures.settling.toFixed(2)} s</span>
            </>
          )}
          .
        </p>
      )}
    </section>
  )
}

type Kept = ReturnType<typeof keptBy>

interface MissedProps {
  readonly now: Judged
  readonly view: LoopView
  readonly limits: Kept
}

/** Requirements that the loop does not keep now. */
function Missed({ now: { analysis, figures, beyondRest, kept }, view, limits }: MissedProps) {
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`
  const degrees = (angle: number) => `${((angle * 180) / Math.PI).toFixed(1)}°`
  const seconds = (time: number) => `${time.toFixed(2)} s`
  const factor = (value: number) => value.toFixed(2)
  const push = (value: number) => withUnit(value, view.axis.unit, 3)
  const names = Object.keys(limits) as WishName[]
  // while a disturbance is charted these are of the reference still
  const judged = {
    ...{ overshoot: figures.overshoot, settling: figures.settling ?? Infinity, peakCommand: beyondRest },
    phaseMargin: analysis.phaseMargin ?? Infinity,
  }
  const known: typeof kept = { ...kept, ...judged }
  const said: Readonly<Record<WishName, readonly [does: string, words: (value: number) => string, bare?: string]>> = {
    overshoot: ['overshoots by', percent],
    settling: ['settles in', seconds, 'settles'],
    peakCommand: ['asks for', push],
    sensitivityPeak: ['peaks in sensitivity at', factor],
    phaseMargin: ['has in hand', degrees],
    gainMargin: ['bears times its gain', factor],
    delayMargin: ['bears more delay of', (value) => `${(1000 * value).toFixed(0)} ms`],
    deviation: ['gives way by', (value) => `${value.toPrecision(3)} ${unitOver(view.quantity.unit, view.axis.unit)}`],
    recovery: ['recovers from a push in', seconds, 'recovers from a push'],
  }
  return names.map((name) => {
    const [limit, value] = [limits[name]!, known[name]]
    const isLeast = keptFrom(name) === 'least'
    if (value === undefined || (isLeast ? value >= limit * 0.999 : value <= limit * 1.001)) return null
    const [does, words, bare] = said[name]
    return (
      <p key={name} className="finding border-coral">
        It {value === Infinity ? `never ${bare ?? does}` : `${does} ${words(value)}`}; at {isLeast ? 'least' : 'most'}{' '}
        {words(limit)} was asked.
      </p>
    )
  })
}

/** What a disturbance that steps does to what is held. */
function Recovery({ recovery, view }: { readonly recovery: RecoveryFigures; readonly view: LoopView }) {
  const { worst, worstAfter, recovers, left } = recovery
  const { disturbance } = view.asked
  const by = view.disturbances.find(({ name }) => name === disturbance?.name)
  if (disturbance === undefined || by === undefined) return null
  const { unit, label } = view.quantity
  return (
    <p className="finding border-plum">
      {withUnit(disturbance.size, by.unit, 3)} on {by.label} takes {label} away by{' '}
      <b className="number font-medium">{withUnit(worst, unit, 3)}</b>
      {recovers === undefined ? (
        <>
          {' '}
          and leaves it <b className="number font-medium">{withUnit(left, unit, 3)}</b> off: nothing brings it back.
        </>
      ) : (
        <>
          {' '}
          after <span className="number">{worstAfter.toFixed(2)} s</span>; within a twentieth of that again{' '}
          <b className="number font-medium">{recovers.toFixed(2)} s</b> after it began.
        </>
      )}
    </p>
  )
}

const tones = { wrong: 'border-coral', caution: 'border-ochre', good: 'border-kelp' } as const

/** Gains: read-only while a requirement holds, slots when they are typed; weights beside the gains of state feedback. */
function Gains({ loop, view, now }: { readonly loop: string; readonly view: LoopView; readonly now: Judged }) {
  const tuning = useSettled((document) => (document.loops[loop] as unknown as { tuning: Part }).tuning)
  const typed = tuning.kind === typedGains.name
  const push = view.axis.unit
  const held = view.quantity.unit
  const under = held.includes('/') ? `(${held})` : held
  const machine = useOpen((project) => project.valid.machines[now.design.values.machine]!)
  const pidUnits: Readonly<Record<string, string>> = {
    kp: `${push}/${under}`,
    ki: `${push}/(${held}·s)`,
    kd: `${push}·s/${under}`,
  }
  const { law } = now.design
  const path = `loops.${loop}.tuning`
  return (
    <>
      {law.gains.map((gain) => {
        const row = law.signals.indexOf(gain)
        return (
          <div key={gain} className="ledger-row">
            <span>{gain === 'kp' ? `${view.quantity.label} error` : (gainNames[gain] ?? seen(machine, gain).label)}</span>
            {typed ? (
              row < 0 ? (
                <SlotAt path={`${path}.${gain}`} />
              ) : (
                <NumberField
                  path={`${path}.states.${row}.0`}
                  label={`gain on ${seen(machine, gain).label}`}
                  unit=""
                  value={now.design.gains[gain] ?? 0}
                />
              )
            ) : (
              <b className="number font-medium" data-gain={gain}>
                {digitsOf(now.design.gains[gain] ?? 0, '')}
              </b>
            )}
            <span className="number text-mist">{pidUnits[gain] ?? unitOver(push, seen(machine, gain).unit)}</span>
          </div>
        )
      })}
      {tuning.kind === weights.name && (
        <Deviations path={path} signals={[view.quantity, ...law.signals.map((name) => seen(machine, name))]} now={now} />
      )}
      {tuning.kind === poleLocations.name && <SlotAt path={`${path}.poles`} />}
    </>
  )
}

interface Seen {
  readonly name: string
  readonly label: string
  readonly unit: string
}

/** A signal that a law uses, as people say it; what only the law knows has no unit. */
function seen(machine: Part, name: string): Seen {
  return findHeld(machine, name) ?? { name, label: shortName(name, machine), unit: '' }
}

interface DeviationsProps {
  readonly path: string
  readonly signals: readonly Seen[]
  readonly now: Judged
}

/** The most that each signal may deviate, one row each. */
function Deviations({ path, signals, now }: DeviationsProps) {
  const rows =
    useOpen((project) => findAt(project.valid, `${path}.deviations`) as readonly (readonly number[])[] | undefined) ?? []
  return (
    <section aria-label="What may deviate" className="pt-1.5">
      <h4 className="font-semibold text-[12.5px]">May deviate by at most</h4>
      {signals.map(({ name, label, unit }, i) => (
        <div key={name} className="ledger-row">
          <span>{label}</span>
          <NumberField
            path={`${path}.deviations.${i}.0`}
            label={`deviation of ${label}`}
            unit={motionUnit(unit)}
            value={rows[i]?.[0] ?? NaN}
          />
          <span />
        </div>
      ))}
      {now.design.law.gains.includes('ki') && (
        <div className="ledger-row">
          <span>integral of the error</span>
          <SlotAt path={`${path}.integral`} />
          <span />
        </div>
      )}
    </section>
  )
}
