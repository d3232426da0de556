// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { DataTable } from './index'
import type { TableColumn } from './index'

interface Row {
  readonly name: string
  readonly size: number | undefined
}

const rows: readonly Row[] = [
  { name: 'r10', size: 3 },
  { name: 'r9', size: undefined },
  { name: 'r2', size: -1 },
]
const columns: readonly TableColumn<Row>[] = [
  { name: 'name', leads: true, by: ({ name }) => name, cell: ({ name }) => name },
  { name: 'size', by: ({ size }) => size, cell: ({ size }) => size ?? 'none' },
  { name: 'plain', cell: () => 'x' },
]
afterEach(cleanup)

const leads = () => screen.getAllByRole('rowheader').map((cell) => cell.textContent)
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }))

describe('a table', () => {
  it('stands as its rows come, is sorted by a press on a head, and stands so again after the third', () => {
    render(<DataTable caption="Things" columns={columns} rows={rows} keyOf={({ name }) => name} />)
    expect(screen.getByRole('table', { name: 'Things' })).toBeTruthy()
    expect(leads()).toEqual(['r10', 'r9', 'r2'])
    press('name')
    expect(leads()).toEqual(['r2', 'r9', 'r10'])
    press('name')
    expect(leads()).toEqual(['r10', 'r9', 'r2'])
    press('name')
    expect(screen.getByRole('columnheader', { name: 'name' }).hasAttribute('aria-sort')).toBe(false)
  })

  it('has those without a value last, whichever way it is sorted', () => {
    render(<DataTable caption="Things" columns={columns} rows={rows} keyOf={({ name }) => name} />)
    press('size')
    expect(leads()).toEqual(['r10', 'r2', 'r9'])
    press('size')
    expect(leads()).toEqual(['r2', 'r10', 'r9'])
    expect(screen.getByRole('columnheader', { name: 'size' }).getAttribute('aria-sort')).toBe('ascending')
  })

  it('is not sorted where order says nothing, and has what belongs to a row under it', () => {
    render(
      <DataTable
        caption="Things"
        columns={columns}
        rows={rows}
        keyOf={({ name }) => name}
        below={({ size }) => (size === -1 ? 'below nothing' : null)}
      />,
    )
    expect(screen.queryByRole('button', { name: 'plain' })).toBeNull()
    press('size')
    const all = screen.getAllByRole('row').map((row) => row.textContent)
    expect(all.indexOf('below nothing')).toBe(all.indexOf('r2-1x') + 1)
  })
})

describe('a long table', () => {
  it('has only rows on the page that are seen, and says how many there are', () => {
    vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(200)
    vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(300)
    vi.spyOn(HTMLElement.prototype, 'offsetHeight', 'get').mockReturnValue(20)
    const many = Array.from({ length: 5000 }, (_, i): Row => ({ name: `r${i}`, size: i }))
    render(<DataTable caption="Many" columns={columns} rows={many} keyOf={({ name }) => name} rowHeight={20} />)
    const table = screen.getByRole('table', { name: 'Many' })
    expect(table.getAttribute('aria-rowcount')).toBe('5001')
    const shown = within(table).getAllByRole('rowheader')
    expect(shown.length).toBeGreaterThan(10)
    expect(shown.length).toBeLessThan(60)
    press('size')
    expect(within(table).getAllByRole('rowheader')[0]!.textContent).toBe('r4999')
    vi.restoreAllMocks()
  })
})
