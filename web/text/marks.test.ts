import { CompletionContext } from '@codemirror/autocomplete'
import { EditorState, Text } from '@codemirror/state'
import { describe, expect, it } from 'vitest'
import { markOf, namesIn } from './marks'

const text = Text.of(["speed' = push / mass", 'A', '-1, 2', 'mass = = 3'])
const problem = (where: string) => ({ where, what: 'It is no equation.', remedy: 'Write one.' })
const marked = (where: string) => {
  const { from, to } = markOf(text, problem(where))
  return text.sliceString(from, to)
}

describe('what is wrong with a text', () => {
  it('is marked on its line, at the heading of its block, or on the whole', () => {
    expect(marked('line 4')).toBe('mass = = 3')
    expect(marked('A')).toBe('A')
    expect(marked('')).toHaveLength(text.length)
    // a place that the text does not have
    expect(marked('line 9')).toHaveLength(text.length)
    expect(marked('D')).toHaveLength(text.length)
  })

  it('is told with its remedy', () => {
    expect(markOf(text, problem('line 1'))).toMatchObject({ severity: 'error', message: 'It is no equation. Write one.' })
  })
})

describe('names while one is typed', () => {
  const offered = (typed: string) => {
    const state = EditorState.create({ doc: typed })
    return namesIn(new CompletionContext(state, typed.length, false))
  }

  it('are those of the text, then the functions of formulas', () => {
    const found = offered("speed' = push / mass\ny = sp")
    const [names, kinds] = [found!.options.map(({ label }) => label), found!.options.map(({ type }) => type)]
    expect(names.slice(0, 4)).toEqual(['speed', 'push', 'mass', 'y'])
    expect(names).toContain('sqrt')
    expect(names).not.toContain('sp')
    expect(kinds[names.indexOf('sqrt')]).toBe('function')
    expect(found!.from).toBe("speed' = push / mass\ny = ".length)
  })

  it('are not offered where none begins', () => {
    expect(offered('mass = 3 ')).toBeNull()
  })
})
