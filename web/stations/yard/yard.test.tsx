// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { MemoryRouter, Route, Routes, useLocation } from 'react-router'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Document } from '@calm-hand/core/document'
import { demo, demoNames } from '../../../core/tests/demo'
import { completePage } from '../../tests/openProject'
import { Yard } from './Yard'

const projects = demoNames.map((id) => ({ id, document: demo(id), revision: 1, savedAt: '2026-05-01T10:00:00Z' }))
let sent: { id: string; document: Document }[] = []
let answer: () => Response

/** What the server would say: the bin is empty. */
const kept = (url: string, yard: readonly unknown[]) => Response.json(url === '/api/projects' ? yard : [])

beforeEach(() => {
  completePage()
  sent = []
  answer = () => Response.json({ id: 'x', revision: 1 }, { status: 201 })
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => {
    if (init?.method !== 'POST') return Promise.resolve(kept(url, projects))
    sent.push(JSON.parse(init.body as string) as (typeof sent)[number])
    return Promise.resolve(answer())
  })
})
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

function Address() {
  return <p data-testid="address">{useLocation().pathname}</p>
}

async function openYard() {
  render(
    <MemoryRouter initialEntries={['/']}>
      <Routes>
        <Route path="/" element={<Yard />} />
        <Route path="*" element={<Address />} />
      </Routes>
    </MemoryRouter>,
  )
  await screen.findByRole('link', { name: /Lamplighter/ })
}

async function newMachine() {
  await openYard()
  fireEvent.click(await screen.findByRole('button', { name: 'New machine' }, { timeout: 20_000 }))
}
const make = () => fireEvent.click(screen.getByRole('button', { name: 'Make it' }))
const nameIt = (name: string) => fireEvent.change(screen.getByRole('textbox', { name: 'Its name' }), { target: { value: name } })
const give = (name: string, text: string) =>
  fireEvent.change(document.querySelector('input[type=file]')!, { target: { files: [new File([text], name)] } })

describe('the Yard', () => {
  it('draws every machine, with its mass and what it has', async () => {
    await openYard()
    const links = screen.getAllByRole('link')
    expect(links).toHaveLength(demoNames.length)
    await waitFor(() => {
      for (const link of links) expect(link.querySelectorAll('svg path').length).toBeGreaterThan(3)
    })
    expect(screen.getByRole('link', { name: /Rock walker/ }).textContent).toMatch(/46\.6 kg.*20 bodies, 19 drives/)
    expect(screen.getByRole('link', { name: /Lamplighter/ }).textContent).toMatch(/3\.4 kg.*5 bodies, 6 drives/)
  })

  it('says so when the server is away, and tries again', async () => {
    let away = true
    vi.stubGlobal('fetch', (url: string) =>
      away ? Promise.reject(new TypeError('fetch failed')) : Promise.resolve(kept(url, projects)),
    )
    render(<Yard />, { wrapper: MemoryRouter })
    expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer')
    away = false
    fireEvent.click(screen.getByRole('button', { name: 'Try again' }))
    expect(await screen.findByRole('link', { name: /Lamplighter/ })).toBeTruthy()
  })

  it('still lists a machine that has problems', async () => {
    const broken = { ...projects[0]!, id: 'broken', document: { ...projects[0]!.document, title: 'Broken', machines: {} } }
    vi.stubGlobal('fetch', (url: string) => Promise.resolve(kept(url, [broken])))
    render(<Yard />, { wrapper: MemoryRouter })
    expect(await screen.findByRole('link', { name: /Broken/ })).toBeTruthy()
  })
})

describe('a new machine', () => {
  it('starts from a starter and opens', async () => {
    await newMachine()
    fireEvent.click(screen.getByRole('button', { name: 'Drive shaft' }))
    nameIt('Winch shaft')
    make()
    expect((await screen.findByTestId('address')).textContent).toBe('/winch-shaft/machine')
    expect(sent[0]).toMatchObject({ id: 'winch-shaft', document: { title: 'Winch shaft', parameters: { shaftStiffness: {} } } })
  })

  it('cannot be made before it has a start and a name', async () => {
    await newMachine()
    const button = screen.getByRole('button', { name: 'Make it' })
    expect(button).toHaveProperty('disabled', true)
    fireEvent.click(screen.getByRole('button', { name: 'One body' }))
    expect(button).toHaveProperty('disabled', false)
    nameIt('   ')
    expect(button).toHaveProperty('disabled', true)
  })

  it('is a copy of another, at an address of its own', async () => {
    await newMachine()
    fireEvent.change(screen.getByRole('combobox'), { target: { value: 'derrick' } })
    nameIt('Derrick')
    make()
    await screen.findByTestId('address')
    expect(sent[0]).toMatchObject({ id: 'derrick-2', document: { title: 'Derrick', tray: {} } })
  })

  it('from a robot description tells all that is wrong with it, and keeps the dialog', async () => {
    await newMachine()
    give(
      'bad.urdf',
      '<robot name="r"><link name="a"/><link name="a"/><joint name="j" type="hinge"><parent link="a"/><child link="b"/></joint></robot>',
    )
    const alerts = await screen.findAllByRole('alert')
    expect(alerts.length).toBeGreaterThanOrEqual(3)
    expect(sent).toEqual([])
  })

  it('is refused before it is read when the file is far too large', async () => {
    await newMachine()
    const file = new File(['x'], 'big.urdf')
    Object.defineProperty(file, 'size', { value: 500_000_000 })
    fireEvent.change(document.querySelector('input[type=file]')!, { target: { files: [file] } })
    expect((await screen.findByRole('alert')).textContent).toMatch(/500 MB/)
  })

  it('says why the server did not take it', async () => {
    answer = () =>
      Response.json(
        { problems: [{ where: 'id', what: 'A project named gate exists.', remedy: 'Choose another name.' }] },
        { status: 409 },
      )
    await newMachine()
    fireEvent.click(screen.getByRole('button', { name: 'One body' }))
    nameIt('Gate')
    make()
    expect((await screen.findByRole('alert')).textContent).toContain('Choose another name')
  })

  it('says so when there is no server', async () => {
    await newMachine()
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('fetch failed')))
    fireEvent.click(screen.getByRole('button', { name: 'One body' }))
    make()
    expect((await screen.findByRole('alert')).textContent).toContain('The server does not answer')
  })
})
