import { downloadDocument } from '../state/download'
import { undo, useProject } from '../state/project'
import { showOverlay } from './overlays'

interface WaysBackProps {
  /** After something was taken back: show again what had failed. */
  readonly onAgain: () => void
}

/** Where a mistake of ours stands in the way: back to the last good state, into the history, or out as a file. */
export function WaysBack({ onAgain }: WaysBackProps) {
  const project = useProject((state) => state.project)
  const last = project?.past.at(-1)
  return (
    <div className="flex flex-wrap gap-2 pt-2">
      <button className="button small" onClick={onAgain}>
        Try again
      </button>
      {last !== undefined && (
        <button
          className="button small"
          onClick={() => {
            undo()
            onAgain()
          }}
        >
          Undo: {last.label}
        </button>
      )}
      {project !== undefined && (
        <>
          <button className="button small" onClick={() => showOverlay('kept')}>
            Look into the history
          </button>
          <button className="button small" onClick={() => downloadDocument(project.document)}>
            Save the document as a file
          </button>
        </>
      )}
    </div>
  )
}
