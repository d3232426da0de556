// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import { findAt, partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { withRenamedSignal } from '@calm-hand/core/machine'
import { modelReport } from '@calm-hand/core/simulation'
import * as THREE from 'three'
import { demo } from '../../../../core/tests/demo'
import { plainFigure } from '../../../scene'
import { undo, useProject } from '../../../state/project'
import { completePage, openDocument } from '../../../tests/openProject'
import { ModelCard } from '../ModelCard'
import { BodilessParts } from './BodilessParts'
import { InfluenceSketch } from './InfluenceSketch'
import { SignalGrid } from './SignalGrid'

const cutter = () => demo('pilot-cutter').machines.cutter!
const open = () => useProject.getState().project!
const path = 'machines.cutter'
const machineNow = () => findAt(open().document, path) as Part
const nothing = () => undefined

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  completePage()
  openDocument(demo('pilot-cutter'))
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the sketch of what acts on what', () => {
  it('has a bead a signal and a line for each entry of the linear form that is not 0', () => {
    const { point } = modelReport(cutter())
    const system = point.kind === 'done' ? point.value.system : undefined
    const choose = vi.fn()
    const { container } = render(<InfluenceSketch machine={cutter()} system={system} chosen="" onChoose={choose} />)
    expect(screen.getAllByRole('button').map((bead) => bead.getAttribute('aria-label'))).toEqual([
      'thrust, input',
      'rudder, input',
      'speed, state',
      'sway, state',
      'yaw rate, state',
      'heading, state',
      'drift, output',
      'track, output',
    ])
    // thrust to speed, rudder to sway and yaw; sway and yaw on one another, yaw on heading; three entries of C
    expect(container.querySelectorAll('path')).toHaveLength(3 + 3 + 3)
    fireEvent.keyDown(screen.getByRole('button', { name: 'rudder, input' }), { key: 'Enter' })
    expect(choose).toHaveBeenCalledWith('inputs.rudder')
  })
})

describe('the parts of a machine without bodies', () => {
  const shown = (chosen: string) =>
    render(<BodilessParts path={path} machine={machineNow()} chosen={chosen} onChoose={nothing} />)

  it('unfold as sentences, and take a new name everywhere', () => {
    shown('states.heading')
    const name = screen.getByLabelText('name')
    fireEvent.change(name, { target: { value: 'bearing' } })
    fireEvent.keyDown(name, { key: 'Enter' })
    expect(Object.keys(partsIn(machineNow().states))).toEqual(['speed', 'sway', 'yawRate', 'bearing'])
    expect(machineNow()).toHaveProperty('figure.hull.yaw', 'bearing')
    expect(machineNow()).toHaveProperty('expectations.turn.thenSignal', 'bearing')
    expect(open().problems).toEqual([])
    undo()
    expect(Object.keys(partsIn(machineNow().states))).toContain('heading')
  })

  it('take a name in any letters, and keep what was there where nothing is typed', () => {
    shown('states.heading')
    const name = () => screen.getByLabelText('name')
    fireEvent.change(name(), { target: { value: '  ' } })
    fireEvent.keyDown(name(), { key: 'Enter' })
    expect(Object.keys(partsIn(machineNow().states))).toContain('heading')
    fireEvent.change(name(), { target: { value: 'Kurs über Grund' } })
    fireEvent.keyDown(name(), { key: 'Enter' })
    const states = machineNow().states as Record<string, { label?: string }>
    expect(Object.keys(states)).not.toContain('heading')
    expect(states.kursUberGrund!.label).toBe('Kurs über Grund')
  })

  it('take a pasted matrix as a whole, and say where it is wrong', () => {
    shown('')
    fireEvent.click(screen.getByRole('button', { name: 'A: 4 × 4' }))
    const field = screen.getByRole('textbox', { name: 'A' })
    fireEvent.change(field, { target: { value: '1 2\n3' } })
    expect(screen.getByRole('alert').textContent).toMatch(/Line 2 has 1 numbers; 2 are wanted/)
    fireEvent.change(field, { target: { value: '1, 0, 0, 0\n0, -1, 0, 0\n0, 0, -1, 0\n0, 0, 1, 0' } })
    fireEvent.click(screen.getByRole('button', { name: 'Take' }))
    expect(machineNow()).toHaveProperty('a.0', [1, 0, 0, 0])
    undo()
    expect(machineNow()).toHaveProperty('a.0.0', -0.27)
  })

  it('fix a state for the operating point', () => {
    const { rerender } = shown('')
    fireEvent.change(screen.getByRole('combobox', { name: 'Add to operating point' }), { target: { value: 'condition' } })
    expect(machineNow().conditions).toEqual({ condition: { kind: 'condition', signal: 'speed', value: 0 } })
    rerender(<BodilessParts path={path} machine={machineNow()} chosen="conditions.condition" onChoose={nothing} />)
    expect(screen.getByRole('button', { name: 'what is fixed: speed' })).toBeTruthy()
  })
})

describe('renaming in typed equations', () => {
  it('reaches formulas and leaves other words alone', () => {
    const machine: Part = {
      kind: 'equations',
      states: {
        v: { kind: 'equationState', unit: '', start: 0, rate: 'push - v * sqrt(abs(v)) - value' },
        value: { kind: 'equationState', unit: '', start: 0, rate: '-v' },
      },
      inputs: { push: { kind: 'plainInput', unit: '', nominal: 0 } },
    }
    const renamed = withRenamedSignal(machine, 'states', 'v', 'speed')
    expect(renamed).toHaveProperty('states.speed.rate', 'push - speed * sqrt(abs(speed)) - value')
    expect(renamed).toHaveProperty('states.value.rate', '-speed')
    const document = { ...demo('pilot-cutter'), machines: { cutter: renamed }, loops: {}, trials: {} }
    expect(checkDocument(document).kind).toBe('done')
  })
})

describe('the card of a machine without bodies', () => {
  it('tells where it balances, what runs on, and that expectations hold', () => {
    const report = modelReport(cutter())
    const layers = { all: [], off: new Set<string>(), onSwitch: nothing }
    render(
      <ModelCard
        machine={cutter()}
        report={{ answer: report, failure: undefined }}
        playing={undefined}
        onPlay={nothing}
        layers={layers}
      />,
    )
    expect(screen.getByText('6 of 6 hold')).toBeTruthy()
    const balanced = screen.getByRole('region', { name: 'Where it balances' })
    expect(within(balanced).getByText('6')).toBeTruthy()
    expect(within(balanced).getByText('runs on from')).toBeTruthy()
    expect(screen.getByText(/More rudder first lowers sway/)).toBeTruthy()
  })
})

describe('curves and figures', () => {
  it('show every state and output over the free motion', () => {
    const report = modelReport(cutter())
    render(<SignalGrid machine={cutter()} report={report} names={['speed', 'drift']} units={{ speed: 'm/s', drift: 'rad' }} />)
    expect(screen.getAllByRole('img').map((chart) => chart.getAttribute('aria-label'))).toEqual([
      expect.stringMatching(/^speed\. speed over 26/),
      expect.stringMatching(/^drift\. /),
    ])
  })

  it.each(['boat', 'wing', 'cart', 'disc', 'block'])('draw a %s that points along x, about its length', (shape) => {
    const palette = { matte: '#fff', edge: '#000' } as never
    const box = new THREE.Box3().setFromObject(plainFigure(shape, 2, palette))
    const size = box.getSize(new THREE.Vector3())
    expect(size.x).toBeGreaterThan(1.8)
    expect(size.x).toBeLessThan(2.6)
  })
})
