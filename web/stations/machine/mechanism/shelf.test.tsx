// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { findAt, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { demo } from '../../../../core/tests/demo'
import { undo, useProject } from '../../../state/project'
import { completePage, openDocument } from '../../../tests/openProject'
import { MechanismParts } from './MechanismParts'

const path = 'machines.arm'
const machineNow = () => findAt(useProject.getState().project!.document, path) as Part
const nothing = () => undefined

/** The yard as the server would give it. */
function serve(turret: Document): void {
  const projects = [{ id: 'lens-turret', document: turret, revision: 1, savedAt: '2026-05-01T10:00:00Z' }]
  vi.stubGlobal('fetch', () =>
    Promise.resolve(new Response(JSON.stringify(projects), { headers: { 'Content-Type': 'application/json' } })),
  )
}

beforeEach(() => {
  completePage()
  openDocument(demo('boat-shed-arm'))
  serve(demo('lens-turret'))
})
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const shown = (chosen: string) => <MechanismParts path={path} machine={machineNow()} chosen={chosen} onChoose={nothing} />

async function takeMotor(): Promise<void> {
  fireEvent.click(screen.getByRole('button', { name: 'Drives from the shelf' }))
  const shelf = await screen.findByRole('list', { name: 'Shelf' })
  await waitFor(() => expect(within(shelf).getAllByRole('button')).toHaveLength(2))
  fireEvent.change(screen.getByRole('textbox', { name: 'Find on the shelf' }), { target: { value: 'tilt' } })
  fireEvent.click(within(shelf).getByRole('button', { name: /tiltMotor of Lens turret/ }))
}

describe('the shelf', () => {
  it('lends a drive of another machine, which remembers where it came from', async () => {
    render(shown(''))
    await takeMotor()
    expect(machineNow()).toHaveProperty(
      'drives.tiltMotor',
      expect.objectContaining({ kind: 'dcMotor', joint: 'carriage.travel' }),
    )
    expect(machineNow()).toHaveProperty('drives.tiltMotor.origin.path', 'machines.turret.drives.tiltMotor')
    undo()
    expect(machineNow()).not.toHaveProperty('drives.tiltMotor')
  })

  it('says when the original has changed, and takes its numbers again', async () => {
    const { rerender } = render(shown(''))
    await takeMotor()
    serve(replaceAt(demo('lens-turret'), 'machines.turret.drives.tiltMotor.gear', 72))
    rerender(shown('drives.tiltMotor'))
    expect(await screen.findByText(/which has changed since/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Take it again' }))
    expect(machineNow()).toHaveProperty('drives.tiltMotor.gear', 72)
    expect(machineNow()).toHaveProperty('drives.tiltMotor.joint', 'carriage.travel')
    rerender(shown('drives.tiltMotor'))
    expect(await screen.findByText(/unchanged there since/)).toBeTruthy()
  })

  it('lends a body with what hangs on it', async () => {
    render(shown('brush'))
    fireEvent.click(screen.getByRole('button', { name: 'Bodies from the shelf' }))
    const shelf = await screen.findByRole('list', { name: 'Shelf' })
    fireEvent.click(await within(shelf).findByRole('button', { name: /yoke of Lens turret/ }))
    expect(machineNow()).toHaveProperty('bodies.yoke.joint.on', 'brush')
    expect(machineNow()).toHaveProperty('bodies.lens.joint.on', 'yoke')
    expect(machineNow()).toHaveProperty('drives.panMotor.joint', 'yoke.angle')
    expect(useProject.getState().project!.problems).toEqual([])
  })

  it('says so when the yard cannot be reached', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('The server does not answer.')))
    render(shown(''))
    fireEvent.click(screen.getByRole('button', { name: 'Drives from the shelf' }))
    expect((await screen.findByRole('alert')).textContent).toMatch(/does not answer/)
  })
})
