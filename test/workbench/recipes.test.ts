import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { toJson } from 'acuarela/data'
import { openDraft } from 'acuarela/edit'
import { openReport } from 'acuarela/report'
import type { Page } from 'playwright-core'
import { beforeAll, expect, test } from 'vitest'
import { parse, stringify } from 'yaml'
import { FULL } from '../support/effort.js'
import { type Hand, pointReport } from '../support/pointing.js'
import { ROOT } from '../support/tool.js'
import { textOf, usePage } from '../support/workbench.js'

const { opened, give } = usePage()
const book = readFileSync(join(ROOT, 'docs/cookbook.md'), 'utf8')
const base = /```yaml\n([\s\S]*?)```/.exec(book)?.[1] ?? ''
const recipes = [...book.matchAll(/\n## (.+)\n[\s\S]*?```yaml\n([\s\S]*?)```\n\n```text\n/g)].map(
  ([, title, yaml]) => [title, yaml] as const,
)
const data = (name: string): string => readFileSync(join(ROOT, `examples/brezal/${name}`), 'utf8')

/** A recipe that is a report of its own begins with its sources and one table. */
function beginning(yaml: string): string {
  const { sources, measures, fields } = parse(yaml) as Record<string, Record<string, unknown>>
  const [first] = Object.entries(measures ?? { rows: 'count()' })
  return stringify({
    title: 'New',
    sources,
    ...(fields && { fields }),
    measures: Object.fromEntries([first]),
    exhibits: [{ table: { rows: 'shop', show: [first[0]] } }],
  })
}

test('there are recipes', () => expect(recipes.length).toBeGreaterThan(24))

/** One page for all: each recipe takes the place of the one before. */
let page: Page
let faults: string[]
beforeAll(async () => {
  if (!FULL) return
  ;({ page, faults } = await opened())
  page.setDefaultTimeout(8_000)
})

/** The painted data of a text over the files of the recipe. */
async function painted(text: string, files: Readonly<Record<string, string>>): Promise<string> {
  const { sources } = parse(text) as { sources: Record<string, { file: string }> }
  return toJson(
    await openReport(text, Object.fromEntries(Object.entries(sources).map(([name, { file }]) => [name, files[file]]))),
  )
}

// In the full run alone: by the mouse and by keys in turn, or both by ACUARELA_BOTH.
const cases = recipes.flatMap(([title, yaml], i) => {
  const both = process.env.ACUARELA_BOTH === undefined ? [i % 2 === 0 ? 'mouse' : 'keys'] : ['mouse', 'keys']
  return both.map((by) => [title, by as Hand['by'], yaml] as const)
})
test.runIf(FULL).each(cases)('%s, by %s', async (_title, by, yaml) => {
  const isReport = yaml.startsWith('title:')
  const wanted = isReport ? yaml : base + yaml
  const { sources } = parse(wanted) as { sources: Record<string, { file: string }> }
  const files = Object.fromEntries(Object.values(sources).map(({ file }) => [file, data(file)]))
  await give(page, { 'recipe.acuarela.yaml': isReport ? beginning(yaml) : base, ...files })
  await pointReport({ page, by, text: () => textOf(page) }, openDraft(wanted).spec as Record<string, unknown>)
  expect(await painted(await textOf(page), files)).toBe(await painted(wanted, files))
  expect(faults).toEqual([])
})
