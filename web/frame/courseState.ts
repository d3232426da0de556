import { useMemo } from 'react'
import type { Document, Problem } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { runHash } from '@calm-hand/core/simulation'
import { designLoop, staleLoops } from '@calm-hand/core/tuning'
import { useOpen } from '../state/project'
import { useRuns } from '../state/runs'
import { placeAddress, stationOf } from './places'

export interface StationState {
  readonly name: string
  /** Where it leads; nothing for a station that is not there yet. */
  readonly to?: string
  readonly state: 'holds' | 'stale' | 'fails' | 'notBegun'
  readonly line: string
}

/** One live line for each station of the open project. */
export function useCourse(): StationState[] {
  const id = useOpen((project) => project.id)
  const valid = useOpen((project) => project.valid)
  const problems = useOpen((project) => project.problems)
  const latest = useRuns((runs) => runs.latest)
  return useMemo(
    () => [
      { name: 'Machine', ...stationState('machine', id, problems, (count) => machineState(valid, count)) },
      { name: 'Loops', ...stationState('loops', id, problems, (count) => loopsState(valid, count)) },
      { name: 'Trials', ...stationState('trials', id, problems, (count) => trialsState(valid, latest, count)) },
      { name: 'Studies', state: 'notBegun', line: 'Not in this edition' },
      { name: 'Rig', state: 'notBegun', line: 'Not in this edition' },
    ],
    [id, valid, problems, latest],
  )
}

type State = Pick<StationState, 'state' | 'line'>

/** A station with problems leads to the first of them: each is told where it is mended. */
function stationState(
  station: 'machine' | 'loops' | 'trials',
  id: string,
  problems: readonly Problem[],
  stateFor: (problems: number) => State,
): State & { readonly to: string } {
  const own = problems.filter(({ where }) => stationOf(where) === station)
  return { to: own[0] === undefined ? `/${id}/${station}` : placeAddress(id, own[0].where), ...stateFor(own.length) }
}

function failing(problems: number): State {
  return { state: 'fails', line: counted(problems, 'problem', 'problems') }
}

export function machineState(document: Document, problems: number): State {
  if (problems > 0) return failing(problems)
  const count = (group: string) =>
    Object.values(document.machines).reduce((total, machine) => total + Object.keys((machine[group] ?? {}) as object).length, 0)
  const machines = Object.keys(document.machines).length
  if (machines > 1) return { state: 'holds', line: `${machines} machines` }
  const [bodies, states] = [count('bodies'), count('states')]
  const words = bodies > 0 ? counted(bodies, 'body', 'bodies') : counted(states, 'state', 'states')
  return { state: 'holds', line: `${words}, no problems` }
}

function counted(count: number, one: string, many: string): string {
  return `${count} ${count === 1 ? one : many}`
}

export function loopsState(document: Document, problems = 0): State {
  if (problems > 0) return failing(problems)
  const names = Object.keys(document.loops)
  if (names.length === 0) return { state: 'notBegun', line: 'No loop yet' }
  const beyond = names.filter((name) => designLoop(document, name).kind === 'refused')
  if (beyond.length > 0)
    return { state: 'fails', line: `${beyond.map((name) => labelOf(document.loops[name], name)).join(', ')} out of reach` }
  const stale = staleLoops(document)
  if (stale.length > 0) return { state: 'stale', line: `${counted(stale.length, 'loop', 'loops')} to retune` }
  return { state: 'holds', line: `${names.length === 1 ? '1 loop' : `${names.length} loops`}, all in reach` }
}

export function trialsState(
  document: Document,
  latest: Readonly<{ [trial: string]: { readonly hash: string } }>,
  problems = 0,
): State {
  if (problems > 0) return failing(problems)
  const names = Object.keys(document.trials)
  if (names.length === 0) return { state: 'notBegun', line: 'No trial yet' }
  const flown = names.filter((name) => latest[name] !== undefined)
  if (flown.length === 0)
    return { state: 'notBegun', line: names.length === 1 ? '1 trial, not run' : `${names.length} trials, not run` }
  const stale = flown.filter((name) => runHash(document, name) !== latest[name]!.hash)
  if (stale.length > 0) return { state: 'stale', line: `${stale.length} older than the loops` }
  return { state: 'holds', line: `${flown.length} of ${names.length} run` }
}
