import { toJson } from 'acuarela/data'
import { toHtml } from 'acuarela/html'
import { readReport, readSource } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { changesOf } from '../../src/live/explain/changes.js'
import { createSession, type Session } from '../../src/live/state/session.js'
import { FIRST_STATE, type LiveState } from '../../src/live/state/state.js'
import { cellsOf } from '../../src/page/page.js'
import { bindReport } from '../../src/report/bind/report.js'
import { effort } from '../support/effort.js'
import { WILD, WILD_CSV } from '../support/wild.js'

/**
 * The report that strains everything, with parameters in rules, lines, words, and one that a
 * measure reads.
 */
const REPORT = WILD.replace(
  'parameters: { target: { value: 3000, label: Target, format: money EUR 0 } }',
  'parameters: { target: { value: 3000, label: Target, format: money EUR 0 }, low: { value: 200 }, share: 10%, more: { value: 0 } }',
)
  .replace('{ atLeast: 200, status: pale }', "{ atLeast: low, style: { wash: sky, flag: 'from {low}' } }")
  .replace('formula: sum(cost), label: Cost', 'formula: sum(cost) + more, label: Cost')
  .replace("note: 'against {amount}'", "note: '{target} was wanted'")
  .replace(
    '- { name: row, paint: row',
    '- { name: few, paint: margin, only: [nested, forty], bands: [{ below: share, style: { ink: coral, icon: down } }] }\n  - { name: row, paint: row',
  )

async function open(): Promise<Session> {
  const report = readReport(REPORT)
  const source = await readSource([{ name: 's.csv', content: WILD_CSV }], { date: 'date' })
  expect(report.problems).toEqual([])
  return createSession(bindReport(report, new Map([['s', source]])))
}

const MOVES = fc.array(
  fc.oneof(
    fc.record({ name: fc.constantFrom('target', 'low'), value: fc.integer({ min: -300, max: 5000 }) }),
    fc.record({ name: fc.constant('share'), value: fc.integer({ min: 0, max: 60 }).map((n) => n / 100) }),
    fc.record({ name: fc.constant('more'), value: fc.integer({ min: 0, max: 40 }) }),
  ),
  { minLength: 1, maxLength: 3 },
)

test('a report decided again with other parameters is the report decided anew, and the changes told are the same', async () => {
  const [own, other] = [await open(), await open()]
  let state: LiveState = FIRST_STATE
  let [before, plainBefore] = [own.first, other.first]
  const seen = { same: 0, moved: 0 }
  for (const moves of fc.sample(MOVES, { numRuns: effort(24, 8), seed: 11 })) {
    for (const { name, value } of moves) state = { ...state, parameters: { ...state.parameters, [name]: value } }
    const again = await own.answer(state)
    // Between them another report is asked for, so that nothing is at hand.
    await other.answer({ ...state, plain: !state.plain })
    const anew = await other.answer(state)
    expect(toJson(again.page)).toBe(toJson(anew.page))
    expect(await toHtml(again.page)).toBe(await toHtml(anew.page))
    // In place where the same numbers were decided again, by keys where they were summarised anew.
    const [changes, byKeys] = [changesOf(before, again), changesOf(plainBefore, anew)]
    expect(changes.text).toBe(byKeys.text)
    again.page.exhibits.forEach((exhibit, i) => {
      const cells = cellsOf(exhibit)
      cellsOf(anew.page.exhibits[i]).forEach((cell, k) => {
        const [a, b] = [
          changes.isMoved({ exhibit: exhibit.name, cell: cells[k] }),
          byKeys.isMoved({ exhibit: exhibit.name, cell }),
        ]
        if (cell.level.row === 'detail' && cell.level.column === 'detail')
          expect([exhibit.name, cell.name, a]).toEqual([exhibit.name, cell.name, b])
        if (a) seen.moved++
      })
      if (exhibit === before.page.exhibits[i]) seen.same++
    })
    before = again
    plainBefore = anew
  }
  // Exhibits that read nothing that moved are the very same, and something did move.
  expect(seen.same).toBeGreaterThan(effort(60, 15))
  expect(seen.moved).toBeGreaterThan(effort(100, 25))
})
