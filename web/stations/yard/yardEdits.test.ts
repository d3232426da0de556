import { describe, expect, it } from 'vitest'
import { demo, demoNames } from '../../../core/tests/demo'
import { copyTitle, freeAddress, shownProjects } from './yardEdits'

const projects = demoNames.map((id, i) => ({ id, document: demo(id), revision: 1, savedAt: `2026-05-0${(i % 9) + 1}T10:00:00Z` }))

describe('the yard', () => {
  it('finds projects in which every word stands, whatever the case', () => {
    expect(shownProjects(projects, 'RELAY lamp', 'name')).toEqual([])
    expect(shownProjects(projects, 'turret', 'name').map(({ id }) => id)).toEqual(['lens-turret'])
    expect(shownProjects(projects, '', 'name')).toHaveLength(projects.length)
  })

  it('orders them by name, or by the last work on them', () => {
    const titles = shownProjects(projects, '', 'name').map(({ document }) => document.title)
    expect(titles).toEqual([...titles].sort())
    const dates = shownProjects(projects, '', 'latest').map(({ savedAt }) => savedAt)
    expect(dates).toEqual([...dates].sort().reverse())
  })

  it('gives copies addresses and names of their own', () => {
    expect(freeAddress(['winch', 'winch-copy'], 'winch-copy')).toBe('winch-copy-2')
    expect(freeAddress([], 'x'.repeat(60))).toHaveLength(40)
    const copied = { ...projects[0]!, document: { ...projects[0]!.document, title: 'Derrick, copy' } }
    expect(copyTitle([...projects, copied], 'Derrick')).toBe('Derrick, copy 2')
  })
})
