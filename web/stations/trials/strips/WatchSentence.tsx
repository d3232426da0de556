import { Fragment } from 'react'
import { Plus, X } from 'lucide-react'
import type { Part } from '@calm-hand/core/document'
import { removePart, setValue, setValues } from '../../../state/edits'
import { edit } from '../../../state/project'
import { SlotAt } from '../../../sentence'
import { FindSignal } from '../FindSignal'
import type { TrialView, WatchView, WatchedSignal } from '../useTrialView'
import { besideWords } from './lines'
import { unwatch, watchBeside, watchInstead } from './watchEdits'

interface WatchSentenceProps {
  readonly view: TrialView
  readonly watch: WatchView
}

/** What is watched, as one sentence: signals with what stands beside them, and the part of the run. */
export function WatchSentence({ view, watch }: WatchSentenceProps) {
  const path = `trials.${view.trial}.watch.${watch.key}`
  const first = watch.signals[0]!
  return (
    <h3 className="font-normal text-[13.5px] leading-[24px]">
      Watch{' '}
      {watch.isPath ? (
        <PathSlots {...{ view, watch, path }} />
      ) : (
        <SignalSlots {...{ view, path }} part={watch.part} signals={watch.signals} />
      )}{' '}
      from <SlotAt path={`${path}.from`} {...(watch.part.from === undefined ? { words: 'the start' } : {})} /> to{' '}
      <SlotAt path={`${path}.to`} {...(watch.part.to === undefined ? { words: 'the end' } : {})} />.
      <span className="whitespace-nowrap pl-1">
        {(watch.part.from ?? watch.part.to) !== undefined && (
          <button
            className="note underline px-1"
            onClick={() => edit(setValues([`${path}.from`, `${path}.to`], undefined, 'Watch the whole run'))}
          >
            all of it
          </button>
        )}
        <RemoveButton
          says={`Do not watch ${watch.isPath || watch.signals.length === 1 ? first.label : 'these'}`}
          onPress={() => edit(removePart(path, `Do not watch ${first.label}`))}
        />
      </span>
    </h3>
  )
}

const notThere = '(not in this run)'

interface SignalSlotsProps {
  readonly view: TrialView
  /** Of the part that names them in `signal` and `beside`. */
  readonly path: string
  readonly part: Part
  readonly signals: readonly WatchedSignal[]
}

/** Signals of a sentence: each another one at will, taken out, and more of them. */
export function SignalSlots({ view, path, part, signals }: SignalSlotsProps) {
  const first = signals[0]!
  return (
    <>
      {signals.map((signal, place) => (
        <Fragment key={signal.name}>
          {place === 0 ? '' : place === signals.length - 1 ? ' and ' : ', '}
          <SignalSlot
            view={view}
            label={besideWords(signal, first)}
            isGone={signal.label.endsWith(notThere)}
            says={`watched: ${signal.label}`}
            onTake={(next) => edit(watchInstead(path, part, place, next))}
          />
          {signals.length > 1 && (
            <RemoveButton says={`Do not watch ${signal.label}`} onPress={() => edit(unwatch(path, part, place))} />
          )}
        </Fragment>
      ))}
      <FindSignal
        view={view}
        without={new Set(signals.map(({ name }) => name))}
        onTake={(signal) => edit(watchBeside(path, part, signal))}
      >
        <button
          className="text-mist align-middle p-0.5"
          aria-label={`Watch another with ${first.label}`}
          title="With another signal"
        >
          <Plus size={13} />
        </button>
      </FindSignal>
    </>
  )
}

/** One signal over another, and a second pair beside it. */
function PathSlots({ view, watch: { part, signals }, path }: WatchSentenceProps & { readonly path: string }) {
  const labelOf = (name: unknown) => signals.find((one) => one.name === name)
  const slot = (key: string, empty: string) => {
    const signal = labelOf(part[key])
    return (
      <SignalSlot
        view={view}
        label={signal?.label ?? empty}
        isGone={signal?.label.endsWith(notThere) === true}
        says={`${key}: ${signal?.label ?? empty}`}
        onTake={(next) => edit(setValue(`${path}.${key}`, next, 'Watch another'))}
      />
    )
  }
  const hasSecond = part.askedUp !== undefined || part.askedAcross !== undefined
  return (
    <>
      {slot('up', 'nothing')} over {slot('across', 'nothing')}, with{' '}
      {hasSecond ? (
        <>
          {slot('askedUp', 'choose one')} over {slot('askedAcross', 'choose one')}
          <RemoveButton
            says="Without the second"
            onPress={() => edit(setValues([`${path}.askedUp`, `${path}.askedAcross`], undefined, 'Watch one less'))}
          />
        </>
      ) : (
        slot('askedUp', 'nothing beside it')
      )}
    </>
  )
}

interface SignalSlotProps {
  readonly view: TrialView
  readonly label: string
  readonly isGone: boolean
  readonly says: string
  readonly onTake: (signal: string) => void
}

function SignalSlot({ view, label, isGone, says, onTake }: SignalSlotProps) {
  return (
    <FindSignal view={view} onTake={onTake}>
      <button className={`slot ${isGone ? 'text-coral-text' : ''}`} aria-label={says} title={isGone ? goneWords : undefined}>
        {label}
      </button>
    </FindSignal>
  )
}

const goneWords = 'This run has no such signal. Choose another, or run the trial again.'

function RemoveButton({ says, onPress }: { readonly says: string; readonly onPress: () => void }) {
  return (
    <button className="text-mist align-middle p-0.5" aria-label={says} title={says} onClick={onPress}>
      <X size={12} />
    </button>
  )
}
