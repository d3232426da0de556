// @vitest-environment jsdom
import { IDBFactory } from 'fake-indexeddb'
import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { findAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { lamplighter } from '../../core/tests/demo'
import { browserDatabase, forgetBrowserDatabase } from './browserDatabase'
import type { Draft } from './browserDatabase'
import { addPart, pinRun, removePart, setValue, takeLoops, unpin } from './edits'
import {
  cancel,
  edit,
  keepMine,
  letGo,
  openProject,
  preview,
  putBack,
  redo,
  takeLeft,
  takeTheirs,
  undo,
  useProject,
} from './project'
import { restoreTyping, typingNow } from './typing'

const hullMass = 'machines.lamplighter.bodies.hull.mass'
const heavier = (mass: number) => setValue(hullMass, mass, 'Set mass')
const open = () => useProject.getState().project!
const mass = () => findAt(open().document, hullMass)

interface Sent {
  readonly revision: number
  readonly label: string
  readonly save: string
  readonly follows: readonly string[]
  readonly document: Document
}

/** A server of one project: answers as the real one does. */
class FakeServer {
  revision = 7
  saved: Document = lamplighter()
  saveId: string | null = null
  away = false
  /** Saves are kept, but their answers never come. */
  deaf = false
  /** Nothing comes back at all, for as long as the page waits. */
  mute = false
  /** Says this to every save. */
  says: { status: number; headers?: Record<string, string>; what: string } | undefined
  readonly received: Sent[] = []

  answer(url: string, init?: RequestInit): Promise<Response> {
    if (this.away) return Promise.reject(new TypeError('fetch failed'))
    if (init?.method === 'POST' && url === '/api/projects') {
      this.says = undefined
      this.revision = 1
      this.saved = (JSON.parse(init.body as string) as Sent).document
      return Promise.resolve(Response.json({ id: 'lamplighter', revision: 1 }, { status: 201 }))
    }
    if (init?.method !== 'PUT') return Promise.resolve(Response.json(this.stored()))
    const sent = JSON.parse(init.body as string) as Sent
    this.received.push(sent)
    if (this.says !== undefined) {
      const { status, headers, what } = this.says
      return Promise.resolve(
        Response.json({ problems: [{ where: 'x', what, remedy: 'Do so.' }] }, { status, ...(headers && { headers }) }),
      )
    }
    const isOwn = this.saveId !== null && sent.follows.includes(this.saveId)
    if (this.saveId !== sent.save && sent.revision !== this.revision && !isOwn)
      return Promise.resolve(Response.json({ problems: [], current: this.stored() }, { status: 409 }))
    if (this.saveId !== sent.save) this.revision++
    this.saved = sent.document
    this.saveId = sent.save
    if (this.deaf) return Promise.reject(new TypeError('connection lost'))
    if (this.mute)
      return new Promise((_, reject) => init.signal!.addEventListener('abort', () => reject(new TypeError('aborted'))))
    return Promise.resolve(Response.json({ revision: this.revision, savedAt: '2026-05-01T10:42:00Z' }))
  }

  private stored() {
    return {
      id: 'lamplighter',
      document: this.saved,
      revision: this.revision,
      savedAt: '2026-05-01T10:00:00Z',
      saveId: this.saveId,
    }
  }
}

let server: FakeServer
let original: number

/** Lets time pass, and what the browser's database does meanwhile. */
async function pass(ms: number): Promise<void> {
  for (let t = 0; t <= ms; t += 50) {
    await vi.advanceTimersByTimeAsync(50)
    for (let k = 0; k < 8; k++) await new Promise((resolve) => setImmediate(resolve))
  }
}

const drafts = async (): Promise<Draft[]> => (await browserDatabase()).getAll('drafts')

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  vi.stubGlobal('indexedDB', new IDBFactory())
  forgetBrowserDatabase()
  restoreTyping(undefined)
  localStorage.clear()
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

describe('opening', () => {
  it('of several projects one after another ends at the last, without a failure', async () => {
    useProject.setState({ project: undefined, failure: undefined })
    let asked = 0
    // what was asked for first fails: nobody waits for it any more
    vi.stubGlobal('fetch', (url: string, init?: RequestInit) =>
      asked++ === 0 ? Promise.reject(new TypeError('connection lost')) : server.answer(url, init),
    )
    await Promise.all(['lamplighter', 'derrick', 'lamplighter', 'lamplighter'].map((id) => openProject(id)))
    expect(useProject.getState().project?.id).toBe('lamplighter')
    expect(useProject.getState().failure).toBeUndefined()
  })
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
    await pass(1000)
    expect(server.received).toMatchObject([{ revision: 7, label: 'Set mass', follows: [] }])
    expect(findAt(server.saved, hullMass)).toBe(1.8)
    expect(open()).toMatchObject({ revision: 8, saving: { kind: 'saved' } })
    expect(await drafts()).toEqual([])
  })

  it('with a problem is kept and explained, but neither computed with nor sent', async () => {
    edit(heavier(-1))
    await pass(2000)
    expect(open().problems[0]?.where).toBe(hullMass)
    expect(findAt(open().valid, hullMass)).toBe(original)
    expect(server.received).toEqual([])
    edit(heavier(1.5))
    await pass(2000)
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
    await pass(1000)
    expect(server.received).toEqual([])
  })
})

describe('a server that is away', () => {
  it('is said, and the work is delivered when it is back', async () => {
    server.away = true
    edit(heavier(1.7))
    await pass(500)
    expect(open().saving).toMatchObject({ kind: 'away' })
    expect(await drafts()).toMatchObject([{ project: 'lamplighter', revision: 7 }])
    expect(findAt((await drafts())[0]!.document, hullMass)).toBe(1.7)
    server.away = false
    await pass(3000)
    expect(open().saving.kind).toBe('saved')
    expect(findAt(server.saved, hullMass)).toBe(1.7)
  })

  it('and lets a save hang is asked again with the same save after a minute', async () => {
    server.mute = true
    edit(heavier(1.7))
    await pass(500)
    expect(open().saving.kind).toBe('saving')
    await pass(60_500)
    expect(open().saving).toMatchObject({ kind: 'away' })
    server.mute = false
    await pass(3000)
    expect(open().saving.kind).toBe('saved')
    expect(new Set(server.received.map(({ save }) => save)).size).toBe(1)
    expect(server.revision).toBe(8)
  })

  it('says so when a project is opened', async () => {
    server.away = true
    useProject.setState({ project: undefined })
    await openProject('lamplighter')
    expect(useProject.getState().failure).toBeTruthy()
  })
})

const reload = async () => {
  await pass(0)
  useProject.setState({ project: undefined })
  await openProject('lamplighter')
}

describe('a reload', () => {
  it('finds work that was not yet sent, with its undo, and sends it', async () => {
    edit(heavier(1.7))
    await reload()
    expect(mass()).toBe(1.7)
    undo()
    expect(mass()).toBe(original)
    redo()
    await pass(1000)
    expect(findAt(server.saved, hullMass)).toBe(1.7)
  })

  it('finds it stale when another tab saved meanwhile', async () => {
    edit(heavier(1.7))
    await pass(0)
    server.revision = 9
    await reload()
    expect(open().saving.kind).toBe('stale')
    expect(mass()).toBe(1.7)
  })

  it('puts a damaged draft out of the way, and hands it over', async () => {
    edit(heavier(1.7))
    await pass(0)
    const [draft] = await drafts()
    await (await browserDatabase()).put('drafts', { ...draft!, document: { machines: null } as never })
    await reload()
    expect(mass()).toBe(original)
    expect(open().damaged).toHaveLength(1)
    expect(open().damaged[0]).toContain('"machines": null')
    edit(heavier(1.8)) // and its project is not locked
    await pass(1000)
    expect(findAt(server.saved, hullMass)).toBe(1.8)
  })

  it('finds an edit that the page made as it closed', async () => {
    edit(heavier(1.7))
    window.dispatchEvent(new Event('pagehide')) // before the browser's database has it
    vi.stubGlobal('indexedDB', new IDBFactory())
    forgetBrowserDatabase()
    useProject.setState({ project: undefined })
    await openProject('lamplighter')
    expect(mass()).toBe(1.7)
    await pass(1000)
    expect(findAt(server.saved, hullMass)).toBe(1.7)
    expect(localStorage.length).toBe(0)
  })

  it('with letters alone is stale to nobody, whoever saved meanwhile', async () => {
    await (
      await browserDatabase()
    ).put('drafts', {
      ...{ project: 'lamplighter', tab: 'x', revision: 6, document: heavier(1.1).apply(server.saved), label: 'Edit' },
      ...{ attempts: [], at: 0, isSaved: true, typing: { path: hullMass, text: '1.2' } },
    })
    await reload()
    expect(open()).toMatchObject({ revision: 7, saving: { kind: 'saved' } })
    expect(mass()).toBe(original)
    expect(typingNow()?.text).toBe('1.2')
  })

  it('finds letters typed into an open slot', async () => {
    await (
      await browserDatabase()
    ).put('drafts', {
      ...{ project: 'lamplighter', tab: 'x', revision: 7, document: server.saved, label: 'Edit', attempts: [], at: 0 },
      typing: { path: hullMass, text: '1.2' },
    })
    await reload()
    expect(typingNow()).toEqual({ path: hullMass, text: '1.2' })
    expect(open().saving.kind).toBe('saved')
    expect(mass()).toBe(original)
  })
})

describe('a save still on its way when its page ends', () => {
  let arrive: () => Promise<Response>
  let loseAnswer: () => void

  beforeEach(async () => {
    vi.stubGlobal('fetch', (url: string, init?: RequestInit) => {
      if (init?.method !== 'PUT') return server.answer(url, init)
      arrive = () => server.answer(url, init)
      return new Promise((_, reject) => (loseAnswer = () => reject(new TypeError('connection lost'))))
    })
    edit(heavier(1.7))
    await pass(500)
    expect(open().saving.kind).toBe('saving')
  })

  afterEach(async () => {
    useProject.setState({ project: undefined })
    loseAnswer()
    await pass(0)
  })

  it.each(['the same work', 'further work', 'the work undone'])('is no conflict for the page after it, with %s', async (what) => {
    if (what === 'further work') edit(heavier(1.8))
    if (what === 'the work undone') undo()
    const wanted = mass()
    await pass(0)
    // what the page asked for reaches the server only after the next page has read the project
    const late = arrive
    vi.stubGlobal('fetch', (url: string, init?: RequestInit) => server.answer(url, init))
    vi.resetModules()
    await import('../tests/page')
    const next = await import('./project')
    await next.openProject('lamplighter')
    await late()
    expect(server.revision).toBe(8)
    await pass(2000)
    const { saving, document } = next.useProject.getState().project!
    expect(saving.kind).toBe('saved')
    expect(findAt(document, hullMass)).toBe(wanted)
    expect(findAt(server.saved, hullMass)).toBe(wanted)
  })
})

describe('a save whose answer was lost', () => {
  beforeEach(async () => {
    server.deaf = true
    edit(heavier(1.7))
    await pass(500)
    expect(server.revision).toBe(8)
    expect(open().saving.kind).toBe('away')
  })

  it('is the same save when it is sent again', async () => {
    server.deaf = false
    await pass(3000)
    expect(open()).toMatchObject({ revision: 8, saving: { kind: 'saved' } })
    expect(new Set(server.received.map(({ save }) => save)).size).toBe(1)
  })

  it('is followed by later work', async () => {
    edit(heavier(1.8))
    server.deaf = false
    await pass(3000)
    expect(open()).toMatchObject({ revision: 9, saving: { kind: 'saved' } })
    expect(server.received.at(-1)!.follows).toEqual([server.received[0]!.save])
  })

  it('is known by a page that is opened again', async () => {
    server.deaf = false
    await reload()
    expect(open()).toMatchObject({ revision: 8, saving: { kind: 'saved' } })
  })

  it('is known with later work too', async () => {
    edit(heavier(1.8))
    await pass(0)
    server.deaf = false
    await reload()
    expect(open().saving.kind).toBe('notYet')
    await pass(2000)
    expect(open()).toMatchObject({ revision: 9, saving: { kind: 'saved' } })
    expect(findAt(server.saved, hullMass)).toBe(1.8)
  })

  it('is known after another project was open meanwhile', async () => {
    useProject.setState({ project: undefined })
    server.deaf = false
    await pass(3000)
    await openProject('lamplighter')
    expect(open().saving.kind).toBe('saved')
  })

  it('does not hide that somebody else saved on top', async () => {
    server.saveId = 'theirs'
    server.revision = 9
    server.deaf = false
    await pass(3000)
    expect(open().saving.kind).toBe('stale')
  })
})

describe('a server that has its own word', () => {
  it.each([
    [404, 'gone'],
    [403, 'readOnly'],
    [401, 'signedOut'],
    [422, 'document'],
    [413, 'document'],
  ])('of %i is not asked again for ever', async (status, why) => {
    server.says = { status, what: 'No.' }
    edit(heavier(1.7))
    await pass(20_000)
    expect(server.received).toHaveLength(1)
    expect(open().saving).toMatchObject({ kind: 'refused', why, what: 'No. Do so.' })
    expect(await drafts()).toHaveLength(1) // nothing is lost
    server.says = undefined
    edit(heavier(1.8))
    await pass(1000)
    expect(open().saving.kind).toBe('saved')
  })

  it('that has too much to do is asked when it says', async () => {
    server.says = { status: 429, what: 'Too much to do.', headers: { 'Retry-After': '5' } }
    edit(heavier(1.7))
    await pass(4000)
    expect(open().saving).toEqual({ kind: 'away', what: 'Too much to do.' })
    expect(server.received).toHaveLength(1)
    server.says = undefined
    await pass(3000)
    expect(open().saving.kind).toBe('saved')
  })

  it('gets a project again that is gone from it', async () => {
    server.says = { status: 404, what: 'Gone.' }
    edit(heavier(1.7))
    await pass(1000)
    await putBack()
    await pass(1000)
    expect(open().saving.kind).toBe('saved')
    expect(findAt(server.saved, hullMass)).toBe(1.7)
  })
})

describe('a browser that keeps nothing', () => {
  it('is said, and the work goes to the server all the same', async () => {
    vi.stubGlobal('indexedDB', {
      open: () => {
        throw new DOMException('forbidden', 'SecurityError')
      },
    })
    forgetBrowserDatabase()
    server.away = true
    edit(heavier(1.7))
    await pass(500)
    expect(open().isKept).toBe(false)
    server.away = false
    await pass(3000)
    expect(findAt(server.saved, hullMass)).toBe(1.7)
    expect(open().saving.kind).toBe('saved')
  })
})

describe('work that other tabs left', () => {
  const leave = async (tab: string, value: number, at: number) => {
    const document = heavier(value).apply(server.saved)
    const draft = { project: 'lamplighter', tab, revision: 7, document, label: 'Set mass', attempts: [], at }
    await (await browserDatabase()).put('drafts', draft)
  }

  it('goes on here where it is the only one', async () => {
    await leave('one', 1.5, 5)
    await reload()
    expect(mass()).toBe(1.5)
    await pass(1000)
    expect(findAt(server.saved, hullMass)).toBe(1.5)
    expect(await drafts()).toEqual([])
  })

  it('is offered where there are several, newest first, each taken as one step of undo', async () => {
    await leave('one', 1.5, 5)
    await leave('two', 1.6, 6)
    await reload()
    expect(mass()).toBe(original)
    expect(open().left.map(({ tab }) => tab)).toEqual(['two', 'one'])
    takeLeft(open().left[0]!)
    expect(mass()).toBe(1.6)
    letGo(open().left[0]!)
    expect(open().left).toEqual([])
    undo()
    expect(mass()).toBe(original)
    await pass(1000)
    expect(await drafts()).toEqual([])
  })

  it("of a tab that was heard of just now is that tab's own", async () => {
    await leave('living', 1.5, Date.now())
    await reload()
    expect(mass()).toBe(original)
    expect(open().left).toEqual([])
    expect(await drafts()).toHaveLength(1)
  })
})

describe('a stale tab', () => {
  beforeEach(async () => {
    server.revision = 8
    server.saved = heavier(2).apply(server.saved)
    edit(heavier(1.7))
    await pass(1000)
    expect(open().saving.kind).toBe('stale')
  })

  it('may keep its work on top of the other', async () => {
    keepMine()
    await pass(1000)
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
    await pass(5000)
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
