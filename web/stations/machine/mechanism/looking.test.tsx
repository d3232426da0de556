// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, renderHook, screen } from '@testing-library/react'
import { MemoryRouter, useLocation } from 'react-router'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { findAt } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { assemble, fullMechanism, numbersOf } from '@calm-hand/core/machine'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import { modelReport, motionEffort } from '@calm-hand/core/simulation'
import { demo } from '../../../../core/tests/demo'
import { edit, useProject } from '../../../state/project'
import { completePage, openDocument } from '../../../tests/openProject'
import { typeset } from '../typeset'
import { useLayers } from '../useLayers'
import { FreeMotion } from './FreeMotion'
import { MechanismParts } from './MechanismParts'
import { MotionTab } from './MotionTab'
import { keepPose } from './mechanismEdits'
import type { FormulaEditorProps } from '../../../text/FormulaEditor'

// the editor measures where letters stand, which only a browser can: it has a test of its own there
vi.mock('../../../text/FormulaEditor', () => ({
  FormulaEditor: ({ label, value, onChange, onTake }: FormulaEditorProps) => (
    <input
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      onKeyDown={(event) => event.key === 'Enter' && onTake()}
    />
  ),
}))

const turret = () => demo('lens-turret').machines.turret!
const path = 'machines.turret'
const machineNow = () => findAt(useProject.getState().project!.document, path) as Part
const nothing = () => undefined

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  completePage()
  openDocument(demo('lens-turret'))
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('realism layers of a machine', () => {
  it('are switched in the URL, those that matter alone', () => {
    const machine = turret()
    const { result } = renderHook(() => ({ layers: useLayers(machine), search: useLocation().search }), {
      wrapper: ({ children }) => <MemoryRouter initialEntries={['/x?off=friction,contact']}>{children}</MemoryRouter>,
    })
    expect(result.current.layers.on).toEqual(['sensorErrors', 'viscous', 'stops', 'driveLimits', 'driveDynamics'])
    act(() => result.current.layers.onSwitch('stops'))
    expect(result.current.search).toBe('?off=friction%2Cstops')
    act(() => result.current.layers.onSwitch('friction'))
    act(() => result.current.layers.onSwitch('stops'))
    expect(result.current.search).toBe('')
  })

  it('change what the machine does when it is let go', () => {
    const swung = (layers: ReadonlySet<MechanismLayerName>) =>
      modelReport(turret(), layers)
        .swing.columns.find(({ name }) => name === 'lens.angle')!
        .values.at(-1)!
    const free = swung(new Set([...fullMechanism].filter((layer) => layer !== 'friction')))
    expect(Math.abs(free)).toBeGreaterThan(2 * Math.abs(swung(fullMechanism)))
  })
})

describe('the efforts of a motion', () => {
  const effort = motionEffort(turret(), 'follow')

  it('are listed against what each drive can give, the hardest worked first', () => {
    render(
      <MotionTab
        machine={turret()}
        motion="follow"
        onMotion={nothing}
        effort={{ answer: effort, failure: undefined }}
        isPlaying={false}
        onPlay={nothing}
      />,
    )
    const [pan, tilt] = screen.getAllByRole('listitem').map((item) => item.textContent)
    expect(pan).toMatch(/^pan motor[\d.]+ N·m/)
    expect(tilt).toMatch(/^tilt motor/)
    expect(screen.getByText(/Followed by loops it is missed by at most/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: /^tilt motor\d/ }))
    expect(screen.getByRole('img').getAttribute('aria-label')).toMatch(/^tilt motor\. Peak .* rms /)
  })

  it('say what to do while there is no motion, and why one cannot be made', () => {
    const tab = (motion: string | undefined, state: Parameters<typeof MotionTab>[0]['effort']) => (
      <MotionTab machine={turret()} motion={motion} onMotion={nothing} effort={state} isPlaying={false} onPlay={nothing} />
    )
    const { rerender } = render(tab(undefined, { answer: undefined, failure: undefined }))
    expect(screen.getByText(/No motion yet/)).toBeTruthy()
    const refused = {
      kind: 'refused' as const,
      problems: [{ where: 'motion', what: 'At 1 s the chains cannot close.', remedy: 'Choose other poses.' }],
    }
    rerender(tab('follow', { answer: refused, failure: undefined }))
    expect(screen.getByRole('alert').textContent).toBe('At 1 s the chains cannot close. Choose other poses.')
    rerender(tab('follow', { answer: undefined, failure: undefined }))
    expect(screen.getByText(/Working out/)).toBeTruthy()
  })

  it('come from kept poses: the first makes a motion, the next go two seconds on', () => {
    const { motions: _motions, ...bare } = machineNow()
    const assembly = assemble(turret(), numbersOf(turret()))
    edit(keepPose(path, bare, undefined, { assembly, q: [0.4, 0.2] }))
    expect(machineNow()).toHaveProperty('motions.motion.coordinates', 'yoke.angle lens.angle')
    expect(machineNow()).toHaveProperty('motions.motion.knots', [
      [0, 0, 0],
      [2, 0.4, 0.2],
    ])
    edit(keepPose(path, machineNow(), 'motion', { assembly, q: [-0.1, 0.3] }))
    expect(machineNow()).toHaveProperty('motions.motion.knots.2', [4, -0.1, 0.3])
    expect(useProject.getState().project!.problems).toEqual([])
  })
})

describe('free motion', () => {
  it('shows what a chosen sensor reads beside what is true', () => {
    const report = modelReport(turret())
    const { rerender } = render(
      <FreeMotion machine={turret()} report={report} coordinate="yoke.angle" unit="rad" chosen="yoke" />,
    )
    expect(screen.getByRole('img', { name: /^Energy/ })).toBeTruthy()
    rerender(<FreeMotion machine={turret()} report={report} coordinate="yoke.angle" unit="rad" chosen="sensors.lensGyro" />)
    const charts = screen.getAllByRole('img').map((chart) => chart.getAttribute('aria-label'))
    expect(charts).toEqual(
      ['x', 'y', 'z'].map(
        (axis) => expect.stringMatching(new RegExp(`^rate about ${axis} of lens gyro\\. 1001 samples`)) as string,
      ),
    )
  })
})

describe('parts with formulas and tables', () => {
  it('take a formula that is typed, and mark its slips', async () => {
    vi.useRealTimers() // its editor comes when it is wanted
    edit({
      label: 'add',
      apply: (document) => ({
        ...document,
        machines: {
          turret: {
            ...turret(),
            forces: {
              ...(turret().forces as object),
              gust: { kind: 'formulaEffort', joint: 'yoke.angle', effort: '0.2 * sin(t)' },
            },
          },
        },
      }),
    })
    render(<MechanismParts path={path} machine={machineNow()} chosen="forces.gust" onChoose={nothing} />)
    fireEvent.click(screen.getByRole('button', { name: 'effort: 0.2 * sin(t)' }))
    const field = await screen.findByLabelText('effort', { selector: 'input' })
    fireEvent.change(field, { target: { value: '0.2 * sin(yoke.angel)' } })
    expect(useProject.getState().project!.problems[0]).toMatchObject({
      where: `${path}.forces.gust.effort`,
      remedy: 'Did you mean yoke.angle?',
    })
    fireEvent.change(field, { target: { value: '0.2 * yoke.angle' } })
    fireEvent.keyDown(field, { key: 'Enter' })
    expect(machineNow()).toHaveProperty('forces.gust.effort', '0.2 * yoke.angle')
    expect(useProject.getState().project!.problems).toEqual([])
  })
})

describe('the typesetter', () => {
  it('makes a drawing of its own from LaTeX', () => {
    const svg = typeset('\\frac{a}{b} = \\dot{\\theta}_{\\mathrm{boom}}')
    expect(svg).toMatch(/^<svg[^>]*xmlns="http:\/\/www\.w3\.org\/2000\/svg"/)
    expect(svg).not.toContain('merror')
  })
})
