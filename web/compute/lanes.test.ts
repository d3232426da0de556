import { expose } from 'comlink'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Document } from '@calm-hand/core/document'
import { demo } from '../../core/tests/demo'
import type * as Service from './service'

interface Asked {
  readonly worker: number
  readonly title: string
  readonly answer: (value: string) => void
}

/** Questions in the order in which workers took them, each answered by hand. */
let asked: Asked[] = []
let workers: FakeWorker[] = []

/** A worker within the page, which answers when the test says so. */
class FakeWorker {
  private readonly channel = new MessageChannel()
  onerror: ((event: { message: string }) => void) | undefined
  constructor() {
    const worker = workers.length
    workers.push(this)
    const titles = new Map<number, string>()
    const computer = {
      take: (id: number, document: Document) => void titles.set(id, document.title),
      answer: (_name: string, id: number) =>
        new Promise<string>((answer) => asked.push({ worker, title: titles.get(id)!, answer })),
    }
    expose(computer, this.channel.port1)
    this.channel.port2.start()
  }
  postMessage(...given: [unknown, Transferable[]]) {
    this.channel.port2.postMessage(...given)
  }
  addEventListener(...given: ['message', () => void]) {
    this.channel.port2.addEventListener(...given)
  }
  removeEventListener(...given: ['message', () => void]) {
    this.channel.port2.removeEventListener(...given)
  }
  terminate() {
    this.channel.port1.close()
    this.channel.port2.close()
  }
}

describe('a lane of questions', () => {
  let service: typeof Service
  let told: string[]
  const ask = (
    title: string,
    { lane = 'hand', subject = title, rank = 1 }: Partial<Pick<Service.Question<'judged'>, 'lane' | 'subject' | 'rank'>> = {},
  ) =>
    service.ask({
      ...{ name: 'judged', document: { ...demo('derrick'), title }, rest: [], subject, lane, rank },
      onAnswer: (answer) => told.push(`${title}: ${answer as unknown as string}`),
      onFailure: (what) => told.push(`${title} failed: ${what}`),
      onReplaced: () => told.push(`${title} replaced`),
    })
  const titles = () => asked.map(({ title }) => title)
  const reached = (count: number) => vi.waitFor(() => expect(asked).toHaveLength(count))

  beforeEach(async () => {
    ;[asked, workers, told] = [[], [], []]
    vi.resetModules() // the page of a test answers within: this one does not
    vi.stubGlobal('Worker', FakeWorker)
    vi.stubGlobal('navigator', { hardwareConcurrency: 8 })
    service = await import('./service')
  })
  afterEach(() => {
    for (const worker of workers) worker.terminate()
    vi.unstubAllGlobals()
  })

  it('answers the newest of those that wait about one subject, the least rank first', async () => {
    ask('first')
    ask('old', { subject: 'drag' })
    ask('slow', { rank: 3 })
    ask('new', { subject: 'drag' })
    await reached(1)
    expect(told).toEqual(['old replaced'])
    asked[0]!.answer('a')
    await reached(2)
    asked[1]!.answer('b')
    await reached(3)
    expect(titles()).toEqual(['first', 'new', 'slow'])
    expect(told.slice(1)).toEqual(['first: a', 'new: b'])
  })

  it('has two at work beside the hand, never both on one subject', async () => {
    ask('old', { lane: 'side', subject: 'drag' })
    ask('new', { lane: 'side', subject: 'drag', rank: 0 })
    ask('other', { lane: 'side' })
    await reached(2)
    expect(titles()).toEqual(['old', 'other'])
    expect(new Set(asked.map(({ worker }) => worker)).size).toBe(2)
    asked[1]!.answer('c')
    await vi.waitFor(() => expect(told).toEqual(['other: c']))
    expect(asked).toHaveLength(2)
    asked[0]!.answer('a')
    await reached(3)
    expect(titles()[2]).toBe('new')
  })

  it('begins nothing beside the hand where processors are few, until that rests', async () => {
    vi.stubGlobal('navigator', { hardwareConcurrency: 2 })
    ask('drag')
    ask('map', { lane: 'side' })
    ask('margins', { lane: 'side' })
    await reached(1)
    ask('next step')
    asked[0]!.answer('a')
    await reached(2)
    expect(titles()).toEqual(['drag', 'next step'])
    asked[1]!.answer('b')
    await reached(3)
    asked[2]!.answer('c')
    await reached(4)
    expect(titles().slice(2)).toEqual(['map', 'margins'])
    // and at once where the hand has rested all along
    asked[3]!.answer('d')
    await vi.waitFor(() => expect(told).toHaveLength(4))
    ask('later', { lane: 'side' })
    await reached(5)
  })

  it('lets go what an earlier project asked', async () => {
    ask('asked before')
    ask('waits')
    await reached(1)
    service.forgetQuestions()
    ask('now')
    asked[0]!.answer('late')
    await reached(2)
    asked[1]!.answer('x')
    await vi.waitFor(() => expect(told).toEqual(['waits replaced', 'asked before replaced', 'now: x']))
  })

  it('says when a worker broke down, and starts another for what comes next', async () => {
    ask('heavy')
    ask('next')
    await reached(1)
    workers[0]!.onerror!({ message: 'out of memory' })
    await reached(2)
    asked[1]!.answer('d')
    await vi.waitFor(() => expect(told).toEqual(['heavy failed: out of memory', 'next: d']))
    expect(asked[1]!.worker).toBe(1)
  })

  it('remembers answers by all that they depend on, the newest of them, until another project comes', () => {
    for (let i = 0; i < 40; i++) service.rememberAnswer('stale', `derrick ${i}`, [])
    expect(service.recalled('stale', 'derrick 39')).toEqual({ answer: [] })
    expect(service.recalled('rungs', 'derrick 39')).toBeUndefined()
    expect(service.recalled('stale', 'derrick 0')).toBeUndefined()
    service.forgetQuestions()
    expect(service.recalled('stale', 'derrick 39')).toBeUndefined()
  })
})
