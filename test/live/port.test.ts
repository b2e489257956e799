import { fromRows } from 'acuarela'
import { toJson } from 'acuarela/data'
import { toHtml } from 'acuarela/html'
import { bundleReportFile } from 'acuarela/node'
import { type ReportSpec, readReport, readSource } from 'acuarela/report'
import { serveBundle, serveReport } from 'acuarela/session'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { allowedActions, type CellRequest, type Session, type Update } from '../../src/live/session/model.js'
import { connectSession } from '../../src/live/session/port.js'
import { createSession } from '../../src/live/session/session.js'
import { type Action, FIRST_STATE, nextState } from '../../src/live/state/state.js'
import { cellsOf, type Exhibit } from '../../src/page/page.js'
import { bindReport } from '../../src/report/bind/report.js'
import type { RemoteTable } from '../../src/summary/contract.js'
import { createMemoryEngine } from '../../src/summary/memory/engine.js'
import { effort } from '../support/effort.js'
import { folder } from '../support/tool.js'
import { WILD, WILD_CSV } from '../support/wild.js'

/**
 * A session behind a port gives the same as one in the same thread, although everything is copied.
 */

const REPORT = `${WILD}filters: [shop, kind, period]\n`

async function wild(): Promise<Session> {
  const report = readReport(REPORT)
  expect(report.problems).toEqual([])
  const source = await readSource([{ name: 's.csv', content: WILD_CSV }], { date: 'date' })
  return createSession(bindReport(report, new Map([['s', source]])))
}

/** A session at the other end of a channel, and a function that ends both. */
async function remote(): Promise<{ session: Session; end(): void }> {
  const { port1, port2 } = new MessageChannel()
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 's.csv': WILD_CSV })
  // The page may connect before the other side listens.
  const connecting = connectSession(port1)
  await serveBundle(port2, await bundleReportFile(`${cwd}/r.acuarela.yaml`))
  const session = await connecting
  return {
    session,
    end: () => {
      session.close()
      port1.close()
    },
  }
}

const actionsOf = ({ controls }: Session): fc.Arbitrary<Action> => {
  const [parameter] = controls.parameters
  const [filter] = controls.filters
  const [sort] = controls.sorts
  if (parameter === undefined || filter === undefined || sort === undefined) throw new Error('nothing to move')
  return fc.oneof(
    fc.integer({ min: 0, max: 5000 }).map((value): Action => ({ do: 'set', parameter: parameter.name, value })),
    fc
      .subarray([...filter.values], { maxLength: 2 })
      .map((values): Action => ({ do: 'filter', key: filter.name, values })),
    fc.constantFrom(...controls.periods, null).map((period): Action => ({ do: 'period', period })),
    fc
      .tuple(fc.constantFrom(...controls.rules.map(({ rule }) => rule)), fc.boolean())
      .map(([rule, paused]): Action => ({ do: 'pause', rule, paused })),
    fc.constantFrom(...sort.by, null).map((by): Action => ({ do: 'sort', exhibit: sort.exhibit, by })),
    fc.boolean().map((plain): Action => ({ do: 'plain', plain })),
  )
}

/** Which exhibits, and rows of the others, are the same objects as before. */
function unchanged(before: Update | undefined, { page }: Update): unknown {
  return page.exhibits.map((exhibit, i) => {
    const old = before?.page.exhibits.find((own) => own.name === exhibit.name)
    if (old === before?.page.exhibits[i] && old === exhibit) return 'all'
    const rows = new Set<unknown>(rowsOf(old))
    return rowsOf(exhibit).flatMap((row, at) => (rows.has(row) ? [at] : []))
  })
}

function rowsOf(exhibit: Exhibit | undefined): readonly unknown[] {
  return exhibit !== undefined && 'rows' in exhibit ? exhibit.rows : []
}

test('what a reader does at random gives the same page, changes, reasons and trends here and behind a port', async () => {
  const [here, { session: there, end }] = [await wild(), await remote()]
  expect(there.controls).toEqual(here.controls)
  const allowed = allowedActions(here.controls)
  let [state, asked, kept] = [FIRST_STATE, 0, 0]
  let before: [Update, Update] | undefined
  const actions = fc.sample(actionsOf(here), { numRuns: effort(60, 5), seed: 5 })
  for (const action of actions) {
    const next = nextState(state, action, allowed)
    if (next === state) continue
    state = next
    const [local, other] = await Promise.all([here.answer(state), there.answer(state)])
    expect(toJson(other.page)).toBe(toJson(local.page))
    expect(await toHtml(other.page)).toBe(await toHtml(local.page))
    expect({ ...other, page: null }).toEqual({ ...local, page: null })
    const same = unchanged(before?.[0], local)
    expect(unchanged(before?.[1], other)).toEqual(same)
    kept += JSON.stringify(same).length
    before = [local, other]
    const cells = local.page.exhibits.flatMap((exhibit) =>
      cellsOf(exhibit).map(
        ({ row, column, measure }): CellRequest => ({
          exhibit: exhibit.name,
          measure,
          keys: Object.fromEntries([...row, ...column].map(({ name, value }) => [name, value ?? ''])),
        }),
      ),
    )
    for (const cell of cells.filter((_, i) => i % 97 === asked % 97)) {
      asked++
      expect(await there.reasons(cell)).toEqual(await here.reasons(cell))
      expect(await there.trend(cell)).toEqual(await here.trend(cell))
    }
    for (const { rule } of here.controls.rules)
      expect(await there.coveredCells(rule)).toEqual(await here.coveredCells(rule))
  }
  end()
  expect(asked).toBeGreaterThan(20)
  expect(kept).toBeGreaterThan(200)
})

test('a refused report, a wrong port and a failed engine are reported where the page is', async () => {
  const spec = {
    title: 'R',
    sources: { sales: {} },
    measures: { revenue: 'sum(amonut)' },
    exhibits: [{ table: { rows: 'shop', show: 'revenue' } }],
  } satisfies ReportSpec
  const data = { sales: [{ shop: 'Larkmoor', amount: 20 }] }
  const refused = new MessageChannel()
  const connecting = connectSession(refused.port1)
  const [there, here] = await Promise.allSettled([serveReport(refused.port2, spec, { data }), connecting])
  const reasons = [there, here].map((settled) => (settled.status === 'rejected' ? settled.reason : undefined))
  expect(reasons[1]).toMatchObject({ name: 'ProblemError', problems: reasons[0].problems, message: reasons[0].message })
  expect(reasons[0].message).toContain('did you mean amount?')
  refused.port1.close()

  await expect(serveReport({} as never, spec, { data })).rejects.toThrow(
    'serveReport.port: expected a worker or message port, found object',
  )

  // Connected after it was served; a call that fails leaves the session as it was.
  const { port1, port2 } = new MessageChannel()
  const table = fromRows(data.sales)
  const line = { isCut: false }
  const remote: RemoteTable = {
    table,
    nearly: new Map(),
    grains: new Map(),
    notes: [],
    connect(_fields, _types, options) {
      const engine = createMemoryEngine(table, options)
      const { ask } = engine
      return Object.assign(engine, {
        ask: async (question: Parameters<typeof ask>[0]) => {
          if (line.isCut) throw new Error('the line is cut')
          return ask(question)
        },
      })
    },
  }
  const right = { ...spec, measures: { revenue: 'sum(amount)' }, filters: ['shop'] }
  await serveReport(port2, right, { data: { sales: remote } })
  const session = await connectSession(port1)
  const texts = ({ page }: Update): string[] =>
    page.exhibits.flatMap((exhibit) => cellsOf(exhibit)).map(({ text }) => text)
  const first = await session.answer(FIRST_STATE)
  expect(texts(first)).toEqual(['20'])
  line.isCut = true
  await expect(session.answer({ ...FIRST_STATE, filters: { shop: ['Larkmoor'] } })).rejects.toThrow('the line is cut')
  line.isCut = false
  const again = await session.answer(FIRST_STATE)
  expect(again.page.exhibits[0]).toBe(first.page.exhibits[0])
  // Other messages on the same port are ignored.
  port1.postMessage('hello')
  port1.postMessage({ id: 1 })
  expect((await session.answer(FIRST_STATE)).empty).toBeNull()
  session.close()
  port1.close()

  // A worker that does not start.
  const dead = new EventTarget() as EventTarget & { postMessage(message: unknown): void }
  dead.postMessage = () => queueMicrotask(() => dead.dispatchEvent(new Event('error')))
  await expect(connectSession(dead)).rejects.toThrow('the worker that answers the report failed: error')
})
