import { useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Problem } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import type { CheckCount } from '@calm-hand/core/simulation'
import { useAnswer } from '../compute'
import { useOpen } from '../state/project'
import { useRuns } from '../state/runs'
import { afterTheStation, useStaleLoops } from '../state/stale'
import { useCheckCounts } from '../state/verdicts'
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
  const beyond = useAnswer('beyondReach', valid, [], afterTheStation).answer
  const stale = useStaleLoops(valid)
  const hashes = useAnswer('runHashes', valid, [], afterTheStation).answer
  const counts = useCheckCounts(valid)
  return useMemo(
    () => [
      { name: 'Machine', ...stationState('machine', id, problems, (count) => machineState(valid, count)) },
      {
        name: 'Loops',
        ...stationState('loops', id, problems, (count) => loopsState(valid, { beyond, stale: stale?.length }, count)),
      },
      {
        name: 'Trials',
        ...stationState('trials', id, problems, (count) => trialsState(valid, { latest, hashes, counts }, count)),
      },
      { name: 'Studies', state: 'notBegun', line: 'Not in this edition' },
      { name: 'Rig', state: 'notBegun', line: 'Not in this edition' },
    ],
    [id, valid, problems, latest, beyond, stale, hashes, counts],
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
    Object.values(document.machines).reduce((total, machine) => total + Object.keys(partsIn(machine[group])).length, 0)
  const machines = Object.keys(document.machines).length
  if (machines > 1) return { state: 'holds', line: `${machines} machines` }
  const [bodies, states] = [count('bodies'), count('states')]
  const words = bodies > 0 ? counted(bodies, 'body', 'bodies') : counted(states, 'state', 'states')
  return { state: 'holds', line: `${words}, no problems` }
}

function counted(count: number, one: string, many: string): string {
  return `${count} ${count === 1 ? one : many}`
}

/** What was found of the loops: those that have no design, and how many are stale; nothing while it is worked out. */
interface LoopsFound {
  readonly beyond: readonly string[] | undefined
  readonly stale: number | undefined
}

export function loopsState(document: Document, { beyond, stale }: LoopsFound, problems = 0): State {
  if (problems > 0) return failing(problems)
  const names = Object.keys(document.loops)
  if (names.length === 0) return { state: 'notBegun', line: 'No loop yet' }
  const count = names.length === 1 ? '1 loop' : `${names.length} loops`
  if (beyond === undefined || stale === undefined) return { state: 'holds', line: count }
  if (beyond.length > 0)
    return { state: 'fails', line: `${beyond.map((name) => labelOf(document.loops[name], name)).join(', ')} out of reach` }
  if (stale > 0) return { state: 'stale', line: `${counted(stale, 'loop', 'loops')} to retune` }
  return { state: 'holds', line: `${count}, all in reach` }
}

/** The last run of each trial, and what a run of it would be now; nothing while it is worked out. */
interface RunsFound {
  readonly latest: Readonly<{ [trial: string]: { readonly hash: string } }>
  readonly hashes: Readonly<{ [trial: string]: string }> | undefined
  /** Of trials whose last run was judged. */
  readonly counts?: Readonly<Record<string, CheckCount>>
}

export function trialsState(document: Document, { latest, hashes, counts = {} }: RunsFound, problems = 0): State {
  if (problems > 0) return failing(problems)
  const names = Object.keys(document.trials)
  if (names.length === 0) return { state: 'notBegun', line: 'No trial yet' }
  const flown = names.filter((name) => latest[name] !== undefined)
  if (flown.length === 0)
    return { state: 'notBegun', line: names.length === 1 ? '1 trial, not run' : `${names.length} trials, not run` }
  const stale = hashes === undefined ? [] : flown.filter((name) => hashes[name] !== latest[name]!.hash)
  if (stale.length > 0) return { state: 'stale', line: `${stale.length} older than the loops` }
  const all = Object.values(counts)
  const [failed, checks] = (['failed', 'all'] as const).map((of) => all.reduce((total, count) => total + count[of], 0))
  if (failed! > 0) return { state: 'fails', line: `${failed} of ${checks} checks ${failed === 1 ? 'fails' : 'fail'}` }
  return { state: 'holds', line: `${flown.length} of ${names.length} run` }
}
