// @vitest-environment jsdom
import { renderHook } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { layersOfMachine } from '@calm-hand/core/machine'
import { modelReport } from '@calm-hand/core/simulation'
import { demo } from '../../core/tests/demo'
import { useLetters } from './reports'

describe('the equations of a machine', () => {
  it('are linear about its point with the layers that are on', () => {
    const document = demo('lens-turret')
    const machine = document.machines.turret!
    const all = layersOfMachine(machine).map(({ name }) => name)
    const smooth = all.filter((name) => name !== 'viscous')
    expect(smooth.length).toBeLessThan(all.length)
    const { result, rerender } = renderHook(
      ({ layers }) => useLetters(document, 'turret', machine, 'all', modelReport(machine, new Set(layers))),
      { initialProps: { layers: all } },
    )
    const whole = result.current.answer!.linear
    rerender({ layers: smooth })
    expect(result.current.answer!.linear).not.toEqual(whole)
    rerender({ layers: all })
    expect(result.current.answer!.linear).toEqual(whole)
  })
})
