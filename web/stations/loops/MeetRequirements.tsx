import { proxy } from 'comlink'
import { Popover } from 'radix-ui'
import { useRef, useState } from 'react'
import { keeps, keptBy, keptFrom } from '@calm-hand/core/control'
import { requirement } from '@calm-hand/core/tuning'
import type { Document, LoopPart, Part } from '@calm-hand/core/document'
import type { MetWish, WishName } from '@calm-hand/core/tuning'
import { answerTo } from '../../compute'
import type { Answer, Arguments } from '../../compute'
import type { MeetRequest } from '../../compute/loops/meet'
import { setValue } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { digitsOf, parseTyped, shownUnit, unitAsWritten, unitOver, withUnit } from '../../units'
import type { UnitSaid } from '../../units'
import type { LoopView } from '../../compute/loops/loopView'

interface Field {
  readonly name: WishName
  readonly label: string
  readonly unit: UnitSaid
}

function fieldsOf({ axis, quantity }: LoopView): readonly Field[] {
  return [
    { name: 'overshoot', label: 'overshoot at most', unit: unitAsWritten('%') },
    { name: 'settling', label: 'settles within', unit: 's' },
    { name: 'peakCommand', label: 'command for the step at most', unit: axis.unit },
    { name: 'sensitivityPeak', label: 'sensitivity peak at most', unit: '' },
    { name: 'phaseMargin', label: 'in hand at least', unit: 'rad' },
    { name: 'gainMargin', label: 'bears times its gain at least', unit: '' },
    { name: 'delayMargin', label: 'bears more delay, at least', unit: unitAsWritten('ms') },
    { name: 'deviation', label: 'gives way at most', unit: unitOver(quantity.unit, axis.unit) },
    { name: 'recovery', label: 'recovers from a push within', unit: 's' },
  ]
}

/** What is typed into a field, SI; nothing where it is left free. */
function typedIn({ unit, label }: Field, typed = ''): number | { readonly wrong: string } | undefined {
  if (typed.trim() === '') return undefined
  const read = parseTyped(typed, unit)
  if (read.kind === 'number') return read.value
  return { wrong: `${label}: ${read.kind === 'wrong' ? read.what : 'a formula does not belong here. Type a number.'}` }
}

/** What to start from: what the loop shall keep, or as quick as it is now, with usual margins (common practice, no source). */
function startOf(part: LoopPart, view: LoopView): Partial<Record<WishName, string>> {
  const kept = keptBy(part)
  const known = fieldsOf(view).flatMap(({ name, unit }) => {
    const limit = kept[name]
    return limit === undefined ? [] : [[name, digitsOf(limit, unit)] as const]
  })
  if (known.length > 0) return Object.fromEntries(known)
  const { now } = view
  const settling = now?.figures.settling
  const quick = settling === undefined ? {} : { settling: String(Number(settling.toPrecision(2))) }
  return { overshoot: '15', phaseMargin: '45', ...quick }
}

/** The wishes as parts of the loop, by figure. */
function keepsOf(wishes: Partial<Record<WishName, number>>): Readonly<Record<string, Part>> {
  return Object.fromEntries(
    keeps.flatMap(({ name, figure }): [string, Part][] => {
      const limit = wishes[figure]
      return limit === undefined ? [] : [[figure, { kind: name, [keptFrom(figure)]: limit }]]
    }),
  )
}

/** What a field takes, in words, where what is typed is something else. */
function outside(field: Field, typed?: string): string | undefined {
  const value = typedIn(field, typed)
  if (value === undefined) return undefined
  if (typeof value === 'object') return value.wrong
  const { name, label, unit } = field
  const slot = keeps.find(({ figure }) => figure === name)!.slots[keptFrom(name)]
  const { least = 0, most = Infinity } = slot as { readonly least?: number; readonly most?: number }
  if (value >= least && value <= most) return undefined
  const range = `${digitsOf(least, unit, 3)} ${most === Infinity ? 'up' : `to ${digitsOf(most, unit, 3)}`}`
  return `${label}: give a number from ${range}, or leave it free.`
}

type Result = NonNullable<Answer<'meet'>>

/** Looks for a design that keeps requirements; nothing where `onStep` breaks it off. */
function lookFor(document: Document, loop: string, request: MeetRequest, onStep: (share: number) => boolean) {
  const rest: Arguments<'meet'> = [loop, request, proxy(onStep)]
  return answerTo({ name: 'meet', document, rest, subject: `meet ${loop}`, lane: 'side', rank: 2 })
}

/** Asks for what the loop shall keep, looks for a crossover and margin that do, and says which requirement binds. */
export function MeetRequirements({ loop, view }: { readonly loop: string; readonly view: LoopView }) {
  const document = useOpen((project) => project.document)
  const [typed, setTyped] = useState<Partial<Record<WishName, string>>>(() => startOf(document.loops[loop]!, view))
  const [ranges, setRanges] = useState(false)
  /** How much of the search is surely done, while it runs. */
  const [looking, setLooking] = useState<number>()
  const goesOn = useRef(true)
  const [result, setResult] = useState<Result>()
  const fields = fieldsOf(view)
  const hasRanges = Object.values(document.parameters ?? {}).some(({ least, most }) => least !== undefined || most !== undefined)
  const wrong = fields.map((field) => outside(field, typed[field.name])).find((words) => words !== undefined)
  const find = async () => {
    const wishes: Partial<Record<WishName, number>> = Object.fromEntries(
      fields.flatMap((field) => {
        const value = typedIn(field, typed[field.name])
        return typeof value === 'number' ? [[field.name, value]] : []
      }),
    )
    edit(setValue(`loops.${loop}.keeps`, keepsOf(wishes), 'Set what the loop shall keep'))
    goesOn.current = true
    setLooking(0)
    setResult(undefined)
    const onStep = (share: number) => {
      setLooking(share)
      return goesOn.current
    }
    try {
      setResult(await lookFor(document, loop, { wishes, stepSize: view.asked.stepSize, ranges }, onStep))
    } catch {
      setResult({ kind: 'outOfReach', what: 'The search broke off.', remedy: 'Change a requirement and look again.' })
    } finally {
      setLooking(undefined)
    }
  }
  const take = () => {
    if (result?.kind !== 'met') return
    edit(setValue(`loops.${loop}.tuning`, { kind: requirement.name, ...result.requirement }, 'Take the design that was found'))
  }
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button className="text-kelp font-semibold text-[12.5px] whitespace-nowrap">Meet requirements</button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="popover p-3 w-[340px] grid gap-1.5 text-[12.5px]" sideOffset={6} collisionPadding={8}>
          <h3>The loop shall keep</h3>
          {fields.map(({ name, label, unit }) => (
            <label key={name} className="flex items-center gap-2">
              <span className="grow">{label}</span>
              <input
                className="number w-[72px] h-7 px-1.5 text-right bg-chalk border border-line-2 rounded"
                value={typed[name] ?? ''}
                placeholder="free"
                inputMode="decimal"
                onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
              />
              <span className="w-12 text-mist">{shownUnit(unit)}</span>
            </label>
          ))}
          {hasRanges && (
            <label className="flex items-center gap-2">
              <input type="checkbox" checked={ranges} onChange={(event) => setRanges(event.target.checked)} />
              also at the ends of the parameters' ranges
            </label>
          )}
          {wrong !== undefined && (
            <p role="alert" className="text-coral-text">
              {wrong}
            </p>
          )}
          {looking === undefined ? (
            <button className="button" disabled={wrong !== undefined} onClick={() => void find()}>
              Look for a design
            </button>
          ) : (
            <div className="flex items-center gap-2">
              <progress className="h-1.5 grow accent-kelp" value={looking} max={1} aria-label="how much of the search is done" />
              <button className="button small" onClick={() => (goesOn.current = false)}>
                Cancel
              </button>
            </div>
          )}
          {result !== undefined && <Found result={result} fields={fields} onTake={take} />}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

interface FoundProps {
  readonly result: Result
  readonly fields: readonly Field[]
  readonly onTake: () => void
}

function Found({ result, fields, onTake }: FoundProps) {
  if (result.kind === 'outOfReach')
    return (
      <p role="alert" className="text-coral-text">
        {result.what} {result.remedy}
      </p>
    )
  const { requirement: place, holds, wishes } = result
  const said = ({ name, value, wanted }: MetWish) => {
    const { label, unit } = fields.find((field) => field.name === name)!
    const shown = (one: number) => (Number.isFinite(one) ? withUnit(one, unit, 3) : 'never')
    return `${label}: ${shown(wanted)} asked, ${shown(value)}${Number.isFinite(value) ? ' found' : ''}`
  }
  return (
    <div role="status" className="grid gap-0.5 border-t border-line pt-1.5">
      <p className={holds ? 'text-kelp' : 'text-coral-text'}>
        {holds ? 'All of them hold' : 'Not all of them can hold; this misses least'}, at{' '}
        <b className="number">{place.crossover.toPrecision(3)} rad/s</b> with{' '}
        <b className="number">{((place.phaseMargin * 180) / Math.PI).toFixed(1)}°</b>.
      </p>
      {wishes.map((wish, i) => (
        <p key={wish.name} className={wish.share > 1.001 ? 'text-coral-text' : ''}>
          {said(wish)}
          {i === 0 ? ', binds' : ''}
        </p>
      ))}
      <button className="button small justify-self-start mt-1" onClick={onTake}>
        Take it
      </button>
    </div>
  )
}
