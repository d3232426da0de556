import { redo, undo, useProject } from '../state/project'
import { setTheme, useTheme } from '../state/theme'
import { showOverlay } from './overlays'

/** One thing a person can do, by key, search or button. Stations add their own while they are shown. */
export interface Action {
  readonly name: string
  /** As shown: `Ctrl K`, `R`, `Space`. */
  readonly keys?: string
  readonly does: () => void
  readonly group: string
}

const stationActions = new Map<string, readonly Action[]>()

/**
 * Registers a station's actions; gives what takes them away again. For a layout effect: what a key does is then of what is
 * seen, also where it is pressed at once.
 */
export function offerActions(owner: string, actions: readonly Action[]): () => void {
  stationActions.set(owner, actions)
  return () => void stationActions.delete(owner)
}

/** Addresses of the stations, in the order of the course. */
export const courseStations = [
  { name: 'Machine', path: 'machine' },
  { name: 'Loops', path: 'loops' },
  { name: 'Trials', path: 'trials' },
] as const

export function allActions(navigate: (to: string) => void): Action[] {
  const id = useProject.getState().project?.id
  const goTo = courseStations.map(({ name, path }, i): Action => ({
    name: `Go to ${name}`,
    keys: String(i + 1),
    group: 'Stations',
    does: () => id !== undefined && navigate(`/${id}/${path}`),
  }))
  return [
    ...(id === undefined ? [] : goTo),
    { name: 'Go to the Yard', group: 'Stations', does: () => navigate('/') },
    ...[...stationActions.values()].flat(),
    ...(id === undefined
      ? []
      : [
          { name: 'Undo', keys: 'Ctrl Z', group: 'Work', does: undo },
          { name: 'Redo', keys: 'Ctrl Shift Z', group: 'Work', does: redo },
          { name: 'Report of the machine', group: 'Work', does: () => navigate(`/${id}/report`) },
          { name: 'History, runs and what is kept', group: 'Work', does: () => showOverlay('kept') },
        ]),
    { name: 'Command search', keys: 'Ctrl K', group: 'Everywhere', does: () => showOverlay('search') },
    { name: 'Keys and help', keys: '?', group: 'Everywhere', does: () => showOverlay('help') },
    { name: 'Day or dusk', group: 'Everywhere', does: () => setTheme(useTheme.getState().theme === 'day' ? 'dusk' : 'day') },
  ]
}
