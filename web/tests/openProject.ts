import { vi } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { useProject } from '../state/project'
import { restoreTyping } from '../state/typing'

/** Opens a document as the project of the interface, without a server. */
export function openDocument(document: Document): void {
  const checked = checkDocument(document)
  localStorage.clear()
  sessionStorage.clear()
  restoreTyping(undefined)
  useProject.setState({
    project: {
      id: 'test',
      document,
      valid: checked.kind === 'done' ? checked.value.resolved : document,
      judged: document,
      problems: checked.kind === 'done' ? [] : checked.problems,
      cautions: [],
      revision: 1,
      saving: { kind: 'saved', at: '2026-05-01T10:00:00Z' },
      past: [],
      future: [],
      gesture: undefined,
      attempts: [],
      isKept: true,
      left: [],
      damaged: [],
    },
  })
}

/** What the page of a test lacks beside a real browser. */
export function completePage(): void {
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  )
  Element.prototype.scrollIntoView = () => undefined
  const nothing = () => undefined
  const context = { measureText: () => ({ width: 80 }), beginPath: nothing, roundRect: nothing, fill: nothing, fillText: nothing }
  vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(context as unknown as RenderingContext)
}
