// @vitest-environment jsdom
import { cleanup, fireEvent, render, renderHook, screen, within, act, waitFor } from '@testing-library/react'
import * as THREE from 'three'
import { useState } from 'react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { findAt, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { bodyPoses, seatPose } from '@calm-hand/core/machine'
import { modelReport } from '@calm-hand/core/simulation'
import { demo } from '../../../../core/tests/demo'
import type { Palette } from '../../../scene'
import { undo, useProject } from '../../../state/project'
import { completePage, openDocument } from '../../../tests/openProject'
import { Parameters } from '../Parameters'
import { MassFrom } from './MassFrom'
import { ModelCard } from '../ModelCard'
import { MechanismParts } from './MechanismParts'
import { MechanismRigging } from './MechanismRigging'
import { jointTravel } from './jointTravel'
import { FrameDistance } from './FrameDistance'
import { PoseSentence } from './PoseSentence'
import { StepGrid } from './StepGrid'
import { usePose } from './usePose'

const ramp = () => demo('boarding-ramp').machines.ramp!
const open = () => useProject.getState().project!
const path = 'machines.ramp'
const nothing = () => undefined

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  completePage()
  openDocument(demo('boarding-ramp'))
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the pose', () => {
  it('closes the chain while a joint is pulled, and goes back', () => {
    const machine = ramp()
    const { result } = renderHook(() => usePose(machine, 'innerLeaf.angle'))
    expect(result.current.isMoved).toBe(false)
    act(() => result.current.pull(0.6))
    expect(result.current.value).toBeCloseTo(0.6, 12)
    // the rod keeps the knuckle upright: its frame is not turned
    const { assembly, poses } = result.current
    const { rotation } = seatPose(assembly.seats.get('knuckle')!, poses)
    expect(rotation[0]![0]).toBeCloseTo(1, 9)
    act(() => result.current.putBack())
    expect(result.current.isMoved).toBe(false)
  })

  it('ends at the stops that the document has', () => {
    const machine = ramp()
    const { result } = renderHook(() => usePose(machine, 'outerLeaf.angle'))
    expect(result.current.travel).toMatchObject({ ended: true, most: expect.closeTo((16 * Math.PI) / 180, 4) as number })
    act(() => result.current.pull(2))
    expect(result.current.value).toBeCloseTo((16 * Math.PI) / 180, 4)
  })

  it('turns once round where there are no stops', () => {
    const machine = ramp()
    const { result } = renderHook(() => usePose(machine, 'foot.angle'))
    expect(result.current.travel).toEqual({ least: -Math.PI, most: Math.PI, ended: false })
  })

  it('is dropped when the machine changes', () => {
    const { result, rerender } = renderHook(({ machine }) => usePose(machine, 'innerLeaf.angle'), {
      initialProps: { machine: ramp() },
    })
    act(() => result.current.pull(0.6))
    rerender({ machine: { ...ramp() } })
    expect(result.current.isMoved).toBe(false)
  })
})

describe('the pose sentence', () => {
  function Posed() {
    const pose = usePose(machine, 'innerLeaf.angle')
    return <PoseSentence machine={machine} pose={pose} onCoordinate={nothing} onKeep={nothing} />
  }
  const machine = ramp()

  it('says joint and angle, and follows slider and keys', () => {
    render(<Posed />)
    const slider = screen.getByRole('slider')
    expect(slider.getAttribute('aria-valuetext')).toBe('14°')
    fireEvent.change(slider, { target: { value: '30' } })
    expect(slider.getAttribute('aria-valuetext')).toBe('30°')
    fireEvent.keyDown(slider, { key: 'ArrowRight', shiftKey: true })
    expect(slider.getAttribute('aria-valuetext')).toBe('35°')
    fireEvent.click(screen.getByRole('button', { name: 'Put back' }))
    expect(slider.getAttribute('aria-valuetext')).toBe('14°')
  })
})

describe('the rigging', () => {
  it('has a bead for every body, and choosing one says so', () => {
    const choose = vi.fn()
    render(<MechanismRigging machine={ramp()} freedoms={3} chosen="rod" onChoose={choose} />)
    const beads = screen.getAllByRole('button')
    expect(beads).toHaveLength(5)
    expect(screen.getByText(/5 bodies, 3 freedoms, 1 closed chain/)).toBeTruthy()
    expect(screen.getByRole('button', { name: /^rod/ }).getAttribute('aria-pressed')).toBe('true')
    fireEvent.click(screen.getByRole('button', { name: /^foot/ }))
    fireEvent.keyDown(screen.getByRole('button', { name: /^knuckle/ }), { key: ' ' })
    expect(choose.mock.calls).toEqual([['foot'], ['knuckle']])
  })

  it('names only some of many bodies', () => {
    const walker = demo('rock-walker').machines.walker!
    const { container } = render(<MechanismRigging machine={walker} freedoms={25} chosen="leftRearShin" onChoose={nothing} />)
    expect(screen.getAllByRole('button')).toHaveLength(20)
    expect([...container.querySelectorAll('text')].map(({ textContent }) => textContent)).toEqual([
      'front15.4 kg',
      'left rear shin0.7 kg',
    ])
  })
})

const shown = (chosen: string) =>
  render(<MechanismParts path={path} machine={open().document.machines.ramp!} chosen={chosen} onChoose={nothing} />)

describe('the parts as sentences', () => {
  it('unfold the ledger of the chosen body, its joint too', () => {
    shown('foot')
    expect(screen.getByRole('button', { name: /^mass: 1\.9 kg/ })).toBeTruthy()
    expect(screen.getByText('Its joint')).toBeTruthy()
    expect(screen.getByRole('button', { name: /^position at the start: 0°/ })).toBeTruthy()
  })

  it('unfold a force as its sentence, with the rest below', () => {
    shown('forces.gasStrut')
    expect(screen.getByText(/A gas strut pushes/).textContent).toBe(
      'A gas strut pushes ground and inner leaf apart with 1650 N, 1.45 times that when pressed in by 0.75 m.',
    )
  })

  it('change a joint’s kind and keep what fits', () => {
    shown('foot')
    fireEvent.keyDown(screen.getAllByRole('button', { name: /^joint: turns on/ })[4]!, { key: 'Enter' })
    fireEvent.keyDown(within(screen.getByRole('menu')).getByRole('menuitemradio', { name: 'is fixed to' }), { key: 'Enter' })
    const joint = findAt(open().document, `${path}.bodies.foot.joint`) as Part
    expect(joint).toMatchObject({ kind: 'fixed', on: 'outerLeaf' })
    // what acted on its turn is now explained
    expect(open().problems[0]!.where).toBe(`${path}.forces.footFriction.joint`)
    undo()
    expect(open().problems).toEqual([])
  })

  it('add a drive that the document takes', () => {
    shown('foot')
    fireEvent.change(screen.getByRole('combobox', { name: 'Add to drives' }), { target: { value: 'effortDrive' } })
    expect(Object.keys(findAt(open().document, `${path}.drives`) as object)).toEqual(['quayDrive', 'foldDrive', 'effortDrive'])
    expect(open().past.at(-1)!.label).toBe('Add effortDrive')
  })
})

describe('the shapes of a body', () => {
  it('are added, edited and removed, and weigh it', () => {
    shown('foot')
    fireEvent.change(screen.getByRole('combobox', { name: 'Add to shapes' }), { target: { value: 'box' } })
    const made = findAt(open().document, `${path}.bodies.foot.shapes`) as Record<string, Part>
    expect(made.box).toMatchObject({ kind: 'box', size: [0.1, 0.1, 0.1], at: [0, 0, 0] })
    expect(open().problems).toEqual([])
    expect(open().past.at(-1)!.label).toBe('Add box')
    undo()
    expect(Object.keys(findAt(open().document, `${path}.bodies.foot.shapes`) as object)).toEqual(['shape1'])
  })
})

describe('several parts together', () => {
  const masses = () => ['rod', 'foot', 'knuckle'].map((body) => findAt(open().document, `${path}.bodies.${body}.mass`))
  const mark = (name: string) => fireEvent.click(screen.getByRole('checkbox', { name: `Mark ${name}` }))
  const slot = (name: RegExp) => within(screen.getByRole('region', { name: 'Edited together' })).getByRole('button', { name })

  it('are marked, and get one value as one step', () => {
    shown('')
    mark('rod')
    expect(screen.queryByRole('region', { name: 'Edited together' })).toBeNull()
    mark('foot')
    expect(slot(/^mass/).textContent).toBe('differ')
    fireEvent.click(slot(/^mass/))
    fireEvent.change(screen.getByRole('textbox', { name: 'mass' }), { target: { value: '2.5' } })
    fireEvent.keyDown(screen.getByRole('textbox', { name: 'mass' }), { key: 'Enter' })
    expect(masses()).toEqual([2.5, 2.5, 5.8])
    expect(open().past.at(-1)!.label).toBe('Set mass of 2')
    undo()
    expect(masses()).toEqual([4.9, 1.9, 5.8])
  })

  it('of different kinds offer what they have in common', () => {
    shown('')
    mark('rod')
    mark('quay drive')
    expect(screen.getByText('They have nothing in common that could be set.')).toBeDefined()
    mark('rod')
    mark('fold drive')
    expect(slot(/most/)).toBeDefined()
    fireEvent.click(screen.getByRole('button', { name: 'Unmark' }))
    expect(screen.queryByRole('region', { name: 'Edited together' })).toBeNull()
  })
})

describe('the distance between frames', () => {
  it('is read in the pose that is shown, from any frame', () => {
    const machine = ramp()
    function Measured() {
      const pose = usePose(machine, 'innerLeaf.angle')
      const [other, setOther] = useState('ground')
      return <FrameDistance machine={machine} pose={pose} chosen="innerLeaf" other={other} onOther={setOther} />
    }
    render(<Measured />)
    expect(screen.getByLabelText('Distance between frames').textContent).toBe(
      'inner leaf lies 0.9 m from ground: 0 0 0.9 in its axes, turned 14°.',
    )
  })
})

describe('mass from what a body is made of', () => {
  const body = () => findAt(open().document, `${path}.bodies.foot`) as Part
  const stl = (facets: string) => new File([`solid a\n${facets}\nendsolid a\n`], 'foot.stl')
  const facet = (...points: string[]) =>
    `facet normal 0 0 0\nouter loop\n${points.map((point) => `vertex ${point}`).join('\n')}\nendloop\nendfacet\n`
  const corner = facet('0 0 0', '0 60 0', '60 0 0') + facet('0 0 0', '60 0 0', '0 0 60') + facet('0 0 0', '0 0 60', '0 60 0')
  const closed = corner + facet('60 0 0', '0 60 0', '0 0 60')

  it('takes its shapes at a density, as one step', () => {
    render(<MassFrom path={`${path}.bodies.foot`} />)
    fireEvent.change(screen.getByRole('textbox', { hidden: true }), { target: { value: '1000' } })
    fireEvent.click(screen.getByText(/^Its shapes/))
    expect(body().mass).toBeCloseTo(1000 * Math.PI * 0.07 ** 2 * 0.9, 6)
    undo()
    expect(body().mass).toBe(1.9)
  })

  it('weighs shapes whose sizes are formulas', () => {
    // mended: a document with formulas once broke the whole page here
    const long = replaceAt<Document>(demo('boarding-ramp'), `${path}.bodies.foot.shapes.shape1.length`, '= 2 * half')
    openDocument({ ...long, parameters: { half: { kind: 'parameter', value: 0.45, unit: 'm' } } })
    render(<MassFrom path={`${path}.bodies.foot`} />)
    expect(screen.getByText(/^Its shapes/).textContent).toContain('37.4 kg')
  })

  it('takes a closed mesh in millimetres, and has it kept and drawn', async () => {
    vi.useRealTimers()
    vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ hash: 'hash' }, { status: 201 })))
    const { container } = render(<MassFrom path={`${path}.bodies.foot`} />)
    fireEvent.change(container.querySelector('input[type=file]')!, { target: { files: [stl(closed)] } })
    await waitFor(() => expect(body().mass).toBeCloseTo((2700 * 0.06 ** 3) / 6, 8))
    expect(body().centre).toEqual([0.015, 0.015, 0.015])
    expect(body().shapes).toHaveProperty(
      'mesh',
      expect.objectContaining({ file: 'foot.stl', mesh: 'hash', scale: [1e-3, 1e-3, 1e-3] }),
    )
  })

  it('takes a mesh without drawing it', async () => {
    vi.useRealTimers()
    const { container } = render(<MassFrom path={`${path}.bodies.foot`} />)
    fireEvent.click(screen.getByRole('checkbox', { hidden: true }))
    fireEvent.change(container.querySelector('input[type=file]')!, { target: { files: [stl(closed)] } })
    await waitFor(() => expect(body().mass).toBeCloseTo((2700 * 0.06 ** 3) / 6, 8))
    expect(body().shapes).not.toHaveProperty('mesh')
  })

  it('says what is wrong with an open one, and changes nothing', async () => {
    vi.useRealTimers()
    const { container } = render(<MassFrom path={`${path}.bodies.foot`} />)
    fireEvent.change(container.querySelector('input[type=file]')!, { target: { files: [stl(corner)] } })
    await waitFor(() => expect(screen.getByRole('alert', { hidden: true }).textContent).toMatch(/not closed: 3 edges/))
    expect(body().mass).toBe(1.9)
  })
})

const noLayers = { all: [], off: new Set<string>(), onSwitch: () => undefined }

/** Made once: a report takes a second. */
let made: ReturnType<typeof modelReport> | undefined
const rampReport = () => (made ??= modelReport(ramp()))

describe('the card', () => {
  const report = rampReport()

  it('tells findings, checks, what holds it still and its modes', () => {
    const play = vi.fn()
    render(
      <ModelCard
        machine={ramp()}
        report={{ answer: report, failure: undefined }}
        playing={undefined}
        onPlay={play}
        layers={noLayers}
      />,
    )
    expect(screen.getByText('7 of 7 hold')).toBeTruthy()
    expect(screen.getByText(/fold drive works hardest/)).toBeTruthy()
    expect(document.querySelector('[data-input="foldDrive"]')!.textContent).toContain('259')
    fireEvent.click(screen.getByRole('button', { name: 'Play mode 1' }))
    expect(play).toHaveBeenCalledWith(0)
  })

  it('says what would let it rest where nothing balances it', () => {
    const weak = replaceAt<Document>(demo('boarding-ramp'), `${path}.drives.foldDrive.most`, 100)
    const machine = weak.machines.ramp!
    render(
      <ModelCard
        machine={machine}
        report={{ answer: modelReport(machine), failure: undefined }}
        playing={undefined}
        onPlay={nothing}
        layers={noLayers}
      />,
    )
    expect(screen.getByText(/Nothing balances the machine here/)).toBeTruthy()
    expect(screen.getByText(/Let one of inner leaf, outer leaf go/)).toBeTruthy()
  })

  it('says so while it checks, and where it could not', () => {
    const { rerender } = render(
      <ModelCard
        machine={ramp()}
        report={{ answer: undefined, failure: undefined }}
        playing={undefined}
        onPlay={nothing}
        layers={noLayers}
      />,
    )
    expect(screen.getByText(/Checking the model/)).toBeTruthy()
    rerender(
      <ModelCard
        machine={ramp()}
        report={{ answer: undefined, failure: 'out of memory' }}
        playing={undefined}
        onPlay={nothing}
        layers={noLayers}
      />,
    )
    expect(screen.getByText(/could not be made: out of memory/)).toBeTruthy()
  })
})

describe('steps of the inputs', () => {
  const units = { 'innerLeaf.angle': 'rad', 'outerLeaf.angle': 'rad', 'foot.angle': 'rad' }
  const charts = () => screen.getAllByRole('figure').map((chart) => chart.getAttribute('aria-label'))

  it('are one small chart a coordinate, with a line and its samples', () => {
    const { container } = render(<StepGrid machine={ramp()} report={rampReport()} units={units} />)
    expect(charts()).toHaveLength(3)
    expect(charts()[0]).toMatch(/^inner leaf ends at 0\.103 °/) // where it comes to rest; after 2 s it still swings
    const [chart] = container.querySelectorAll('svg')
    expect(chart!.querySelectorAll('circle')).toHaveLength(21)
    expect(chart!.querySelector('path')!.getAttribute('d')).toMatch(/^M0\.0 /)
  })

  it('are of the drive that is asked', () => {
    render(<StepGrid machine={ramp()} report={rampReport()} units={units} />)
    const before = charts()
    fireEvent.keyDown(screen.getByRole('button', { name: /^input/ }), { key: 'Enter' })
    fireEvent.keyDown(within(screen.getByRole('menu')).getByRole('menuitemradio', { name: 'fold drive' }), { key: 'Enter' })
    expect(screen.getByRole('button', { name: /^input: fold drive/ })).toBeTruthy()
    expect(charts()).not.toEqual(before)
  })

  it('wait for the model, and say what is missing for them', () => {
    const { rerender } = render(<StepGrid machine={ramp()} report={undefined} units={units} />)
    expect(screen.getByText(/Stepping its inputs/)).toBeTruthy()
    const { point } = rampReport()
    if (point.kind === 'refused') throw new Error('The ramp rests.')
    const report = { ...rampReport(), point: { kind: 'done', value: { ...point.value, inputs: [] } } } as const
    rerender(<StepGrid machine={ramp()} report={report} units={units} />)
    expect(screen.getByText(/It has no drive/)).toBeTruthy()
    const falls = { ...report, point: { kind: 'refused', problems: [] } } as const
    rerender(<StepGrid machine={ramp()} report={falls} units={units} />)
    expect(screen.getByText(/does not rest anywhere yet/)).toBeTruthy()
  })
})

describe('parameters', () => {
  const withParameters = (count: number): Document => ({
    ...demo('boarding-ramp'),
    parameters: Object.fromEntries(
      Array.from({ length: count }, (_, i) => [`p${i}`, { kind: 'parameter', value: 10 - i, unit: 'kg' }]),
    ),
  })
  const names = () => [...document.querySelectorAll('[data-parameter]')].map((row) => row.getAttribute('data-parameter'))

  it('start with a hint, and one is added without problems', () => {
    render(<Parameters />)
    expect(screen.getByText(/Give a number a name/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Add' }))
    expect(names()).toEqual(['value1'])
    expect(open().problems).toEqual([])
  })

  it('are found and sorted when there are many', () => {
    openDocument(withParameters(8))
    render(<Parameters />)
    fireEvent.click(screen.getByRole('button', { name: 'value' }))
    expect(names().slice(0, 2)).toEqual(['p0', 'p1'])
    fireEvent.click(screen.getByRole('button', { name: 'value' }))
    expect(names().slice(0, 2)).toEqual(['p7', 'p6'])
    expect(screen.getByRole('columnheader', { name: 'value' }).getAttribute('aria-sort')).toBe('ascending')
    fireEvent.change(screen.getByRole('textbox', { name: 'Find a parameter' }), { target: { value: 'P7' } })
    expect(names()).toEqual(['p7'])
  })

  it('get another name, but not one that is taken or cannot be one', () => {
    openDocument(withParameters(2))
    render(<Parameters />)
    const rename = (from: string, to: string) => {
      const field = screen.getByRole('textbox', { name: `Name of ${from}` })
      fireEvent.change(field, { target: { value: to } })
      fireEvent.blur(field)
    }
    rename('p0', 'p1')
    rename('p0', 'Not a name')
    expect(names()).toEqual(['p0', 'p1'])
    rename('p0', 'plate')
    expect(names()).toEqual(['plate', 'p1'])
    fireEvent.click(screen.getByRole('button', { name: 'Remove p1' }))
    expect(names()).toEqual(['plate'])
  })

  it('that are missing in a formula are told below their own row', () => {
    openDocument({ ...demo('boarding-ramp'), parameters: { a: { kind: 'parameter', value: '= 2 * bb', unit: '' } } })
    render(<Parameters />)
    expect(screen.getByRole('alert').textContent).toMatch(/column 5: There is no parameter named bb/)
  })
})

describe('the travel of a joint in 3D', () => {
  const palette = new Proxy({} as Palette, { get: () => '#000000' })
  const travelOf = (body: string, coordinate: string) => {
    const machine = ramp()
    const { result } = renderHook(() => usePose(machine, coordinate))
    const { assembly, q } = result.current
    const travel = jointTravel(machine, body, result.current, bodyPoses(assembly.tree, q), palette, 3)
    travel?.group.updateMatrixWorld(true)
    return { group: travel?.group, samples: travel?.samples, result, machine }
  }
  const beads = (group: THREE.Group) => {
    const found: THREE.Vector3[] = []
    group.traverse((item) => {
      if (item instanceof THREE.Mesh) found.push(item.getWorldPosition(new THREE.Vector3()))
    })
    return found
  }

  it('is an arc round the axis, with a bead where it stands and one at each stop', () => {
    const { group } = travelOf('innerLeaf', 'innerLeaf.angle')
    // hinged on the quay 0.9 m up; the bead rides on the line from the hinge through the centre of mass, 1.25 times as far
    const [now, least, most] = beads(group!)
    const radius = 1.25 * Math.hypot(1.28, 0.03)
    const lean = Math.atan2(0.03, 1.28)
    for (const [at, degrees] of [[now!, 14] as const, [least!, -24] as const, [most!, 92] as const]) {
      const angle = (degrees * Math.PI) / 180 + lean
      expect([at.x, at.y, at.z]).toBeNear([radius * Math.cos(angle), 0, 0.9 + radius * Math.sin(angle)], { absolute: 1e-3 })
    }
  })

  it('tells where its bead is at every value, for the pointer that pulls it', () => {
    const { group, samples, result } = travelOf('innerLeaf', 'innerLeaf.angle')
    const [now] = beads(group!)
    const near = samples!.reduce((a, b) =>
      Math.abs(b.value - result.current.value) < Math.abs(a.value - result.current.value) ? b : a,
    )
    expect(near.at.distanceTo(now!)).toBeLessThan(0.03)
    expect(samples![0]!.value).toBeCloseTo(result.current.travel.least, 12)
    expect(samples!.at(-1)!.value).toBeCloseTo(result.current.travel.most, 12)
  })

  it('has no ends where the joint has no stops', () => {
    expect(beads(travelOf('foot', 'foot.angle').group!)).toHaveLength(1)
  })

  it('is drawn for the joint that is pulled, and for no other', () => {
    expect(travelOf('rod', 'innerLeaf.angle').group).toBeUndefined()
  })
})

describe('bodies in 3D', () => {
  it('stand where the poses of the tree put them', () => {
    const machine = ramp()
    const { result } = renderHook(() => usePose(machine, 'innerLeaf.angle'))
    const { assembly, q } = result.current
    const foot = seatPose(assembly.seats.get('foot')!, bodyPoses(assembly.tree, q)).position as readonly number[]
    // from the quay up 14° along the inner leaf, then 10° down along the outer
    const [a, b] = [(14 * Math.PI) / 180, (-10 * Math.PI) / 180]
    expect(foot[0]).toBeCloseTo(2.6 * Math.cos(a) + 0.16 + 2.04 * Math.cos(b) + 0.04 * Math.sin(b), 5)
    expect(foot[2]).toBeCloseTo(0.9 + 2.6 * Math.sin(a) - 0.02 + 2.04 * Math.sin(b) - 0.04 * Math.cos(b), 5)
  })
})
