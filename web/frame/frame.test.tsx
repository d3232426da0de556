// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { MemoryRouter } from 'react-router'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { runHash } from '@calm-hand/core/simulation'
import { demo, lamplighter } from '../../core/tests/demo'
import { setCursor, setEnd, setSpeed, togglePlay, useClock } from '../state/clock'
import { completePage, openDocument } from '../tests/openProject'
import { SlotAt } from '../sentence'
import { Findings } from '../stations/machine/Findings'
import { allActions, offerActions } from './actions'
import { CommandSearch } from './CommandSearch'
import { Course } from './Course'
import { questions } from '../compute/questions'
import { loopsState, machineState, trialsState } from './courseState'

const found = (document: Document) => ({ beyond: questions.beyondReach(document), stale: questions.stale(document).length })
import { useKeyboard } from './keyboard'
import { PanelBoundary } from './PanelBoundary'
import { showOverlay, useOverlay } from './overlays'
import { useAskedPlace } from './places'

afterEach(cleanup)

describe('the course', () => {
  it('says what each station is at', () => {
    const document = lamplighter()
    expect(machineState(document, 0)).toEqual({ state: 'holds', line: '6 bodies, no problems' })
    expect(machineState(document, 2)).toEqual({ state: 'fails', line: '2 problems' })
    expect(loopsState(document, found(document)).state).toBe('holds')
    expect(trialsState(document, { latest: {}, hashes: undefined })).toEqual({ state: 'notBegun', line: '2 trials, not run' })
  })

  it('says which loop asks for more than there is', () => {
    const greedy = replaceAt<Document>(lamplighter(), 'loops.height.tuning.phaseMargin', 2.5)
    expect(loopsState(greedy, found(greedy))).toEqual({ state: 'fails', line: 'height out of reach' })
    // not the one that only waits for it
    const inner = replaceAt<Document>(demo('lamplighter'), 'loops.climbRate.tuning.crossover', 900)
    expect(loopsState(inner, found(inner))).toEqual({ state: 'fails', line: 'climb rate out of reach' })
  })

  it('says when a run is older than the loops, and no longer when they are put back', () => {
    const latest = { galleryRise: { hash: runHash(lamplighter(), 'galleryRise') } }
    const flown = (one: Document) => ({ latest, hashes: questions.runHashes(one) })
    expect(trialsState(lamplighter(), flown(lamplighter())).state).toBe('holds')
    const retuned = replaceAt<Document>(lamplighter(), 'loops.height.tuning.crossover', 3)
    expect(trialsState(retuned, flown(retuned))).toEqual({ state: 'stale', line: '1 older than the loops' })
    const renamed = replaceAt<Document>(lamplighter(), 'trials.galleryRise.title', 'Another title')
    expect(trialsState(renamed, flown(renamed)).state).toBe('holds')
  })

  it('says how many checks fail', () => {
    const document = lamplighter()
    const latest = { galleryRise: { hash: runHash(document, 'galleryRise') } }
    const run = { latest, hashes: questions.runHashes(document) }
    const counts = { galleryRise: { held: 2, failed: 1, all: 4 } }
    expect(trialsState(document, { ...run, counts })).toEqual({ state: 'fails', line: '1 of 4 checks fails' })
    expect(trialsState(document, { ...run, counts: { galleryRise: { held: 3, failed: 0, all: 3 } } }).state).toBe('holds')
  })
})

describe('a problem', () => {
  const broken = 'machines.lamplighter.bodies.crate.mass'
  it('keeps what was typed, says where it is in words, and is led to by the header and by itself', () => {
    completePage()
    openDocument(replaceAt<Document>(lamplighter(), broken, -2))
    const chosen = vi.fn()
    function Page() {
      useAskedPlace(chosen)
      return (
        <>
          <Course />
          <Findings>{null}</Findings>
          <SlotAt path={broken} />
        </>
      )
    }
    render(
      <MemoryRouter>
        <Page />
      </MemoryRouter>,
    )
    const header = screen.getByRole('link', { name: /^Machine/ })
    expect(header.textContent).toContain('1 problem')
    const slot = screen.getByRole('button', { name: 'mass: -2 kg' })
    for (const way of [header, screen.getByRole('button', { name: 'mass of crate' })]) {
      slot.blur()
      fireEvent.click(way)
      expect(chosen).toHaveBeenLastCalledWith(broken.split('.'))
      expect(document.activeElement).toBe(slot)
    }
  })
})

describe('actions', () => {
  it('have names and keys of their own', () => {
    const actions = allActions(() => undefined)
    const keys = actions.map((action) => action.keys).filter((one) => one !== undefined)
    expect(new Set(keys).size).toBe(keys.length)
    expect(new Set(actions.map(({ name }) => name)).size).toBe(actions.length)
  })

  it('of a station are there while it is shown', () => {
    const does = vi.fn()
    const leave = offerActions('test', [{ name: 'Wave', keys: 'Q', group: 'Test', does }])
    expect(allActions(() => undefined).some(({ name }) => name === 'Wave')).toBe(true)
    leave()
    expect(allActions(() => undefined).some(({ name }) => name === 'Wave')).toBe(false)
  })
})

describe('keys', () => {
  function Listening({ children }: { readonly children: React.ReactNode }) {
    useKeyboard()
    return children
  }
  it('do what they say, but never into what is being typed or what took them', () => {
    const does = vi.fn()
    const forget = offerActions('test', [
      { name: 'Seven', keys: '7', group: 'Work', does },
      { name: 'Eight', keys: 'Ctrl 8', group: 'Work', does },
    ])
    render(
      <MemoryRouter>
        <Listening>
          <input aria-label="words" />
          <button onKeyDown={(event) => event.preventDefault()}>takes keys</button>
        </Listening>
      </MemoryRouter>,
    )
    fireEvent.keyDown(screen.getByRole('textbox'), { key: '7' })
    fireEvent.keyDown(screen.getByRole('textbox'), { key: '8', ctrlKey: true })
    fireEvent.keyDown(screen.getByRole('button'), { key: '7' })
    expect(does).not.toHaveBeenCalled()
    fireEvent.keyDown(document.body, { key: '7' })
    fireEvent.keyDown(document.body, { key: '8', ctrlKey: true })
    expect(does).toHaveBeenCalledTimes(2)
    forget()
  })
})

describe('command search', () => {
  beforeEach(() => {
    completePage()
    showOverlay('search')
  })
  afterEach(() => vi.unstubAllGlobals())

  it('finds an action by a part of its name and does it', () => {
    const does = vi.fn()
    const leave = offerActions('test', [{ name: 'Compare the four ways', group: 'Loops', does }])
    render(<CommandSearch />, { wrapper: MemoryRouter })
    fireEvent.change(screen.getByRole('combobox'), { target: { value: 'four' } })
    fireEvent.click(screen.getByText('Compare the four ways'))
    expect(does).toHaveBeenCalledOnce()
    expect(useOverlay.getState().open).toBeUndefined()
    leave()
  })

  it('says so when there is nothing', () => {
    render(<CommandSearch />, { wrapper: MemoryRouter })
    fireEvent.change(screen.getByRole('combobox'), { target: { value: 'zzz' } })
    expect(screen.getByText('Nothing by that name.')).toBeTruthy()
  })
})

describe('the clock', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    useClock.setState({ cursor: 0, end: 2, playing: false, speed: 1 })
  })
  afterEach(() => vi.useRealTimers())

  it('keeps its cursor inside the trial', () => {
    setCursor(5)
    expect(useClock.getState().cursor).toBe(2)
    setCursor(-1)
    expect(useClock.getState().cursor).toBe(0)
    setCursor(1.5)
    setEnd(1)
    expect(useClock.getState().cursor).toBe(1)
  })

  it('plays at its speed, stops at the end and starts again from the beginning', () => {
    setSpeed(4)
    togglePlay()
    vi.advanceTimersByTime(250)
    expect(useClock.getState().cursor).toBeGreaterThan(0.7)
    vi.advanceTimersByTime(1000)
    expect(useClock.getState()).toMatchObject({ cursor: 2, playing: false })
    togglePlay()
    expect(useClock.getState()).toMatchObject({ cursor: 0, playing: true })
    togglePlay()
    expect(useClock.getState().playing).toBe(false)
  })
})

describe('a panel that breaks', () => {
  it('says so in its own place', () => {
    vi.spyOn(console, 'error').mockImplementation(() => undefined)
    const Broken = () => {
      throw new Error('a chart without numbers')
    }
    render(
      <PanelBoundary name="Step">
        <Broken />
      </PanelBoundary>,
    )
    expect(screen.getByRole('alert').textContent).toContain('a chart without numbers')
    vi.restoreAllMocks()
  })
})
