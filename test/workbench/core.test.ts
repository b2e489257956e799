import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { MessageChannel } from 'node:worker_threads'
import { ProblemError } from 'acuarela'
import { toJson } from 'acuarela/data'
import type { Edit } from 'acuarela/edit'
import { toHtml } from 'acuarela/html'
import { type GridExhibit, openReport } from 'acuarela/report'
import {
  connectWorkbench,
  createWorkbench,
  type SessionPort,
  SIGHTS,
  type Sight,
  serveWorkbench,
  themeColor,
  type WorkbenchState,
} from 'acuarela/workbench'
import {
  type Color,
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  parse as parseColor,
  wcagContrast,
} from 'culori'
import { afterAll, expect, test } from 'vitest'
import { some } from '../support/effort.js'
import { ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')
const text = (name: string): string => readFileSync(join(BREZAL, name), 'utf8')
const SPRING = text('spring.acuarela.yaml')
/** The state of a page that nobody has touched. */
const UNTOUCHED = { parameters: {}, paused: [], filters: {}, sorts: {}, plain: false, theme: 'auto' } as never
/** The last two years are enough of the orders. */
const SALES = text('sales.csv')
  .split('\n')
  .filter((line, i) => i === 0 || /^202[45]/.test(line) || /,202[45]-/.test(line))
  .join('\n')
const FILES = { 'data/sales.csv': SALES, 'budget.csv': text('budget.csv'), 'shops.csv': text('shops.csv') }
const DATA = { sales: SALES, budget: FILES['budget.csv'], outlets: FILES['shops.csv'] }

const difference = differenceCiede2000()
/** A colour as a kind of vision sees it. */
function seen(sight: Sight, text: string): Color {
  const color = parseColor(text) as Color
  if (sight === 'protanopia') return filterDeficiencyProt(1)(color)
  if (sight === 'deuteranopia') return filterDeficiencyDeuter(1)(color)
  return sight === 'tritanopia' ? filterDeficiencyTrit(1)(color) : color
}

const ends: (() => void)[] = []
afterAll(() => {
  for (const end of ends) end()
})

/** A workbench at the other end of a channel. */
function connected(): { calls: ReturnType<typeof connectWorkbench>; far: SessionPort } {
  const { port1, port2 } = new MessageChannel()
  const [near, far] = [port1, port2] as unknown as [SessionPort, SessionPort]
  ends.push(serveWorkbench(near), () => port1.close())
  return { calls: connectWorkbench(far), far }
}

async function codes(call: Promise<unknown>): Promise<string[]> {
  return call.then(
    () => [],
    (error: unknown) => (error instanceof ProblemError ? error.problems.map(({ code }) => code) : [String(error)]),
  )
}

test('a report is opened, edited, undone and saved; its page is that of the text at each step', async () => {
  const bench = createWorkbench()
  let state = await bench.open({ name: 'spring.acuarela.yaml', text: SPRING, files: FILES })
  expect([state.problems, state.missing, state.isShown, state.isSaved]).toEqual([[], [], true, true])
  expect(state.rules.map(({ rule }) => rule).slice(0, 3)).toEqual([
    'againstTarget',
    'quarterOnLastYear',
    'quarterOnPlan',
  ])
  const page = async (): Promise<string> => toJson((await bench.session.answer(UNTOUCHED)).page)
  const painted = async ({ draft }: WorkbenchState): Promise<string> => toJson(await openReport(draft.text, DATA))
  expect(await page()).toBe(await painted(state))
  state = await bench.do({ do: 'set', path: ['rules', 0, 'bands', 0, 'atLeast'], value: '150% of target' })
  expect([state.isShown, state.isSaved, state.entries.length]).toEqual([true, false, 1])
  expect(await page()).toBe(await painted(state))
  state = await bench.do({ do: 'rename', kind: 'measure', from: 'gap', to: 'difference' })
  expect(await page()).toBe(await painted(state))
  state = await bench.do({ do: 'remove', path: ['exhibits', 0] })
  expect(state.isShown).toBe(false)
  expect(state.problems.map(({ code }) => code)).toContain('unknown-exhibit')
  expect(state.problems[0].place.line).toBeGreaterThan(40)
  // The page still shows the last report that could be answered.
  await bench.undo()
  await bench.undo()
  state = await bench.undo()
  expect([state.draft.text, state.isSaved, state.isShown]).toEqual([SPRING, true, true])
  expect(state.undone).toHaveLength(3)
  state = await bench.redo()
  expect((await bench.saved()).isSaved).toBe(true)
  const again = createWorkbench()
  const kept = await again.open({ name: 's', text: SPRING, files: FILES, saved: await bench.history() })
  expect([kept.draft.text, kept.entries, kept.undone]).toEqual([state.draft.text, state.entries, state.undone])
})

test('what is missing is listed, and can be given; mistakes keep the last page', async () => {
  const { calls } = connected()
  let state = await calls.open({ name: 's', text: SPRING, files: { 'sales.csv': SALES } })
  expect([state.missing, state.isShown]).toEqual([['budget.csv', 'shops.csv'], false])
  expect(await codes(calls.findings())).toEqual(['edit-unreadable'])
  state = await calls.give({ 'budget.csv': FILES['budget.csv'], 'shops.csv': FILES['shops.csv'] })
  expect([state.missing, state.isShown]).toEqual([[], true])
  const [sales] = state.sources
  expect([sales.name, sales.rows]).toEqual(['sales', SALES.trim().split('\n').length - 1])
  const amount = sales.columns.find(({ name }) => name === 'amount')
  expect(amount?.type).toBe('number')
  expect(amount?.shape.reduce((sum, count) => sum + count, 0)).toBe(sales.rows - (amount?.missing ?? 0))
  state = await calls.write(SPRING.replace('at least 0 →', 'at leest 0 →'))
  expect([state.isShown, state.rules.length]).toEqual([false, 10])
  expect(state.problems[0].message).toContain('did you mean')
  state = await calls.write('title: [')
  expect(state.problems.map(({ code }) => code)).toEqual(['yaml-broken'])
  // An edit of a broken text is refused, and says so.
  const refused = await calls.do({ do: 'set', path: ['title'], value: 'T' })
  expect(refused.draft.refused?.map(({ code }) => code)).toEqual(['edit-unreadable'])
})

test('a rule is tried before it is written: what it says and changes is what it does then', async () => {
  const { calls } = connected()
  await calls.open({ name: 's', text: SPRING, files: FILES })
  const preview = await calls.preview('Margin of each shop: under 45% → behind', 0)
  expect(preview.sentence).toBe('margin of each shop: below 45% → behind')
  expect(preview.told?.places.some(({ painted }) => painted > 0)).toBe(true)
  expect(preview.comparison.cells.length).toBeGreaterThan(0)
  const state = await calls.do({ do: 'insert', path: ['rules'], value: preview.sentence, at: 0 })
  expect(state.rules[0].sentence).toBe(preview.sentence)
  expect(await codes(calls.preview('margin red if below plan', 0))).toEqual(['sentence-ways'])
  expect(await codes(calls.preview('margin: above 5 → nope', 0))).not.toEqual([])
  const next = await calls.complete('margin: at least 40% → ', 23)
  expect(next.map((one) => one.text)).toContain('behind')
})

test('the plot of a rule has each judged value, and its handles move what they say', async () => {
  const { calls } = connected()
  const report = SPRING.replace('at least monthTarget → ahead', 'at least 150000 → ahead')
  await calls.open({ name: 's', text: report, files: FILES })
  const plot = await calls.plot(6)
  expect(plot?.exhibit).toBe('months')
  expect(plot?.values.length).toBe(12)
  expect(plot?.classes.length).toBe(plot?.values.length)
  const [typed, follower] = plot?.handles ?? []
  expect(typed).toMatchObject({
    value: 150_000,
    label: 'At least, €150,000',
    path: ['rules', 6, 'bands', 0, 'atLeast'],
  })
  expect(follower).toMatchObject({ path: null })
  expect(follower.follows).toContain('80%')
  const moved = await calls.do({ do: 'set', path: typed.path ?? [], value: 160_000 }, { merge: true })
  expect(moved.draft.text).toBe(report.replace('150000', '160000'))
  expect((await calls.plot(6))?.handles[0].value).toBe(160_000)
  // A limit that is a parameter moves the parameter.
  await calls.write(SPRING)
  const [own] = (await calls.plot(6))?.handles ?? []
  expect([own.label, own.path]).toEqual(['At least, Month target', ['parameters', 'monthTarget', 'value']])
  expect(await calls.plot(5)).toMatchObject({ handles: [], exhibit: 'seasons' })
  expect(await calls.plot(9)).toBeUndefined()
  expect((await calls.findings()).every(({ ignored }) => ignored !== null)).toBe(true)
})

test('other messages on the port are left alone, and what is no port is refused', async () => {
  const { calls, far } = connected()
  for (const message of [
    null,
    5,
    { of: 'acuarela workbench' },
    { of: 'acuarela workbench', id: 1, call: 'constructor' },
  ])
    far.postMessage(message)
  const state = await calls.open({ name: 's', text: 'title: T\n', files: {} })
  expect(state.problems.length).toBeGreaterThan(0)
  expect(() => serveWorkbench({} as SessionPort)).toThrow('serveWorkbench')
  expect(() => connectWorkbench(null as unknown as SessionPort)).toThrow('connectWorkbench')
})

test('what is built again after an edit, and what is kept, is the report of the text', async () => {
  const bench = createWorkbench()
  await bench.open({ name: 's', text: SPRING, files: FILES })
  const shown = async (): Promise<string> => toJson((await bench.session.answer(UNTOUCHED)).page)
  const { rules } = (await bench.give({})).draft.spec as { rules: { bands?: object[]; only?: string[] }[] }
  const banded = rules.flatMap(({ bands }, i) => (bands === undefined ? [] : [i]))
  const edits: Edit[] = [
    { do: 'set', path: ['parameters', 'monthTarget', 'value'], value: 150_000 },
    { do: 'set', path: ['parameters', 'targetLevel', 'value'], value: '120%' },
    { do: 'set', path: ['parameters', 'slack'], value: '5%' },
    { do: 'set', path: ['parameters', 'monthTarget', 'label'], value: 'Goal of a month' },
    ...banded.map((i): Edit => ({ do: 'set', path: ['rules', i, 'paused'], value: true })),
    { do: 'set', path: ['rules', 0, 'only'], value: ['shops'] },
    { do: 'move', path: ['rules', 0], to: 2 },
    { do: 'insert', path: ['rules'], value: 'margin of each shop: above 42% → leading', at: 0 },
    { do: 'set', path: ['rules', 0], value: 'margin of each line: above 42% → leading' },
    { do: 'set', path: ['measures', 'gap', 'formula'], value: 'revenue - 2 * plan' },
    { do: 'set', path: ['statuses', 'ahead', 'wash'], value: 'sky' },
    { do: 'set', path: ['exhibits', 3, 'title'], value: 'Shops' },
    { do: 'remove', path: ['exhibits', 7] },
  ]
  const made = some(edits, 4)
  for (const edit of made) {
    const { draft, problems } = await bench.do(edit)
    expect([edit, draft.refused, problems]).toEqual([edit, undefined, []])
    expect([edit, await shown()]).toEqual([edit, toJson(await openReport(draft.text, DATA))])
  }
  // Back to the first text, step by step.
  for (let i = 0; i < made.length; i++) await bench.undo()
  expect(await shown()).toBe(toJson(await openReport(SPRING, DATA)))
})

test('the same where exhibits look at two times: what changed, an unfinished month, words', async () => {
  const bench = createWorkbench()
  await bench.open({ name: 'june', text: text('june.acuarela.yaml'), files: FILES })
  const edits: Edit[] = [
    { do: 'set', path: ['rules', 0, 'bands', 1, 'atLeast'], value: '70% of expected' },
    { do: 'set', path: ['rules', 1, 'bands', 1, 'atLeast'], value: '99% of plan' },
    { do: 'set', path: ['rules', 0, 'only'], value: ['shops'] },
    { do: 'set', path: ['rules', 1, 'only'], value: ['months', 'moved'] },
    { do: 'unset', path: ['rules', 1, 'only'] },
    { do: 'set', path: ['since'], value: '2 months' },
  ]
  for (const edit of some(edits, 2)) {
    const { draft, problems } = await bench.do(edit)
    expect([edit, draft.refused, problems]).toEqual([edit, undefined, []])
    const { page } = await bench.session.answer(UNTOUCHED)
    expect([edit, toJson(page)]).toEqual([edit, toJson(await openReport(draft.text, DATA))])
  }
})

test('what a page asks beside the report: looks, reasons, trials, differences, a starter', async () => {
  const { calls } = connected()
  const { rules } = await calls.open({ name: 's', text: SPRING, files: FILES })
  await calls.prepare()
  const looks = await calls.looks()
  const ahead = looks.statuses.find(({ name }) => name === 'ahead')
  expect(ahead).toMatchObject({ label: 'On target', fill: '#a7e5e4', icon: 'tick', verdict: 'good' })
  // The nearest one is the nearest by hand, for each kind of vision.
  for (const sight of SIGHTS) {
    const others = looks.statuses.filter(({ name, fill }) => name !== 'ahead' && fill !== null)
    const far = others.map(({ fill }) => difference(seen(sight, ahead?.fill ?? ''), seen(sight, fill ?? '')))
    expect(ahead?.nearest[sight]?.difference).toBeCloseTo(Math.min(...far), 6)
  }
  expect(looks.pigments.some(({ name, isOwn }) => name === 'aqua' && !isOwn)).toBe(true)
  const why = await calls.why({ exhibit: 'months', measure: 'revenue', keys: { month: '2025-05' } })
  expect('why' in why && why.why.rules.some(({ rule }) => rule === rules[6].rule)).toBe(true)
  const [trial] = await calls.rehearse(6)
  expect(trial.trials.map(({ what }) => what)).toContain('at: Month target')
  expect(await calls.compared()).toMatchObject({ cells: [], restyled: [] })
  await calls.do({ do: 'set', path: ['parameters', 'monthTarget', 'value'], value: 1_000_000 })
  expect((await calls.compared()).cells.length).toBeGreaterThan(3)
  expect((await calls.differences(SPRING)).filter(({ is }) => is !== 'same')).toHaveLength(2)
  const starter = await calls.sketch({ 'stalls.csv': 'stall,takings\nAsh,3\nElm,5\n' })
  expect([starter.name, starter.text]).toEqual(['stalls.acuarela.yaml', expect.stringContaining('stalls.csv')])
  const opened = await calls.open({ ...starter, files: { 'stalls.csv': 'stall,takings\nAsh,3\nElm,5\n' }, isNew: true })
  expect([opened.isShown, opened.isSaved]).toEqual([true, false])
})

test('files are found by their paths, by their last parts, and by patterns', async () => {
  const report = (file: string): string =>
    `title: T\nsources: { sales: { file: '${file}' } }\nmeasures: { n: sum(n) }\nexhibits: [{ table: { rows: shop, show: n } }]\n`
  const csv = (n: number): string => `shop,n\nAsh,${n}\n`
  const files = { 'a/2024.csv': csv(1), 'b/2024.csv': csv(10), 'b/2025.csv': csv(100), 'other.csv': csv(5000) }
  const total = async (file: string): Promise<unknown> => {
    const bench = createWorkbench()
    const { missing, isShown } = await bench.open({ name: 't', text: report(file), files })
    if (!isShown) return missing
    const { page } = await bench.session.answer(UNTOUCHED)
    return (page.exhibits[0] as GridExhibit).rows[0].cells[0]?.value
  }
  expect(await total('a/2024.csv')).toBe(1)
  expect(await total('b/2024.csv')).toBe(10)
  expect(await total('elsewhere/other.csv')).toBe(5000)
  expect(await total('elsewhere/2024.csv')).toEqual(['elsewhere/2024.csv'])
  expect(await total('b/*.csv')).toBe(110)
  expect(await total('*/2024.csv')).toBe(11)
  expect(await total('{a,b}/{2024,2025}.csv')).toBe(111)
  expect(await total('b/2026*.csv')).toEqual(['b/2026*.csv'])
})

test('an edit is checked without being made: its problems are those that it would give', async () => {
  const bench = createWorkbench()
  await bench.open({ name: 's', text: SPRING, files: FILES })
  const before = await bench.give({})
  const edits: Edit[] = [
    { do: 'set', path: ['measures', 'gap', 'formula'], value: 'revenue - plam' },
    { do: 'set', path: ['measures', 'gap', 'formula'], value: 'revenue -' },
    { do: 'set', path: ['measures', 'gap', 'formula'], value: 'revenue - 2 * plan' },
    { do: 'set', path: ['rules', 0, 'only'], value: ['nowhere'] },
    { do: 'remove', path: ['rules', 99] },
  ]
  let wrong = 0
  for (const edit of edits) {
    const told = await bench.check(edit)
    expect((await bench.give({})).draft.text).toBe(SPRING)
    const { draft, problems } = await bench.do(edit)
    expect([edit, told]).toEqual([edit, draft.refused ?? problems])
    wrong += Number(told.length > 0)
    if (draft.text !== SPRING) await bench.undo()
  }
  expect(wrong).toBe(4)
  const after = await bench.give({})
  expect([after.draft.text, after.isShown, after.entries]).toEqual([before.draft.text, true, before.entries])
})

const hexOf = (css: string): string[] => [...(css.match(/#[0-9a-f]{6}/g) ?? [])]

test('a colour follows the theme as that of a report does, and a text stays readable on its fill', async () => {
  const html = await toHtml(await openReport(SPRING, DATA))
  for (const wash of [0xa7e5e4, 0xf1f8ba, 0xf4a19e]) {
    const [light, dark] = hexOf(themeColor(wash))
    expect(Number.parseInt(light.slice(1), 16)).toBe(wash)
    expect(themeColor(light)).toBe(`light-dark(${light}, ${dark})`)
    // The style sheet of the page has both, one of them for the dark.
    expect([html.includes(light), html.includes(dark), dark]).toEqual([true, true, dark])
    expect(dark).not.toBe(light)
  }
  for (let fill = 0x0f1f3f; fill < 0xffffff; fill += 0x21b3d7)
    for (const ink of [0x000000, 0x4c4a00, 0xffffff]) {
      const [, text] = hexOf(themeColor(ink, fill))
      const [, ground] = hexOf(themeColor(fill))
      expect([text, ground, wcagContrast(text, ground) >= 4.49]).toEqual([text, ground, true])
    }
  for (const wrong of [-1, 0x1000000, 1.5, 'red', '#12']) expect(() => themeColor(wrong)).toThrowError(ProblemError)
})
