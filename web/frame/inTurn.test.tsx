// @vitest-environment jsdom
import { render, screen, waitFor } from '@testing-library/react'
import { expect, it, vi } from 'vitest'
import { drawnInTurn } from './inTurn'

vi.mock('../compute', () => ({ isAnsweredHere: () => false }))

it('parts are drawn anew one after the other, each with the last that came', async () => {
  const drawn: string[] = []
  const partNamed = (name: string) =>
    drawnInTurn(function Part({ value }: { readonly value: number }) {
      drawn.push(`${name} ${value}`)
      return <p>{`${name} ${value}`}</p>
    })
  const [Gain, Phase] = [partNamed('gain'), partNamed('phase')]
  const both = (value: number) => (
    <>
      <Gain value={value} />
      <Phase value={value} />
    </>
  )
  const { rerender } = render(both(1))
  expect(drawn).toEqual(['gain 1', 'phase 1'])
  rerender(both(2))
  rerender(both(3))
  // what the hand does comes before
  expect(screen.getByText('gain 1')).toBeTruthy()
  await waitFor(() => expect(screen.getByText('phase 3')).toBeTruthy())
  expect(screen.getByText('gain 3')).toBeTruthy()
  expect(drawn.filter((one) => one.endsWith('2'))).toEqual([])
})
