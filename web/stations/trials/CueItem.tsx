import { Copy, X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { blankPart, findKind, labelOf } from '@calm-hand/core/kinds'
import { effectParts, isBodiless } from '@calm-hand/core/machine'
import { alterableSignals, changingNumbers, cues as cueKinds, fullSentence, hands as handKinds } from '@calm-hand/core/simulation'
import type { Cue, CueCame } from '@calm-hand/core/simulation'
import { ChoiceField, Sentence, SlotAt } from '../../sentence'
import { removePart, setValue } from '../../state/edits'
import { labelled } from '../../state/labels'
import { edit, useOpen } from '../../state/project'
import { shownUnit } from '../../units'
import { begins, copyCue, ends, waitFor } from './cueEdits'
import type { Awaitable } from './cueEdits'
import { Find } from './Find'
import { ProblemsAt } from './ProblemsAt'
import { cueUnits } from './cueUnits'
import { shownSignal } from './cueWords'
import type { TrialView } from './useTrialView'

interface CueItemProps {
  readonly view: TrialView
  readonly name: string
  readonly cue: Part
  /** Names of all cues of the trial. */
  readonly all: readonly string[]
}

/** A cue as a sentence, with what it waits for, what ends it, and what came of it. */
export function CueItem({ view, name, cue, all }: CueItemProps) {
  const document = useOpen((project) => project.valid)
  const kind = findKind(cueKinds, cue)
  if (kind === undefined) return null
  const path = `trials.${view.trial}.cues.${name}`
  const others = all.filter((one) => one !== name)
  const pressed = pressedHands(document, view)
  const come = view.record?.cues?.find((one) => one.cue === name)
  return (
    <li className="py-0.5" data-cue={name}>
      <div className="flex items-start">
        <Sentence
          says={fullSentence(kind.says, cue)}
          path={path}
          className="grow text-[13.5px] leading-[25px] [&_.slot]:whitespace-normal [&_.slot]:[overflow-wrap:anywhere]"
          own={slotsOf(document, view, kind, cue, path, others)}
        />
        <button
          className="size-6 grid place-items-center text-mist shrink-0"
          aria-label={`Copy cue ${name}`}
          title="Copy it"
          onClick={() => edit(copyCue(document, view.trial, name).change)}
        >
          <Copy size={13} />
        </button>
        <button
          className="size-6 grid place-items-center text-mist shrink-0"
          aria-label={`Remove cue ${name}`}
          title="Remove it"
          onClick={() => edit(removePart(path, 'Remove a cue'))}
        >
          <X size={14} />
        </button>
      </div>
      <div className="flex flex-wrap gap-x-2 text-[12px] leading-[20px] text-mist [&_.slot]:font-normal [&_.slot]:text-mist [&_.slot]:border-line-2">
        <Course {...{ path, cue, kind }} />
        {kind.lane !== 'hands' && (
          <>
            <Waits {...{ path, cue, others, pressed }} slot="waits" signal={firstSignal(view)} />
            <Waits {...{ path, cue, others, pressed }} slot="until" signal={firstSignal(view)} />
          </>
        )}
        {come !== undefined && !view.stale && (!view.isLive || come.began !== undefined) && (
          <Came {...{ cue, come }} end={view.end} />
        )}
      </div>
      <ProblemsAt path={path} />
    </li>
  )
}

/** When what waited came in the run, or that it did not. */
function Came({ cue, come: { began, over }, end }: { readonly cue: Part; readonly come: CueCame; readonly end: number }) {
  if (began === undefined) return <span className="text-ochre-text">did not come by {end.toFixed(1)} s</span>
  const isOpen = cue.waits !== undefined || (cue.until !== undefined && (cue.until as Part).kind !== 'lasting')
  if (!isOpen) return null
  return (
    <span>
      came at <span className="number">{began.toFixed(2)} s</span>
      {cue.until !== undefined && (over === undefined ? ', did not end' : `, ended at ${over.toFixed(2)} s`)}
    </span>
  )
}

/** What a condition may look at first. */
function firstSignal({ machineName, held }: TrialView): string {
  return held === undefined ? `${machineName}.` : `${machineName}.${held.quantity.name}`
}

/** Another cue of the same lane, keeping what fits. */
function Course({ path, cue, kind }: { readonly path: string; readonly cue: Part; readonly kind: Cue }) {
  const options = Object.fromEntries(cueKinds.filter(({ lane }) => lane === kind.lane).map(({ name, label }) => [name, label]))
  if (Object.keys(options).length === 1) return null
  const take = (name: string) =>
    edit(
      setValue(
        path,
        blankPart(
          cueKinds.find((one) => one.name === name)!,
          cue,
        ),
        'Change a cue',
      ),
    )
  return <ChoiceField label="course of the cue" value={cue.kind} options={options} onChoose={take} />
}

/** Buttons and switches that a cue may wait for. */
function pressedHands(document: Document, { trial }: TrialView): readonly string[] {
  return Object.entries(partsIn(document.trials[trial]!.hands)).flatMap(([name, hand]) =>
    findKind(handKinds, hand)?.isPressed === true ? [name] : [],
  )
}

interface WaitsProps extends Awaitable {
  readonly path: string
  readonly cue: Part
  readonly slot: 'waits' | 'until'
}

/** Whether a cue comes by the clock, and what ends it. */
function Waits({ path, cue, slot, ...awaitable }: WaitsProps) {
  const { others, pressed } = awaitable
  const isFirst = slot === 'waits'
  const all: Readonly<Record<string, string>> = isFirst ? begins : ends
  const options = Object.fromEntries(
    Object.entries(all).filter(([kind]) => {
      if (kind === 'afterCue' || kind === 'untilCue') return others.length > 0
      return (kind !== 'whenPressed' && kind !== 'untilLetGo') || pressed.length > 0
    }),
  )
  return (
    <ChoiceField
      label={isFirst ? 'when the cue comes' : 'when the cue ends'}
      value={(cue[slot] as Part | undefined)?.kind ?? Object.keys(all)[0]!}
      options={options}
      onChoose={(kind) => edit(waitFor(path, slot, kind, awaitable))}
    />
  )
}

/** Slots in the units of what they are about, and those that choose among what the machine and its run have. */
function slotsOf(
  document: Document,
  view: TrialView,
  kind: Cue,
  cue: Part,
  path: string,
  others: readonly string[],
): Record<string, React.ReactNode> {
  const siblings = Object.fromEntries(others.map((one) => [one, one]))
  const hands = partsIn(document.trials[view.trial]!.hands)
  const handNames = labelled(hands)
  const pressed = labelled(hands, pressedHands(document, view))
  const inUnits = Object.entries(cueUnits(document, view, kind, cue)).map(([slot, unit]) => [
    slot,
    <SlotAt key={slot} path={`${path}.${slot}`} unit={unit} />,
  ])
  return {
    ...Object.fromEntries(inUnits),
    'waits.cue': <SlotAt path={`${path}.waits.cue`} names={siblings} />,
    'until.cue': <SlotAt path={`${path}.until.cue`} names={siblings} />,
    'waits.hand': <SlotAt path={`${path}.waits.hand`} names={pressed} />,
    'until.hand': <SlotAt path={`${path}.until.hand`} names={pressed} />,
    hand: <SlotAt path={`${path}.hand`} names={handNames} />,
    ...(kind.slots.signal === undefined ? {} : { signal: <SignalOf {...{ view, path }} value={String(cue.signal)} /> }),
    ...(kind.slots.number === undefined ? {} : { number: <NumberOf {...{ view, path }} value={String(cue.number)} /> }),
    ...(kind.slots.part === undefined ? {} : { part: <SlotAt path={`${path}.part`} names={failing(view.machine)} /> }),
  }
}

function failing(machine: Part): Record<string, string> {
  if (isBodiless(machine)) return {}
  return Object.fromEntries(effectParts(machine).map(({ path, name, part }) => [path, labelOf(part, name)]))
}

interface OfProps {
  readonly view: TrialView
  readonly path: string
  readonly value: string
}

/** The signal that a fault sits on. */
function SignalOf({ view, path, value }: OfProps) {
  const document = useOpen((project) => project.valid)
  const all = alterableSignals(document, view.machineName)
  const label = all.find(({ name }) => name === value)?.label ?? (value === '' ? 'a signal' : value)
  return (
    <Find
      sort="signal"
      example="measured, command, asked"
      all={() => all.map(shownSignal)}
      none="Nothing of that name is read by a loop, an estimator or a drive."
      onTake={(name) => edit(setValue(`${path}.signal`, name, 'Set what is at fault'))}
    >
      <button className="slot" data-path={`${path}.signal`} aria-label={`signal at fault: ${label}`} title={value}>
        {label}
      </button>
    </Find>
  )
}

/** The number of the machine that changes. */
function NumberOf({ view, path, value }: OfProps) {
  const numbers = changingNumbers(view.machine)
  const label = numbers.find((one) => one.path === value)?.words ?? (value === '' ? 'a number' : value)
  return (
    <Find
      sort="number"
      example="mass, friction, kg"
      all={() => numbers.map(({ path: name, words, unit }) => ({ name, label: words, unit: shownUnit(unit) }))}
      none="The machine has no number of that name."
      onTake={(name) => edit(setValue(`${path}.number`, name, 'Set the number that changes'))}
    >
      <button className="slot" data-path={`${path}.number`} aria-label={`number that changes: ${label}`} title={value}>
        {label}
      </button>
    </Find>
  )
}
