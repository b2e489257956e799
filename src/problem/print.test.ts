import { expect, test } from 'vitest'
import { harmless, printProblem } from './print.js'
import { problem } from './problem.js'

test('a problem prints its place, its sentence and a caret under the span', () => {
  const place = {
    file: 'a.yaml',
    line: 3,
    column: 12,
    path: ['rules', 0, 'judge'],
    text: 'revnue - plan',
    from: 0,
    to: 6,
  }
  const printed = printProblem(problem('unknown-name', { name: 'revnue', nearest: 'revenue', known: [] }, place))
  expect(printed.split('\n')).toEqual([
    'a.yaml:3:12 (rules[1].judge): unknown name: revnue; did you mean revenue?',
    '    revnue - plan',
    '    ^^^^^^',
  ])
})

test('a caret far to the right is kept in view', () => {
  const text = `${'a + '.repeat(60)}?`
  const [, line, caret] = printProblem(problem('expression-stray', { found: '?' }, { text, from: 240, to: 241 })).split(
    '\n',
  )
  expect(line.length).toBeLessThan(112)
  expect(line[caret.indexOf('^')]).toBe('?')
})

test('data cannot drive a terminal', () => {
  expect(harmless('a\u001b[31mb\u0007\u202ec\n')).toBe('a·[31mb··c·')
})
