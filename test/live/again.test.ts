import { toJson } from 'acuarela/data'
import { toHtml } from 'acuarela/html'
import { readReport, readSource } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { changesOf } from '../../src/live/session/changes.js'
import type { Changes } from '../../src/live/session/model.js'
import { createSession } from '../../src/live/session/session.js'
import { FIRST_STATE, type LiveState } from '../../src/live/state/state.js'
import { cellsOf } from '../../src/page/page.js'
import { bindReport } from '../../src/report/bind/report.js'
import { decideReport } from '../../src/report/layout/decide.js'
import type { BoundReport } from '../../src/report/model/bound.js'
import { applyState } from '../../src/report/transfer/apply-state.js'
import { effort } from '../support/effort.js'
import { WILD, WILD_CSV } from '../support/wild.js'

/**
 * The report that strains everything, with parameters in rules, reference lines, texts, and one
 * that a measure reads.
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

async function bind(): Promise<BoundReport> {
  const report = readReport(REPORT)
  const source = await readSource([{ name: 's.csv', content: WILD_CSV }], { date: 'date' })
  expect(report.problems).toEqual([])
  return bindReport(report, new Map([['s', source]]))
}

const MOVES = fc.array(
  fc.oneof(
    fc.record({ name: fc.constantFrom('target', 'low'), value: fc.integer({ min: -300, max: 5000 }) }),
    fc.record({ name: fc.constant('share'), value: fc.integer({ min: 0, max: 60 }).map((n) => n / 100) }),
    fc.record({ name: fc.constant('more'), value: fc.integer({ min: 0, max: 40 }) }),
  ),
  { minLength: 1, maxLength: 3 },
)

/** The places of the cells of an exhibit whose status changed. */
function movedIn(changes: Changes | null, exhibit: string): ReadonlySet<number> {
  return new Set(changes?.cells.filter((cell) => cell.exhibit === exhibit).flatMap(({ moved }) => moved))
}

test('a report decided again with other parameters is the report decided from the start, and the changes reported are the same', async () => {
  const session = await createSession(await bind())
  const bound = await bind()
  let state: LiveState = FIRST_STATE
  let before = await session.answer(state)
  // Changes are those against the report as it was opened.
  const opened = await decideReport(bound)
  const seen = { same: 0, moved: 0 }
  for (const moves of fc.sample(MOVES, { numRuns: effort(24, 8), seed: 11 })) {
    for (const { name, value } of moves) state = { ...state, parameters: { ...state.parameters, [name]: value } }
    const again = await session.answer(state)
    const anew = await decideReport(applyState(bound, state))
    expect(toJson(again.page)).toBe(toJson(anew.page))
    expect(await toHtml(again.page)).toBe(await toHtml(anew.page))
    // Changes by place if the same numbers were decided again, by keys if they were summarised
    // again.
    const byKeys = await changesOf(opened, anew)
    expect({ ...again.changes, cells: [] }).toEqual({ ...byKeys, cells: [] })
    again.page.exhibits.forEach((exhibit, i) => {
      const [a, b] = [movedIn(again.changes, exhibit.name), movedIn(byKeys, exhibit.name)]
      cellsOf(exhibit).forEach((cell, k) => {
        if (cell.level.row === 'detail' && cell.level.column === 'detail')
          expect([exhibit.name, cell.name, a.has(k)]).toEqual([exhibit.name, cell.name, b.has(k)])
      })
      seen.moved += a.size
      if (exhibit === before.page.exhibits[i]) seen.same++
    })
    before = again
  }
  // Exhibits without a changed parameter are the same objects, and some cells did change.
  expect(seen.same).toBeGreaterThan(effort(60, 15))
  expect(seen.moved).toBeGreaterThan(effort(100, 25))
})

test('changes of a gradient, whose styles are as many as its cells, are those that a look at each cell finds', async () => {
  const report = readReport(`title: Plants
sources: { s: { file: s.csv } }
parameters: { most: { value: 900 } }
measures: { amount: sum(amount), more: sum(amount) }
rules:
  - { paint: amount, gradient: { ramp: aqua, from: 0, to: most } }
  - { paint: more, bar: { color: indigo, from: 0, to: most } }
exhibits:
  - { name: plants, table: { rows: plant, show: [amount, more] } }
`)
  expect(report.problems).toEqual([])
  const lines = Array.from({ length: 700 }, (_, i) => `Plant ${i},${(i * 7919) % 1201}`)
  const source = await readSource([{ name: 's.csv', content: `plant,amount\n${lines.join('\n')}\n` }])
  const session = await createSession(bindReport(report, new Map([['s', source]])))
  const before = await session.answer(FIRST_STATE)
  const after = await session.answer({ ...FIRST_STATE, parameters: { most: 600 } })
  const old = cellsOf(before.page.exhibits[0])
  let restyled = 0
  cellsOf(after.page.exhibits[0]).forEach((cell, i) => {
    const look = ({ style: { fill, ink }, bar }: typeof cell): string => JSON.stringify([fill, ink, bar])
    if (look(cell) !== look(old[i])) restyled++
  })
  expect(new Set(old.map(({ style }) => style)).size ** 2).toBeGreaterThan(1 << 16)
  expect(restyled).toBeGreaterThan(600)
  expect(after.changes).toMatchObject({ moved: 0, restyled })
  expect(after.changes?.cells[0].restyled).toHaveLength(restyled)
})

test('a long table that nobody has looked at yet is counted, explained and covered like one that was', async () => {
  const report = readReport(`title: Plants
sources: { s: { file: s.csv } }
parameters: { least: { value: 600 } }
measures: { amount: sum(amount) }
statuses: { good: { wash: aqua } }
rules: [{ name: good, paint: amount, levels: [detail, total], bands: [{ atLeast: least, status: good }] }]
exhibits: [{ name: plants, table: { rows: plant, show: [amount], totals: bottom } }]
`)
  expect(report.problems).toEqual([])
  const lines = Array.from({ length: 700 }, (_, i) => `Plant ${i},${(i * 7919) % 1201}`)
  const source = await readSource([{ name: 's.csv', content: `plant,amount\n${lines.join('\n')}\n` }])
  const opened = () => createSession(bindReport(report, new Map([['s', source]])))
  const [fresh, seen] = [await opened(), await opened()]
  const state = { ...FIRST_STATE, parameters: { least: 300 } }
  const looked = await seen.answer(state)
  expect(looked.page.exhibits).toHaveLength(1)
  // Neither the page nor its places are read before the questions.
  const update = await fresh.answer(state)
  const at = (least: number): number => lines.filter((line) => Number(line.split(',')[1]) >= least).length
  const isLate = Object.getOwnPropertyDescriptor(update.page, 'exhibits')?.get !== undefined
  expect([isLate, update.changes?.moved, update.page.strip?.parts[0].count]).toEqual([true, at(300) - at(600), at(300)])
  const total = { exhibit: 'plants', measure: 'amount', keys: {} }
  expect(await fresh.reasons(total)).toEqual(await seen.reasons(total))
  expect((await fresh.reasons(total)).title).toContain('Total')
  const covered = await fresh.coveredCells('good')
  expect(covered).toEqual(await seen.coveredCells('good'))
  expect(covered).toHaveLength(701)
  expect(update.changes?.cells).toEqual(looked.changes?.cells)
  expect(toJson(update.page)).toBe(toJson(looked.page))
})
