// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { findAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { lamplighter } from '../../core/tests/demo'
import { addPart, pinRun, removePart, setValue, takeLoops, unpin } from './edits'
import { cancel, edit, keepMine, openProject, preview, redo, takeTheirs, undo, useProject } from './project'

const hullMass = 'machines.lamplighter.bodies.hull.mass'
const heavier = (mass: number) => setValue(hullMass, mass, 'Set mass')
const open = () => useProject.getState().project!
const mass = () => findAt(open().document, hullMass)

/** A server of one project: answers as the real one does. */
class FakeServer {
  revision = 7
  saved: Document = lamplighter()
  away = false
  readonly received: { revision: number; label: string }[] = []

  answer(_url: string, init?: RequestInit): Promise<Response> {
    if (this.away) return Promise.reject(new TypeError('fetch failed'))
    if (init?.method !== 'PUT') return Promise.resolve(Response.json(this.stored()))
    const sent = JSON.parse(init.body as string) as { revision: number; label: string; document: Document }
    this.received.push({ revision: sent.revision, label: sent.label })
    if (sent.revision !== this.revision)
      return Promise.resolve(Response.json({ problems: [], current: this.stored() }, { status: 409 }))
    this.revision++
    this.saved = sent.document
    return Promise.resolve(Response.json({ revision: this.revision, savedAt: '2026-05-01T10:42:00Z' }))
  }

  private stored() {
    return { id: 'lamplighter', document: this.saved, revision: this.revision, savedAt: '2026-05-01T10:00:00Z' }
  }
}

let server: FakeServer
let original: number

beforeEach(async () => {
  vi.useFakeTimers()
  localStorage.clear()
  sessionStorage.clear()
  server = new FakeServer()
  original = findAt(server.saved, hullMass) as number
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => server.answer(url, init))
  useProject.setState({ project: undefined, failure: undefined })
  await openProject('lamplighter')
})

afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('an edit', () => {
  it('is one step of undo, and redo brings it back', () => {
    edit(heavier(1.7))
    edit(heavier(1.8))
    undo()
    expect(mass()).toBe(1.7)
    undo()
    expect(mass()).toBe(original)
    undo() // nothing left: nothing happens
    expect(mass()).toBe(original)
    redo()
    redo()
    expect(mass()).toBe(1.8)
  })

  it('forgets what could have been redone', () => {
    edit(heavier(1.7))
    undo()
    edit(heavier(1.9))
    redo()
    expect(mass()).toBe(1.9)
    expect(open().past).toHaveLength(1)
  })

  it('is saved by itself after a moment, once for several quick ones', async () => {
    edit(heavier(1.7))
    edit(heavier(1.8))
    expect(open().saving.kind).toBe('notYet')
    await vi.advanceTimersByTimeAsync(1000)
    expect(server.received).toEqual([{ revision: 7, label: 'Set mass' }])
    expect(findAt(server.saved, hullMass)).toBe(1.8)
    expect(open()).toMatchObject({ revision: 8, saving: { kind: 'saved' } })
    expect(localStorage.getItem('calm-hand.draft.lamplighter')).toBeNull()
  })

  it('with a problem is kept and explained, but neither computed with nor sent', async () => {
    edit(heavier(-1))
    await vi.advanceTimersByTimeAsync(2000)
    expect(open().problems[0]?.where).toBe(hullMass)
    expect(findAt(open().valid, hullMass)).toBe(original)
    expect(server.received).toEqual([])
    edit(heavier(1.5))
    await vi.advanceTimersByTimeAsync(2000)
    expect(open().problems).toEqual([])
    expect(findAt(server.saved, hullMass)).toBe(1.5)
  })
})

describe('a gesture', () => {
  it('shows values on the way and is one step of undo', () => {
    for (const value of [1.61, 1.62, 1.63]) preview(heavier(value))
    expect(mass()).toBe(1.63)
    expect(open().past).toHaveLength(0)
    edit(heavier(1.64))
    expect(open().past).toHaveLength(1)
    undo()
    expect(mass()).toBe(original)
  })

  it('that is left puts back what was there', () => {
    preview(heavier(-5))
    expect(open().problems).not.toEqual([])
    cancel()
    expect(mass()).toBe(original)
    expect(open().problems).toEqual([])
  })

  it('is not sent while it is under the hand', async () => {
    edit(heavier(1.7))
    preview(heavier(1.9))
    await vi.advanceTimersByTimeAsync(1000)
    expect(server.received).toEqual([])
  })
})

describe('a server that is away', () => {
  it('is said, and the work is delivered when it is back', async () => {
    server.away = true
    edit(heavier(1.7))
    await vi.advanceTimersByTimeAsync(500)
    expect(open().saving).toMatchObject({ kind: 'away' })
    expect(localStorage.getItem('calm-hand.draft.lamplighter')).toContain('"mass":1.7')
    server.away = false
    await vi.advanceTimersByTimeAsync(3000)
    expect(open().saving.kind).toBe('saved')
    expect(findAt(server.saved, hullMass)).toBe(1.7)
  })

  it('says so when a project is opened', async () => {
    server.away = true
    useProject.setState({ project: undefined })
    await openProject('lamplighter')
    expect(useProject.getState().failure).toBeTruthy()
  })
})

describe('a reload', () => {
  const reload = async () => {
    useProject.setState({ project: undefined })
    await openProject('lamplighter')
  }

  it('finds work that was not yet sent, with its undo, and sends it', async () => {
    edit(heavier(1.7))
    await reload()
    expect(mass()).toBe(1.7)
    undo()
    expect(mass()).toBe(original)
    redo()
    await vi.advanceTimersByTimeAsync(1000)
    expect(findAt(server.saved, hullMass)).toBe(1.7)
  })

  it('finds it stale when another tab saved meanwhile', async () => {
    edit(heavier(1.7))
    server.revision = 9
    await reload()
    expect(open().saving.kind).toBe('stale')
    expect(mass()).toBe(1.7)
  })

  it('starts from the server where a draft cannot be read', async () => {
    localStorage.setItem('calm-hand.draft.lamplighter', '{ half')
    await reload()
    expect(mass()).toBe(original)
  })
})

describe('a stale tab', () => {
  beforeEach(async () => {
    server.revision = 8
    server.saved = heavier(2).apply(server.saved)
    edit(heavier(1.7))
    await vi.advanceTimersByTimeAsync(1000)
    expect(open().saving.kind).toBe('stale')
  })

  it('may keep its work on top of the other', async () => {
    keepMine()
    await vi.advanceTimersByTimeAsync(1000)
    expect(findAt(server.saved, hullMass)).toBe(1.7)
    expect(open()).toMatchObject({ revision: 9, saving: { kind: 'saved' } })
  })

  it('may take the other, and undo gives its own back', () => {
    takeTheirs()
    expect(mass()).toBe(2)
    undo()
    expect(mass()).toBe(1.7)
  })

  it('sends nothing by itself', async () => {
    const before = server.received.length
    edit(heavier(1.75))
    await vi.advanceTimersByTimeAsync(5000)
    expect(server.received).toHaveLength(before)
  })
})

describe('named edits', () => {
  const pin = { title: 'first', trial: 'galleryRise', run: 'ab', loops: {} }

  it('pin and unpin', () => {
    const pinned = pinRun('A', pin).apply(lamplighter())
    expect(pinned.tray.A).toEqual(pin)
    expect(unpin('A').apply(pinned).tray).toEqual({})
  })

  it('put the loops of a pin back', () => {
    const changed = setValue('loops.height.rate', 100, 'Set rate').apply(lamplighter())
    expect(takeLoops('A', lamplighter().loops).apply(changed).loops).toEqual(lamplighter().loops)
  })

  it('add and remove a part without touching the rest', () => {
    const before = lamplighter()
    const path = 'trials.galleryRise.overrides.a'
    const part = { kind: 'override', parameter: 'load', how: 'to', amount: 0.15 }
    const added = addPart(path, part, 'Add').apply(before)
    expect(findAt(added, path)).toEqual(part)
    expect(added.machines).toBe(before.machines)
    expect(removePart(path, 'Remove').apply(added)).toEqual(before)
  })
})
