// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { findAt } from '@calm-hand/core/document'
import { lamplighter } from '../../core/tests/demo'
import { useProject } from '../state/project'
import { restoreTyping, typingNow } from '../state/typing'
import { completePage, openDocument } from '../tests/openProject'
import { Sentence, SlotAt } from './index'

const open = () => useProject.getState().project!
const valueAt = (path: string) => findAt(open().document, path)

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  completePage()
  openDocument(lamplighter())
})

afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

/** Opens a number slot; gives its field. */
function opened(name: RegExp): HTMLInputElement {
  fireEvent.click(screen.getByRole('button', { name }))
  return screen.getByRole('textbox')
}

describe('a table slot', () => {
  const path = 'machines.lamplighter.surroundings.ground.profile'
  const give = async (text: string) => {
    fireEvent.click(screen.getByRole('button', { name: /points/ }))
    const file = new File([text], 'slip.csv', { type: 'text/csv' })
    fireEvent.change(screen.getByLabelText('From a CSV file'), { target: { files: [file] } })
    await vi.waitFor(() => expect(screen.getByRole<HTMLTextAreaElement>('textbox').value).toBe(text.replaceAll('\r', '')))
  }
  beforeEach(() => {
    vi.useRealTimers()
    render(<SlotAt path={path} />)
  })

  it('takes the rows of a CSV file, heading and all', async () => {
    await give('x [m];z [m]\r\n-4;0\r\n0;0.2\r\n6;1.5\r\n')
    fireEvent.click(screen.getByRole('button', { name: 'Take' }))
    expect(valueAt(path)).toEqual([
      [-4, 0],
      [0, 0.2],
      [6, 1.5],
    ])
  })

  it('says what is wrong with one, and keeps what was there', async () => {
    const before = valueAt(path)
    await give('1,2\n3,none\n')
    expect(screen.getByRole('alert').textContent).toMatch(/Entry 2 of line 2 is none/)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Take' }).disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('From a CSV file'), {
      target: { files: [new File(['1,2\n'.repeat(2e5)], 'long.csv')] },
    })
    await vi.waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/more than 500000 characters/))
    expect(valueAt(path)).toEqual(before)
  })
})

describe('a number slot', () => {
  const path = 'machines.lamplighter.bodies.crate.mass'
  beforeEach(() => void render(<SlotAt path={path} />))

  it('says what it is and what it holds', () => {
    expect(screen.getByRole('button', { name: /mass: 0\.28 kg/ })).toBeTruthy()
  })

  it('takes a number in another unit with Enter: one step of undo', () => {
    const field = opened(/mass/)
    fireEvent.change(field, { target: { value: '480 g' } })
    expect(valueAt(path)).toBe(0.48) // everything follows while it is typed
    expect(open().past).toHaveLength(0)
    fireEvent.keyDown(field, { key: 'Enter' })
    expect(valueAt(path)).toBe(0.48)
    expect(open().past.map(({ label }) => label)).toEqual(['Set mass'])
  })

  it('that was left open by a page that closed opens with its letters, and takes them', () => {
    opened(/mass/)
    fireEvent.change(screen.getByRole('textbox'), { target: { value: '0.4' } })
    expect(typingNow()).toEqual({ path, text: '0.4' })
    cleanup()
    openDocument(lamplighter())
    restoreTyping({ path, text: '0.4' })
    render(<SlotAt path={path} />)
    const field = screen.getByRole<HTMLInputElement>('textbox')
    expect(field.value).toBe('0.4')
    fireEvent.keyDown(field, { key: 'Enter' })
    expect(valueAt(path)).toBe(0.4)
    expect(typingNow()).toBeUndefined()
  })

  it('puts the number back on Escape', () => {
    const field = opened(/mass/)
    fireEvent.change(field, { target: { value: '0.9' } })
    fireEvent.keyDown(field, { key: 'Escape' })
    expect(valueAt(path)).toBe(0.28)
    expect(screen.queryByRole('textbox')).toBeNull()
  })

  it('steps its last digit with the arrows, ten times with Shift', () => {
    const field = opened(/mass/)
    fireEvent.keyDown(field, { key: 'ArrowUp' })
    expect(valueAt(path)).toBeCloseTo(0.29, 12)
    fireEvent.keyDown(field, { key: 'ArrowDown', shiftKey: true })
    expect(valueAt(path)).toBeCloseTo(0.19, 12)
  })

  it.each([
    ['much', /not a number/],
    ['3 m', /Use kg, g/],
    ['-1', /below its limit of 0 kg/],
  ])('explains %s where it is typed', (text, words) => {
    const field = opened(/mass/)
    fireEvent.change(field, { target: { value: text } })
    expect(screen.getByRole('alert').textContent).toMatch(words)
    expect(field.getAttribute('aria-invalid')).toBe('true')
  })
})

describe('a sentence', () => {
  beforeEach(() => void render(<Sentence says="Hold {holds} with {law}, {rate#} times a second." path="loops.height" />))

  it('reads as one, with a button for each slot', () => {
    const line = screen.getByText(/^Hold/)
    expect(line.textContent).toBe('Hold height with PD on the rate, 200 times a second.')
    expect(within(line).getAllByRole('button')).toHaveLength(3)
  })

  it('changes a choice by keyboard alone', () => {
    const choice = screen.getByRole('button', { name: /held quantity/ })
    choice.focus()
    fireEvent.keyDown(choice, { key: 'Enter' })
    const menu = screen.getByRole('menu')
    const north = within(menu).getByRole('menuitemradio', { name: 'north' })
    fireEvent.keyDown(north, { key: 'Enter' })
    expect(valueAt('loops.height.holds')).toBe('readings.place.north')
    expect(screen.getByText(/^Hold/).textContent).toContain('Hold north')
  })

  it('keeps fitting fields when another law is chosen', () => {
    fireEvent.keyDown(screen.getByRole('button', { name: /law/ }), { key: 'Enter' })
    fireEvent.keyDown(within(screen.getByRole('menu')).getByRole('menuitemradio', { name: 'PID on the rate' }), { key: 'Enter' })
    expect(valueAt('loops.height.law.kind')).toMatch(/pid/i)
    expect(valueAt('loops.height.tuning.crossover')).toBe(4.2)
  })
})
