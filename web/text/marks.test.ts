import { CompletionContext } from '@codemirror/autocomplete'
import { EditorState, Text } from '@codemirror/state'
import { describe, expect, it } from 'vitest'
import { columnMark, markOf, namesAmong, namesTyped } from './marks'

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
    return namesTyped(new CompletionContext(state, typed.length, false))
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

describe('a formula of a slot', () => {
  const formula = Text.of(['2 * boom.angl + x'])
  const marked = (message: string) => {
    const { from, to } = columnMark(formula, message)
    return formula.sliceString(from, to)
  }

  it('has its slip marked at the column that is told, as far as the word goes', () => {
    expect(marked('In the formula 2 * boom.angl + x, column 5: There is no boom.angl.')).toBe('boom.angl')
    expect(marked('In the formula 2 * boom.angl + x, column 3: A number is wanted.')).toBe('*')
    expect(marked('In the formula 2 * boom.angl + x, column 18: It ends too soon.')).toBe('')
    expect(marked('It has no finite value.')).toBe('2')
  })

  it('offers names with dots as one, then functions', () => {
    const typed = '2 * boom.an'
    const found = namesAmong(['boom.angle', 't'])(new CompletionContext(EditorState.create({ doc: typed }), typed.length, false))
    expect(found).toMatchObject({ from: 4 })
    expect(found!.options.slice(0, 2).map(({ label }) => label)).toEqual(['boom.angle', 't'])
    expect(found!.options.map(({ label }) => label)).toContain('sqrt')
    expect(namesAmong(['t'])(new CompletionContext(EditorState.create({ doc: '2 *' }), 3, false))).toBeNull()
  })
})
