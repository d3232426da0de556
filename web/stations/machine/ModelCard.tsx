import { Check, Play, Square, X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import type { Mode } from '@calm-hand/core/control'
import { isBodiless, shortName } from '@calm-hand/core/machine'
import { listed } from '@calm-hand/core/linear'
import type { HeldInput, ModelCheck, RestingPoint } from '@calm-hand/core/simulation'
import { Phrase } from '../../frame/Phrase'
import { useOpen } from '../../state/project'
import { Findings } from './Findings'
import type { Looked } from '../../state/reports'
import { digitsOf, shownUnit, withUnit } from '../../units'
import { RealismLayers } from './RealismLayers'
import type { LayerChoice } from './useLayers'

interface ModelCardProps {
  readonly machine: Part
  readonly report: Looked<'report'>
  /** Which mode swings in 3D. */
  readonly playing: number | undefined
  readonly onPlay: (mode: number | undefined) => void
  readonly layers: Pick<LayerChoice, 'all' | 'off' | 'onSwitch'>
}

/** Findings first, then the model checks, what holds it still, its modes, and the realism layers. */
export function ModelCard({ machine, report: { answer: report, failure }, playing, onPlay, layers }: ModelCardProps) {
  const note = useOpen((project) => project.document.note)
  const holding = report?.checks.filter(({ holds }) => holds).length
  return (
    <>
      <Findings>
        {failure !== undefined && <div className="finding border-coral mb-2">The checks could not be made: {failure}</div>}
        {report === undefined && failure === undefined && <p className="note">Checking the model ...</p>}
        {report !== undefined && <PointFinding point={report.point} machine={machine} />}
      </Findings>
      {report !== undefined && (
        <section className="section" aria-label="Model checks">
          <div className="flex justify-between items-baseline pb-1">
            <h2>Model checks</h2>
            <span className={`text-[12px] font-semibold ${holding === report.checks.length ? 'text-kelp' : 'text-coral-text'}`}>
              {holding} of {report.checks.length} hold
            </span>
          </div>
          {report.checks.map((check) => (
            <CheckRow key={check.name} check={check} />
          ))}
        </section>
      )}
      {report?.point.kind === 'done' && report.point.value.inputs.length > 0 && (
        <Held point={report.point.value} machine={machine} />
      )}
      {report?.point.kind === 'done' && isBodiless(machine) && <Balanced point={report.point.value} machine={machine} />}
      {report?.point.kind === 'done' && report.point.value.modes.length > 0 && (
        <Modes
          machine={machine}
          modes={report.point.value.modes}
          playable={report.point.value.spread.length > 0}
          playing={playing}
          onPlay={onPlay}
        />
      )}
      <RealismLayers
        layers={layers.all}
        about={layers.all.length === 0 ? undefined : 'Off here, the checks, curves and modes are made without them.'}
        note={note}
        off={layers.off}
        onSwitch={layers.onSwitch}
      />
    </>
  )
}

function PointFinding({ point, machine }: { readonly point: Parameters<typeof isDone>[0]; readonly machine: Part }) {
  if (!isDone(point)) {
    const [problem] = point.problems
    return (
      <div className="finding border-ochre">
        <b className="font-semibold text-ochre-text">{problem!.what}</b> {problem!.remedy}
      </div>
    )
  }
  const { inputs, modes } = point.value
  const limits = inputs.map((input) => ({ input, share: shareOf(input, machine) })).filter(({ share }) => share !== undefined)
  const hardest = limits.reduce<(typeof limits)[number] | undefined>(
    (a, b) => (a === undefined || b.share! > a.share! ? b : a),
    undefined,
  )
  const stands = point.value.standing.length === 1
  const unstable = modes.filter(({ pole }) => pole.re > 1e-6).length
  return (
    <>
      {hardest !== undefined && hardest.share! > 0.005 && (
        <div className={`finding mb-2 ${hardest.share! > 0.8 ? 'border-ochre' : 'border-kelp'}`}>
          <b className="font-semibold">
            {shortName(hardest.input.name, machine)} works hardest to {purpose(point.value)}:
          </b>{' '}
          <span className="number">{withUnit(hardest.input.value, hardest.input.unit, 3)}</span>,{' '}
          <span className="number">{digitsOf(100 * hardest.share!, '', 2)} %</span> of its most.
        </div>
      )}
      {point.value.sharing.length > 0 && (
        <div className="finding mb-2">
          {listed(point.value.sharing.map((name) => shortName(name, machine)))} share the load: of all ways to split it this is
          the one of least effort, the sum of squares, each as a share of its limit.
        </div>
      )}
      {point.value.standing.length > 0 && (
        <div className="finding mb-2 border-ochre">
          <b className="font-semibold text-ochre-text">
            {listed(point.value.standing.map((name) => shortName(name, machine)))} {stands ? 'stands' : 'stand'} still here
          </b>{' '}
          and {stands ? 'has' : 'have'} no slope: no loop can push by {stands ? 'it' : 'them'} about this point. Let the machine
          work where {stands ? 'it turns' : 'they turn'}, such as at a speed.
        </div>
      )}
      {point.value.others.length > 0 && (
        <div className="finding mb-2">
          It could also rest {point.value.others.map((other) => elsewhere(other, machine)).join('; or ')}.
        </div>
      )}
      <div className={`finding ${unstable > 0 ? 'border-ochre' : 'border-kelp'}`}>
        {unstable > 0 ? (
          <>
            <b className="font-semibold text-ochre-text">
              It does not {point.value.runs.length > 0 ? 'go on so' : 'stay there'} by itself.
            </b>{' '}
            {unstable === 1 ? 'One mode grows' : `${unstable} modes grow`} until a loop holds {unstable === 1 ? 'it' : 'them'}.
          </>
        ) : (
          <>{point.value.runs.length > 0 ? 'It goes on as it moves' : 'It rests where it stands'}, and no mode grows.</>
        )}
      </div>
    </>
  )
}

/** What drives do at an operating point. */
function purpose({ runs }: RestingPoint): string {
  return runs.length > 0 ? 'keep it going' : 'hold it still'
}

function isDone(
  point:
    | { readonly kind: 'done'; readonly value: RestingPoint }
    | { readonly kind: 'refused'; readonly problems: readonly { what: string; remedy: string }[] },
): point is { readonly kind: 'done'; readonly value: RestingPoint } {
  return point.kind === 'done'
}

/** "with bob at 180°" */
function elsewhere({ differs }: RestingPoint['others'][number], machine: Part): string {
  return `with ${differs.map(({ name, unit, value }) => `${shortName(name, machine)} at ${withUnit(value, unit, 3)}`).join(' and ')}`
}

/** How much of its limit a drive uses; nothing for one without. */
function shareOf({ name, value }: HeldInput, machine: Part): number | undefined {
  const group = (isBodiless(machine) ? machine.inputs : machine.drives) as Readonly<Record<string, Part>> | undefined
  const drive = group?.[name.split('.').at(-1)!]
  const most = (drive?.most ?? drive?.voltage) as number | undefined
  return most === undefined ? undefined : Math.abs(value) / most
}

function CheckRow({ check: { name, holds, value, unit, note } }: { readonly check: ModelCheck }) {
  return (
    <div className="py-1 text-[12.5px] leading-4" data-check={name}>
      <div className="flex items-center gap-1.5">
        {holds ? (
          <Check size={14} className="text-kelp shrink-0" aria-label="holds" />
        ) : (
          <X size={14} className="text-coral shrink-0" aria-label="fails" />
        )}
        <span className="grow">{name}</span>
        <span className="number font-medium whitespace-nowrap">{withUnit(value, unit, 3)}</span>
      </div>
      <p className="note pl-5">{note}</p>
    </div>
  )
}

/** What each drive gives while the machine rests, against its limit. */
function Held({ point, machine }: { readonly point: RestingPoint; readonly machine: Part }) {
  const { inputs, runs } = point
  return (
    <section className="section" aria-label="What holds it">
      <h2 className="pb-1">To {purpose(point)}</h2>
      {inputs.map((input) => {
        const share = shareOf(input, machine)
        return (
          <div
            key={input.name}
            className="grid grid-cols-[1fr_auto_70px] gap-2 items-center min-h-[22px] text-[12.5px]"
            data-input={input.name.split('.').at(-1)}
          >
            <span className="truncate">{shortName(input.name, machine)}</span>
            <span className="number">
              {digitsOf(Math.abs(input.value) < 1e-9 ? 0 : input.value, input.unit, 3)}{' '}
              <span className="text-mist">{shownUnit(input.unit)}</span>
            </span>
            <span
              className="h-2 bg-line rounded-sm overflow-hidden"
              role="img"
              aria-label={share === undefined ? 'no limit' : `${digitsOf(100 * share, '', 2)} % of its most`}
            >
              <span
                className={`block h-full ${(share ?? 0) > 0.8 ? 'bg-ochre' : 'bg-kelp'}`}
                style={{ width: `${Math.min(100, 100 * (share ?? 0))}%` }}
              />
            </span>
          </div>
        )
      })}
      {(isBodiless(machine) ? [] : runs).map(({ name, unit, rate }) => (
        <div key={name} className="ledger-row text-[12.5px]">
          <span className="truncate">
            {shortName(name, machine)} <span className="note">runs on at</span>
          </span>
          <span className="number font-medium">{digitsOf(rate, `${unit}/s`, 3)}</span>
          <span className="number text-mist">{shownUnit(`${unit}/s`)}</span>
        </div>
      ))}
    </section>
  )
}

/** The states where a machine without bodies balances. */
function Balanced({ point, machine }: { readonly point: RestingPoint; readonly machine: Part }) {
  const states = Object.entries(partsIn(machine.states))
  return (
    <section className="section" aria-label="Where it balances">
      <h2 className="pb-1">Where it balances</h2>
      {states.map(([name, { unit }], i) => (
        <div key={name} className="ledger-row text-[12.5px]">
          <span className="truncate">
            {shortName(name, machine)} {point.runs.some((one) => one.name === name) && <span className="note">runs on from</span>}
          </span>
          <span className="number font-medium">{digitsOf(point.q[i]!, unit as string)}</span>
          <span className="number text-mist">{shownUnit(unit as string)}</span>
        </div>
      ))}
      {point.open > 0 && (
        <p className="note pt-1">
          {point.open === 1 ? 'One more thing' : `${point.open} more things`} could be fixed; this is the nearest to where it
          starts.
        </p>
      )}
    </section>
  )
}

const mostModes = 12

function Modes({
  machine,
  modes,
  playable,
  playing,
  onPlay,
}: {
  readonly machine: Part
  readonly modes: readonly Mode[]
  /** Without bodies there is nothing to swing in 3D. */
  readonly playable: boolean
  readonly playing: number | undefined
  readonly onPlay: (mode: number | undefined) => void
}) {
  const lines = alike(modes)
  return (
    <section className="section" aria-label="Modes">
      <h2 className="pb-1">Modes about it</h2>
      {lines.slice(0, mostModes).map(({ mode, at: i, times }) => (
        <div key={i} className="flex items-center gap-1.5 min-h-[24px] text-[12.5px]">
          <button
            className="button small border-transparent px-1"
            aria-label={playing === i ? 'Stop the mode' : `Play mode ${i + 1}`}
            aria-pressed={playing === i}
            onClick={() => onPlay(playing === i ? undefined : i)}
            hidden={!playable}
          >
            {playing === i ? <Square size={12} /> : <Play size={12} />}
          </button>
          <span className="grow truncate">
            {modeWords(mode)}
            {times > 1 && `, ${times} of them`}
          </span>
          <span className="note truncate max-w-[96px]">{mover(mode, machine)}</span>
        </div>
      ))}
      {lines.length > mostModes && <p className="note pt-1">and {lines.length - mostModes} faster ones</p>}
    </section>
  )
}

/** Modes that drift are one line: what is free in several ways has as many of them, and nothing tells one from another. */
function alike(modes: readonly Mode[]): readonly { readonly mode: Mode; readonly at: number; readonly times: number }[] {
  const drifting = modes.filter(drifts).length
  const seen = modes.map((mode, at) => ({ mode, at, times: drifts(mode) ? drifting : 1 }))
  return seen.filter(({ mode, at }) => !drifts(mode) || at === modes.findIndex(drifts))
}

function drifts({ frequency, timeConstant, pole }: Mode): boolean {
  return frequency === 0 && (timeConstant === undefined || Math.abs(pole.re) < 1e-6)
}

function modeWords(mode: Mode): React.ReactNode {
  const { pole, frequency, damping, timeConstant } = mode
  if (frequency > 0)
    return (
      <>
        swings at {digitsOf(frequency, '', 3)} rad/s, <Phrase of="damping" /> {digitsOf(damping, '', 2)}
      </>
    )
  if (timeConstant === undefined || drifts(mode)) return 'drifts'
  return pole.re > 0
    ? `doubles in ${digitsOf(Math.LN2 * timeConstant, '', 3)} s`
    : `settles with ${digitsOf(timeConstant, '', 3)} s`
}

function mover({ owner }: Mode, machine: Part): string {
  return shortName(owner, machine)
}
