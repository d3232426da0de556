import { asCued, cuedPush } from './control'
import { withRenamedInLoops } from './tuning'
import { findAt, partAt, partsIn, replaceAt } from './document'
import type { Document, Part } from './document'
import { everyPart, identifierFrom, isPart, labelOf, wordsOf } from './kinds'
import type { AnyKind } from './kinds'
import { withRenamedBody, withRenamedSignal } from './machine'
import { chartForPrint, checks, cues, gapAsked, hands, spanAsked, startKinds, watches, withRenamedChanges } from './simulation'

type Parts = Readonly<Record<string, Part>>

/** A document in which a part has other words, and where its identifier goes with them another one, wherever it is named. */
export interface Renamed {
  readonly document: Document
  /** Where the part is now. */
  readonly path: string
}

/**
 * Names a part by words in any letters. `path` is that of the part: `machines.crane.bodies.boom`, `loops.height`,
 * `estimators.tilt`, `machines.crane`. Its identifier follows the words, and every name, path and formula that says it.
 */
export function withNewName(document: Document, path: string, words: string): Renamed {
  const [name, group] = [path.split('.').at(-1)!, path.split('.').slice(0, -1).join('.')]
  const label = words.trim()
  const part = partAt(document, path)!
  if (label === '' || label === labelOf(part, name)) return { document, path }
  const others = Object.keys(findAt(document, group) as Parts).filter((one) => one !== name)
  const taken = group.endsWith('.bodies') ? [...others, 'ground'] : others
  const next = identifierFrom(label, taken)
  const named = next === name ? document : withIdentifier(document, path, next)
  const at = `${group}.${next}`
  return { document: replaceAt(named, `${at}.label`, wordsOf(next) === label ? undefined : label), path: at }
}

/** The same part under another identifier, which must be free. */
function withIdentifier(document: Document, path: string, to: string): Document {
  const [top, owner, group, from] = path.split('.') as [string, string, string?, string?]
  if (top === 'loops') return withRenamedLoop(document, owner, to)
  if (top === 'estimators') return watchedAs(renamedKey(document, top, owner, to), `estimators.${owner}`, `estimators.${to}`)
  if (group === undefined || from === undefined) return withRenamedMachine(document, owner, to)
  const machine = document.machines[owner]!
  const at = `machines.${owner}`
  const isBody = group === 'bodies' && machine.kind === 'mechanism'
  const isSignal = group === 'states' || group === 'inputs' || group === 'outputs'
  const next = isBody
    ? withRenamedBody(machine, from, to)
    : isSignal
      ? withRenamedSignal(machine, group, from, to)
      : withRenamedInMachine(machine, group, from, to)
  // loops say `boom.angle` of a body, `speed` of a state, `drives.hoist` of a drive
  const [said, says] = isBody || isSignal ? [from, to] : [`${group}.${from}`, `${group}.${to}`]
  const follow = (name: string) => followed(name, said, says)
  const looped = withRenamedInLoops(replaceAt(document, at, next), owner, follow)
  const sensed = group === 'sensors' ? withRenamedInEstimators(looped, owner, from, to) : looped
  return withRenamedInTrials(sensed, owner, { path: [`${group}.${from}`, `${group}.${to}`], signal: [said, says] })
}

/** The name itself, or one of its own: `drives.hoist.effort`. */
function followed(name: string, from: string, to: string): string {
  return name === from || name.startsWith(`${from}.`) ? `${to}${name.slice(from.length)}` : name
}

/** Parts keep their order. */
function renamedKey(document: Document, group: string, from: string, to: string): Document {
  return replaceAt(document, group, movedKey(findAt(document, group) as Parts, from, to))
}

function movedKey(parts: Parts, from: string, to: string): Parts {
  return Object.fromEntries(Object.entries(parts).map(([name, part]) => [name === from ? to : name, part]))
}

/** Slots that name a battery or another part of the same machine by itself. */
const plainSlots = new Set(['supply'])

function withRenamedInMachine(machine: Part, group: string, from: string, to: string): Part {
  // alone, in a list of names, in a formula
  const said = new RegExp(`(?<![A-Za-z0-9_.])${group}\\.${from}(?![A-Za-z0-9_])`, 'g')
  const renamed = (value: unknown, slot: string): unknown => {
    if (typeof value === 'string') return plainSlots.has(slot) && value === from ? to : value.replace(said, `${group}.${to}`)
    if (Array.isArray(value)) return value.map((one: unknown) => renamed(one, ''))
    if (typeof value !== 'object' || value === null) return value
    return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, key === 'label' ? one : renamed(one, key)]))
  }
  const all = renamed(machine, '') as Part
  return { ...all, [group]: movedKey(partsIn(all[group]), from, to) }
}

function withRenamedInEstimators(document: Document, machine: string, from: string, to: string): Document {
  return Object.entries(document.estimators).reduce((changed, [name, part]) => {
    if (part.machine !== machine) return changed
    return Object.entries(part).reduce(
      (next, [slot, value]) =>
        value === from && slot !== 'label' && slot !== 'kind' ? replaceAt(next, `estimators.${name}.${slot}`, to) : next,
      changed,
    )
  }, document)
}

interface InTrials {
  /** In what a trial changes about the machine. */
  readonly path: readonly [string, string]
  /** In what it watches, after the machine's name. */
  readonly signal: readonly [string, string]
}

function withRenamedInTrials(document: Document, machine: string, { path, signal }: InTrials): Document {
  const changed = withRenamedChanges(document, (parameter, trial) =>
    trial.machine === machine ? followed(parameter, ...path) : parameter,
  )
  const acted = Object.entries(changed.trials).reduce((all, [trial, part]) => {
    if (part.machine !== machine) return all
    const named = [
      ...slotsIn(cues, `trials.${trial}.cues`, part.cues),
      ...slotsIn(hands, `trials.${trial}.hands`, part.hands),
      ...slotsIn(startKinds, `trials.${trial}.starts`, part.starts),
    ]
    return named.reduce((next, { at, value, of }) => {
      const push = of === 'cued' ? cuedPush(value) : undefined
      if (push !== undefined) return replaceAt(next, at, asCued(followed(push, ...signal)))
      if (of === 'startable') return replaceAt(next, at, followed(value, ...signal))
      if (of === 'number' || of === 'failing') return replaceAt(next, at, followed(value, ...path))
      if (of === 'motion') return `motions.${value}` === path[0] ? replaceAt(next, at, path[1].slice('motions.'.length)) : next
      return of === 'body' && `bodies.${value}` === path[0] ? replaceAt(next, at, path[1].slice('bodies.'.length)) : next
    }, all)
  }, changed)
  return watchedAs(acted, `${machine}.${signal[0]}`, `${machine}.${signal[1]}`)
}

function watchedAs(document: Document, from: string, to: string): Document {
  return Object.entries(document.trials).reduce((all, [trial, part]) => {
    const lists = [
      [hands, '.hands', part.hands],
      [cues, '.cues', part.cues],
      [checks, '.checks', part.checks],
      [watches, '.watch', part.watch],
      [[spanAsked, gapAsked, chartForPrint], '', asked(part)],
    ] as const
    const named = lists.reduce((next, [kinds, at, list]) => withRenamedIn(kinds, at, next, trial, list, from, to), all)
    return typeof part.trail === 'string' ? replaceAt(named, `trials.${trial}.trail`, followed(part.trail, from, to)) : named
  }, document)
}

/** What a trial asks about its runs, one part each. */
function asked({ span, gap, print }: Part): Parts {
  return Object.fromEntries(Object.entries({ span, gap, print }).flatMap(([key, one]) => (isPart(one) ? [[key, one]] : [])))
}

/** In the signals and conditions of what a trial holds by name, and where it names a loop. `at`: where that is in the trial. */
function withRenamedIn(
  kinds: readonly AnyKind[],
  at: string,
  document: Document,
  ...[trial, list, from, to]: readonly [trial: string, list: unknown, from: string, to: string]
): Document {
  const machine = `${document.trials[trial]!.machine}.`
  // a condition may leave the name of the machine out
  const ways = from.startsWith(machine)
    ? [
        [from, to],
        [from.slice(machine.length), to.slice(machine.length)],
      ]
    : [[from, to]]
  const inText = (text: string) =>
    ways.reduce((next, [said, says]) => {
      const alone = new RegExp(`(?<![A-Za-z0-9_.])${said!.replaceAll('.', '\\.')}(?![A-Za-z0-9_])`, 'g')
      return next.replace(alone, says!)
    }, text)
  return slotsIn(kinds, `trials.${trial}${at}`, list).reduce((next, { at: place, value, type, of }) => {
    if (type === 'formula') return replaceAt(next, place, inText(value))
    if (of === 'signal' || of === 'altered' || of === 'gain') return replaceAt(next, place, followed(value, from, to))
    return (of === 'loop' || of === 'cued') && `loops.${value}` === from
      ? replaceAt(next, place, to.slice('loops.'.length))
      : next
  }, document)
}

/** Every text in the slots of named parts and the parts inside them. */
function slotsIn(kinds: readonly AnyKind[], path: string, list: unknown) {
  return Object.entries(partsIn(list)).flatMap(([key, whole]) =>
    everyPart(kinds, `${path}.${key}`, whole).flatMap(({ path: at, part, kind }) =>
      Object.entries(kind.slots).flatMap(([slot, { type, ...definition }]) => {
        const value = part[slot]
        const of = 'of' in definition ? definition.of : undefined
        return typeof value === 'string' ? [{ at: `${at}.${slot}`, value, type, of }] : []
      }),
    ),
  )
}

function withRenamedLoop(document: Document, from: string, to: string): Document {
  const keyed = renamedKey(document, 'loops', from, to)
  const pushed = Object.entries(keyed.loops).reduce(
    (next, [name, { pushes }]) => (pushes === `loops.${from}` ? replaceAt(next, `loops.${name}.pushes`, `loops.${to}`) : next),
    keyed,
  )
  return watchedAs(pushed, `loops.${from}`, `loops.${to}`)
}

function withRenamedMachine(document: Document, from: string, to: string): Document {
  const keyed = renamedKey(document, 'machines', from, to)
  const owned = (['loops', 'estimators', 'trials'] as const).flatMap((group) =>
    Object.entries(keyed[group]).flatMap(([name, { machine }]) => (machine === from ? [`${group}.${name}.machine`] : [])),
  )
  const moved = owned.reduce((next, at) => replaceAt(next, at, to), keyed)
  return watchedAs(moved, from, to)
}
