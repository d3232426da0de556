import { ChevronLeft, ChevronRight, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { findKind, labelOf } from '@calm-hand/core/kinds'
import { findPush } from '@calm-hand/core/machine'
import { cuedPush } from '@calm-hand/core/control'
import { hands as handKinds, waitsOf } from '@calm-hand/core/simulation'
import type { HandAxis } from '@calm-hand/core/simulation'
import { useAnswer } from '../../../compute'
import { AddMenu } from '../../../frame/AddMenu'
import { ChoiceField, Sentence, SlotAt, TextField } from '../../../sentence'
import { removePart } from '../../../state/edits'
import { labelled, loopLabel } from '../../../state/labels'
import { brokenOff, takeBrokenOff, useLive } from '../../../state/live'
import { edit, useOpen } from '../../../state/project'
import { motionUnit, withUnit } from '../../../units'
import { commandUnit } from '../cueWords'
import { ProblemsAt } from '../ProblemsAt'
import type { TrialView } from '../useTrialView'
import { addHand, moveInPanel } from './handEdits'
import { Listen } from './Listen'
import { ButtonWidget, DialWidget, PadWidget, SliderWidget, SwitchWidget } from './Widgets'
import type { WidgetProps } from './Widgets'
import { useGamePad } from './useGamePad'
import type { PadSeen } from './useGamePad'
import { useHandKeys } from './useHandKeys'

const noHands: Readonly<Record<string, Part>> = {}

/** What a person moves while the trial runs, laid out as its owner wants it, and the chosen one as a sentence. */
export function HandsPanel({ view, projectId }: { readonly view: TrialView; readonly projectId: string }) {
  const document = useOpen((project) => project.valid)
  const list = useOpen((project) => project.document.trials[view.trial]?.hands) as typeof noHands | undefined
  const hands = list ?? noHands
  const phase = useLive((live) => (view.isLive ? live.phase.kind : 'off'))
  const isOn = phase === 'going' || phase === 'paused'
  const [chosen, setChosen] = useState<string>()
  const gains = useGains(document, view)
  const pad = useGamePad(hands, isOn)
  const keys = useHandKeys(hands, isOn)
  const box = useRef<HTMLDivElement>(null)
  // what has just been taken in hand is under the keys at once
  useEffect(() => {
    if (isOn) box.current?.focus({ preventScroll: true })
  }, [isOn])
  const entries = Object.entries(hands)
  const shown = entries.find(([name]) => name === chosen) ?? entries[0]
  const add = (kind: (typeof handKinds)[number]) => {
    const { name, change } = addHand(document, view, kind, gains)
    edit(change)
    setChosen(name)
  }
  const offered = handKinds.filter(({ turns }) => turns === undefined || gains.length > 0)
  return (
    <section className="border-t border-line px-4 py-2 overflow-auto max-h-[300px]" aria-label="Hands">
      <div className="flex items-center gap-2 pb-1">
        <h3 className="grow">
          Hands <span className="font-normal text-mist">kept with the trial</span>
        </h3>
        {pad !== undefined && <PadTold pad={pad} />}
        <AddMenu label="Hand" groups={[{ kinds: offered }]} onAdd={add} />
      </div>
      <Left projectId={projectId} trial={view.trial} isLive={view.isLive} />
      {entries.length === 0 && (
        <p className="note">
          Nothing to move yet. Add a pad or slider for what loops or pushes are asked, buttons for what cues wait for.
        </p>
      )}
      <div
        ref={box}
        tabIndex={entries.length === 0 ? undefined : 0}
        role="group"
        aria-label="Hands to move; their keys act here"
        className="flex gap-x-4 items-start rounded-md focus-visible:outline-1 focus-visible:outline-offset-4 focus-visible:outline-kelp"
        {...keys}
      >
        {columnsOf(entries).map((group, i) => (
          <div key={i} className={i === 0 ? 'flex gap-x-4' : 'grow min-w-0 grid grid-cols-2 gap-2'}>
            {group.map(([name, part]) => (
              <OneHand key={name} {...{ view, document, name, part, isOn }} onChoose={() => setChosen(name)} />
            ))}
          </div>
        ))}
      </div>
      {shown !== undefined && (
        <HandSentence {...{ view, document, gains, hands }} name={shown[0]} part={shown[1]} onChoose={setChosen} />
      )}
    </section>
  )
}

/** Pads and sliders stand side by side, what is pressed or turned beside them. */
function columnsOf(entries: readonly [string, Part][]): readonly (readonly [string, Part][])[] {
  const isWide = ([, part]: [string, Part]) => part.kind === 'padHand' || part.kind === 'sliderHand'
  const groups = [entries.filter(isWide), entries.filter((one) => !isWide(one))]
  return groups.filter((group) => group.length > 0)
}

/** What hands did in a run that was broken off with its page. */
function Left({ projectId, trial, isLive }: { readonly projectId: string; readonly trial: string; readonly isLive: boolean }) {
  const [, again] = useState(0)
  const left = isLive ? undefined : brokenOff(projectId, trial)
  if (left === undefined) return null
  const take = (is: boolean) => {
    takeBrokenOff(projectId, trial, is)
    again((n) => n + 1)
  }
  return (
    <p className="finding border-ochre mb-1">
      <b className="font-semibold text-ochre-text">A run by hand was broken off</b> at{' '}
      {new Date(left.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}, with {left.touches.length}{' '}
      {left.touches.length === 1 ? 'touch' : 'touches'}.{' '}
      <button className="button small" onClick={() => take(true)}>
        Run it again
      </button>{' '}
      <button className="button small" onClick={() => take(false)}>
        Forget it
      </button>
    </p>
  )
}

function PadTold({ pad }: { readonly pad: PadSeen }) {
  const pressed = pad.pressed.flatMap((is, i) => (is ? [i + 1] : []))
  return (
    <span className="note" role="status">
      Game pad: {pad.axes.map((value) => value.toFixed(1)).join('  ')}
      {pressed.length > 0 && `, button ${pressed.join(', ')}`}
    </span>
  )
}

/** Gains of the machine's loops that can be turned, by their paths. */
function useGains(document: Document, { machineName }: TrialView): readonly string[] {
  return useAnswer('gainNames', document, [machineName], { subject: machineName, lane: 'side' }).answer ?? nothing
}
const nothing: readonly string[] = []

interface OneHandProps {
  readonly view: TrialView
  readonly document: Document
  readonly name: string
  readonly part: Part
  readonly isOn: boolean
  readonly onChoose: () => void
}

function OneHand({ view, document, name, part, isOn, onChoose }: OneHandProps) {
  const kind = findKind(handKinds, part)
  if (kind === undefined) return null
  const label = labelOf(part, name)
  const ends = endsOf(document, view, part)
  const widget: WidgetProps = { name, part, label, ends, isOn }
  const hint = typeof part.key === 'string' ? part.key.toUpperCase() : ''
  const does = kind.isPressed ? waitsFor(document, view, name) : ''
  return (
    <div onPointerDownCapture={onChoose} className={part.kind === 'dialHand' ? 'col-span-2' : ''}>
      {Object.keys(ends).length > 0 && <p className="text-[12.5px] font-semibold leading-[18px]">{label}</p>}
      {part.kind === 'padHand' && <PadWidget {...widget} />}
      {part.kind === 'sliderHand' && <SliderWidget {...widget} />}
      {part.kind === 'buttonHand' && <ButtonWidget {...widget} {...{ does, hint }} />}
      {part.kind === 'switchHand' && <SwitchWidget {...widget} {...{ does, hint }} />}
      {part.kind === 'dialHand' && <DialWidget {...widget} />}
      {Object.entries(ends).map(([axis, words]) => (
        <p key={axis} className="note max-w-[132px] leading-[16px]">
          {words}
        </p>
      ))}
    </div>
  )
}

/** What moving each axis all the way asks, in words. */
function endsOf(document: Document, view: TrialView, part: Part): { readonly [axis in HandAxis]?: string } {
  const axes = findKind(handKinds, part)?.axes(part) ?? {}
  return Object.fromEntries(
    Object.entries(axes).map(([axis, { loop, by, how }]) => {
      const unit = `${commandUnit(document, view.machine, loop)}${how === 'drives' ? '/s' : ''}`
      const push = findPush(view.machine, cuedPush(loop) ?? '')
      return [axis, `${push?.label ?? loopLabel(document, loop)} ±${withUnit(Number(part[by] ?? 0), motionUnit(unit), 3)}`]
    }),
  )
}

/** The cues that wait for a button. */
function waitsFor(document: Document, { trial }: TrialView, hand: string): string {
  const cues = Object.entries(partsIn(document.trials[trial]!.cues)).filter(([, cue]) =>
    (['waits', 'until'] as const).some((slot) => waitsOf(cue[slot] as Part | undefined)?.hand === hand),
  )
  return cues.length === 0 ? 'no cue waits for it' : cues.map(([name, cue]) => labelOf(cue, name)).join(', ')
}

interface HandSentenceProps {
  readonly view: TrialView
  readonly document: Document
  readonly gains: readonly string[]
  readonly hands: Readonly<Record<string, Part>>
  readonly name: string
  readonly part: Part
  readonly onChoose: (name: string) => void
}

/** The chosen hand: what it is called, what it does, which keys and sticks move it. */
function HandSentence({ view, document, gains, hands, name, part, onChoose }: HandSentenceProps) {
  const kind = findKind(handKinds, part)
  if (kind === undefined) return null
  const path = `trials.${view.trial}.hands.${name}`
  const isDriven = part.how === 'drives'
  const unit = (loop: unknown) => motionUnit(`${commandUnit(document, view.machine, String(loop))}${isDriven ? '/s' : ''}`)
  const heard = (slot: string, hears: 'key' | 'axis' | 'button') => [
    slot,
    <Listen
      key={slot}
      path={`${path}.${slot}`}
      label={kind.slots[slot]!.label}
      value={part[slot] as string | number | undefined}
      hears={hears}
    />,
  ]
  const own = {
    ...(kind.slots.by === undefined ? {} : { by: <SlotAt path={`${path}.by`} unit={unit(part.loop)} /> }),
    ...(kind.slots.byUp === undefined ? {} : { byUp: <SlotAt path={`${path}.byUp`} unit={unit(part.loopUp)} /> }),
    ...(kind.slots.gain === undefined ? {} : { gain: <SlotAt path={`${path}.gain`} names={named(gains)} /> }),
    ...Object.fromEntries(kind.keys.map(({ slot }) => heard(slot, 'key'))),
    ...Object.fromEntries(kind.sticks.map(({ slot }) => heard(slot, 'axis'))),
    ...(kind.slots.button === undefined ? {} : Object.fromEntries([heard('button', 'button')])),
  }
  return (
    <div className="pt-2 mt-2 border-t border-line">
      <div className="flex items-start gap-1">
        <span className="grow min-w-0 text-[13px] leading-[24px]">
          <ChoiceField label="hand that is described" value={name} options={labelled(hands)} onChoose={onChoose} /> is a{' '}
          {kind.label} called{' '}
          <TextField path={`${path}.label`} label="name of this hand" value={labelOf(part, name)} isFormula={false} />.
        </span>
        <Icon label="Earlier in the panel" onPress={() => edit(moveInPanel(view.trial, name, -1))}>
          <ChevronLeft size={14} />
        </Icon>
        <Icon label="Later in the panel" onPress={() => edit(moveInPanel(view.trial, name, 1))}>
          <ChevronRight size={14} />
        </Icon>
        <Icon label="Remove this hand" onPress={() => edit(removePart(path, 'Remove a hand'))}>
          <X size={14} />
        </Icon>
      </div>
      <Sentence says={kind.says} path={path} className="text-[13px] leading-[24px]" own={own} />
      {view.isLive && <p className="note">What is changed here counts from the next time that it is taken by hand.</p>}
      <ProblemsAt path={path} />
    </div>
  )
}

function Icon({
  label,
  onPress,
  children,
}: {
  readonly label: string
  readonly onPress: () => void
  readonly children: React.ReactNode
}) {
  return (
    <button className="size-6 grid place-items-center text-mist shrink-0" aria-label={label} title={label} onClick={onPress}>
      {children}
    </button>
  )
}

function named(gains: readonly string[]): Record<string, string> {
  return Object.fromEntries(gains.map((gain) => [gain, gain.replace(/^loops\./, '').replace('.gains.', ', ')]))
}
