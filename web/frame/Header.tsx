import { format } from 'date-fns'
import { HelpCircle, Redo2, Search, Undo2 } from 'lucide-react'
import { Link } from 'react-router'
import { redo, undo, useProject } from '../state/project'
import type { Saving } from '../state/project'
import { useOutbox } from '../state/outbox'
import { useRuns } from '../state/runs'
import { Course } from './Course'
import { Mark } from './Mark'
import { showOverlay } from './overlays'

export function Header() {
  const title = useProject((state) => state.project?.document.title)
  const inProject = useProject((state) => state.project !== undefined)
  const canUndo = useProject((state) => (state.project?.past.length ?? 0) > 0)
  const canRedo = useProject((state) => (state.project?.future.length ?? 0) > 0)
  return (
    <header className="bg-chalk border-b border-line flex items-center gap-5 px-4">
      <Link to="/" className="w-[160px] shrink-0 flex items-center gap-3" aria-label="To the Yard">
        <Mark />
        <span className="leading-tight">
          <b className="block text-[14px] font-semibold">{title ?? 'Tern Skerry'}</b>
          <span className="text-[12px] text-mist">{title === undefined ? 'Calm Hand' : 'Tern Skerry'}</span>
        </span>
      </Link>
      <div className="grow min-w-0 h-full">{inProject && <Course />}</div>
      <div className="flex items-center gap-1 shrink-0">
        {inProject && <SavedState />}
        <IconButton label="Undo (Ctrl Z)" disabled={!canUndo} onPress={undo}>
          <Undo2 size={16} />
        </IconButton>
        <IconButton label="Redo (Ctrl Shift Z)" disabled={!canRedo} onPress={redo}>
          <Redo2 size={16} />
        </IconButton>
        <button className="button" onClick={() => showOverlay('search')} aria-label="Command search">
          <Search size={15} /> <span className="key">Ctrl K</span>
        </button>
        <IconButton label="Keys and help (?)" onPress={() => showOverlay('help')}>
          <HelpCircle size={17} />
        </IconButton>
      </div>
    </header>
  )
}

interface IconButtonProps {
  readonly label: string
  readonly disabled?: boolean
  readonly onPress: () => void
  readonly children: React.ReactNode
}

function IconButton({ label, disabled, onPress, children }: IconButtonProps) {
  return (
    <button
      className="size-8 grid place-items-center rounded-md text-ink disabled:text-line-2 hover:bg-fog-2"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onPress}
    >
      {children}
    </button>
  )
}

/** How the work stands; pressed it shows what is kept. */
function SavedState() {
  const saving = useProject((state) => state.project!.saving)
  const problems = useProject((state) => state.project!.problems.length)
  const isKept = useProject((state) => state.project!.isKept)
  const runsKept = useRuns((runs) => runs.isKept)
  const waiting = useOutbox((outbox) => outbox.waiting)
  const isSaved = saving.kind === 'saved' && problems === 0
  const lost = !isSaved && !isKept
  const said = lost
    ? 'Not kept anywhere'
    : problems > 0
      ? 'Kept here until mended'
      : `${words(saving)}${waiting > 0 ? `, ${waiting} ${waiting === 1 ? 'run' : 'runs'} on the way` : ''}`
  return (
    <button
      className={`text-[12.5px] mr-2 whitespace-nowrap ${lost || !runsKept || saving.kind === 'refused' ? 'text-coral-text font-semibold' : 'text-mist'}`}
      data-saving={problems > 0 ? 'problems' : saving.kind}
      title="What is kept: history, runs, this project"
      onClick={() => showOverlay('kept')}
    >
      <span role="status">{said}</span>
    </button>
  )
}

function words(saving: Saving): string {
  switch (saving.kind) {
    case 'saved':
      return `Saved ${format(saving.at, 'HH:mm')}`
    case 'saving':
    case 'notYet':
      return 'Saving ...'
    case 'away':
      return 'Offline, kept here'
    case 'stale':
      return 'Saved elsewhere'
    case 'refused':
      return 'Not saved, kept here'
    default:
      return saving satisfies never
  }
}
