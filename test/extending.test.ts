import { execFile } from 'node:child_process'
import { cp, mkdir, mkdtemp, readdir, readFile, rm, symlink, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { promisify } from 'node:util'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { useBrowser } from './support/browser.js'
import { FULL } from './support/effort.js'
import { ROOT } from './support/tool.js'

/**
 * The steps of CONTRIBUTING for a rule kind, an exhibit kind, a format, an output and a function,
 * done in a copy of the tree: each touches the files that it names, and no others.
 */

const run = promisify(execFile)
const browser = useBrowser()
let tree: string

/** Files that each toy adds, by the toy. */
const ADDED: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  'rule kind': {
    'src/rule/kinds/multiples/schema.js': `// @ts-check
import { z } from 'zod'
import { outcomes } from '../../../../scripts/schema/parts.js'

const multiplesSchema = z.strictObject({ of: z.number().describe('the number that is counted in'), ...outcomes })

/** What the key of this kind holds in a rule. */
export const schema = multiplesSchema

/** What an editor shows of it. */
export const description = 'whole multiples of a number'

/** The parts that have a name in TypeScript. */
export const named = { MultiplesSpec: multiplesSchema }
`,
    'src/rule/kinds/multiples/check.ts': `import { type Check, writtenOutcome } from '../check.js'
import type { MultiplesPlan } from './run.js'

export const check: Check<MultiplesPlan> = ({ multiples }, checker, at) => {
  if (multiples === undefined) return undefined
  const here = at.at('multiples')
  checker.needNumber('multiples', here)
  const written = writtenOutcome(multiples, here)
  const gives = checker.outcome(written.outcome, written.at, 'multiples', written.refined)
  return gives === undefined ? undefined : { of: multiples.of, gives }
}
`,
    'src/rule/kinds/multiples/run.ts': `import { numbers } from '../../../expression/evaluate.js'
import type { Kind } from '../../model.js'

export interface MultiplesPlan {
  of: number
  gives: number
}

export const kind: Kind<MultiplesPlan, undefined> = {
  key: 'multiples',
  expressions: () => [],
  readsPopulation: () => false,
  fit: () => undefined,
  decide: ({ of, gives }, _, judged) => ({
    classes: Int16Array.from(numbers(judged.value, judged.length), (x) => (x % of === 0 ? gives : -1)),
  }),
  legend: ({ of, gives }) => ({ limits: Object.assign([], { [gives]: \`multiples of \${of}\` }) }),
  describe: ({ of, gives }, phrases) => \`\${phrases.gives(gives)} for multiples of \${phrases.print(of)}\`,
  explain({ of }, _, judged, cell) {
    const holds = numbers(judged.value, judged.length)[cell] % of === 0
    return [{ text: \`a multiple of \${of}: \${holds ? 'yes' : 'no'}\`, holds }]
  },
}
`,
    'src/rule/kinds/multiples/sentence.ts': `import { sequence, sign, slot, words } from '../../grammar/productions.js'
import { count, result } from '../../grammar/results.js'
import { under } from '../../grammar/under.js'

export const clauses = under('multiples', sequence(words('multiples of'), slot('of', count), sign('→'), result))
`,
    'src/rule/kinds/multiples/trials.ts': `import type { Trials } from '../../model.js'
import type { MultiplesPlan } from './run.js'

export const trials: Trials<MultiplesPlan, undefined> = {
  boundaries: ({ of }) => [{ value: of, what: 'the multiple' }],
}
`,
  },
  'exhibit kind': {
    'src/report/bind/kinds/tallest/schema.js': `// @ts-check
import { z } from 'zod'
import { keys } from '../../../../../scripts/schema/exhibit-parts.js'

const tallestSchema = z.strictObject({ by: keys, of: z.string().describe('the measure') })

export const schema = tallestSchema
export const description = 'the highest cells of a measure, three of them'
export const named = { TallestSpec: tallestSchema }
`,
    'src/report/bind/kinds/tallest/bind.ts': `import type { TallestSpec } from '../../../../spec/exhibits.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import { type BindKind, checkKeys, checkMeasure } from '../../exhibit-keys.js'

export const bind: BindKind<TallestSpec> = (tallest, context, diagnostics) => {
  const rows = checkKeys(tallest.by, context, diagnostics.at('by'))
  checkMeasure(tallest.of, context, diagnostics.at('of'))
  return {
    ...DEFAULT_PARTS,
    rows,
    show: [tallest.of],
    sort: { measure: tallest.of, falling: true },
    slots: [{ measure: tallest.of, label: undefined, draw: 'number', icon: 'before' }],
  }
}
`,
    'src/report/layout/kinds/tallest.ts': `import { prepareGrid } from './grid.js'
import type { Prepare } from './prepare.js'

export const prepare: Prepare = async (context, exhibit) => {
  const { answered, build } = await prepareGrid(context, exhibit)
  return {
    answered,
    build(own) {
      const built = build(own)
      return 'rows' in built ? { ...built, kind: 'table', rows: built.rows.slice(0, 3) } : built
    },
  }
}
`,
  },
  'source format': {
    'src/source/formats/pairs/format.ts': `import { addWord, createRawColumn } from '../../raw.js'
import type { TextFormat } from '../format.js'

/** Records as lines of \`name: value\`, an empty line between them. */
export const format: TextFormat = {
  key: 'pairs',
  label: 'pairs of names and values',
  endings: ['pairs'],
  of: 'text',
  add(raw, { name, text }) {
    const file = raw.files.push(name) - 1
    const records = text.trim().split(/\\n\\n+/).map((record) => new Map(record.split('\\n').map((line) => line.split(': ') as [string, string])))
    for (const column of records[0]?.keys() ?? []) raw.columns.push(createRawColumn(column))
    records.forEach((record, i) => {
      for (const column of raw.columns) addWord(column, record.get(column.name) ?? '', i + 1, file)
      raw.rows++
    })
  },
}
`,
  },
  output: {
    'src/output/outline/output.ts': `import { cellsOf } from '../../page/page.js'
import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'outline',
  about: 'a line for each cell',
  library: 'none',
  render: async (page) =>
    whole(
      page.exhibits
        .flatMap((exhibit) => cellsOf(exhibit).map(({ name, text, statusText }) => \`\${name}: \${text} \${statusText}\`.trim()))
        .join('\\n'),
    ),
}
`,
  },
}

/** The lines that each toy changes. */
const LINES: readonly { toy: string; file: string; from: string; to: string }[] = [
  {
    toy: 'rule kind',
    file: 'scripts/schema/registries.js',
    from: "'rank', 'from-column']",
    to: "'rank', 'from-column', 'multiples']",
  },
  {
    toy: 'exhibit kind',
    file: 'scripts/schema/registries.js',
    from: "'moves', 'reading']",
    to: "'moves', 'reading', 'tallest']",
  },
  {
    toy: 'source format',
    file: 'scripts/schema/registries.js',
    from: "'parquet', 'ods']",
    to: "'parquet', 'ods', 'pairs']",
  },
  {
    toy: 'output',
    file: 'scripts/schema/registries.js',
    from: "'csv', 'ods']\n\nexport const HEAD",
    to: "'csv', 'ods', 'outline']\n\nexport const HEAD",
  },
  {
    toy: 'value function',
    file: 'src/expression/functions.ts',
    from: '  change: {\n',
    to: '  half: { takes: [1, 1], says: "one number", run: ([x], n) => each(n, (i) => x[i] / 2), sql: ([x]) => "(" + x.sql + " / 2)" },\n  change: {\n',
  },
]

const PAIRS = [
  ['Larkmoor', 100],
  ['Fennel Row', 250],
  ['Quay Lane', 300],
  ['Old Mill', 70],
]
  .map(([shop, amount]) => `shop: ${shop}\namount: ${amount}`)
  .join('\n\n')

const REPORT = `title: Toys
sources: { sales: { file: sales.pairs } }
measures: { amount: sum(amount), halves: half(sum(amount)) }
statuses: { round: { label: Round, wash: aqua } }
rules:
  - { name: hundreds, paint: amount, multiples: { of: 100, status: round } }
exhibits:
  - { name: first, tallest: { by: shop, of: amount } }
  - { name: shops, table: { rows: shop, show: [amount, halves] } }
`

async function tool(...args: string[]): Promise<string> {
  const { stdout } = await run(process.execPath, [join(tree, 'dist/cli/acuarela.js'), ...args], {
    cwd: join(tree, 'toys'),
  })
  return stdout
}

/** What other tests may build meanwhile. */
const isBuiltExample = (path: string): boolean => /examples\/[^/]+\/dist(\/|$)/.test(path)

beforeAll(async () => {
  // A copy of the tree is built, so this suite runs in the full run alone.
  if (!FULL) return
  tree = await mkdtemp(join(tmpdir(), 'acuarela-toys-'))
  for (const name of await readdir(ROOT))
    if (!['node_modules', '.git', 'out', 'test', 'docs'].includes(name))
      await cp(join(ROOT, name), join(tree, name), {
        recursive: true,
        preserveTimestamps: true,
        filter: (path) => !isBuiltExample(path),
      })
  await symlink(join(ROOT, 'node_modules'), join(tree, 'node_modules'))
  for (const files of Object.values(ADDED))
    for (const [path, text] of Object.entries(files)) {
      await mkdir(dirname(join(tree, path)), { recursive: true })
      await writeFile(join(tree, path), text)
    }
  for (const { file, from, to } of LINES) {
    const text = await readFile(join(tree, file), 'utf8')
    expect(text.split(from), `${file} holds ${from} once`).toHaveLength(2)
    await writeFile(
      join(tree, file),
      text.replace(from, () => to),
    )
  }
  await run(process.execPath, ['scripts/schema/make.js'], { cwd: tree })
  await run(process.execPath, ['scripts/build.js'], { cwd: tree, maxBuffer: 1e8 }).catch(
    (error: { stdout: string }) => {
      throw new Error(error.stdout)
    },
  )
  await mkdir(join(tree, 'toys'))
  await writeFile(join(tree, 'toys/toys.acuarela.yaml'), REPORT)
  await writeFile(join(tree, 'toys/sales.pairs'), PAIRS)
}, 300_000)

afterAll(async () => {
  if (FULL) await rm(tree, { recursive: true, force: true })
})

test.runIf(FULL)('each toy stands in the files that it may touch, and in no others', async () => {
  const changed = new Map<string, [added: number, removed: number]>()
  for (const part of ['src', 'scripts', 'bench', 'examples']) {
    const args = ['diff', '--no-index', '--numstat', '-z', '--no-renames', join(ROOT, part), join(tree, part)]
    // diff exits with 1 if something differs.
    const { stdout } = await run('git', args).catch((error: { stdout: string }) => error)
    const fields = stdout.split('\0')
    for (let i = 0; i + 2 < fields.length; i += 3) {
      const [added, removed] = fields[i].split('\t')
      const path = fields[i + 2] === '/dev/null' ? fields[i + 1] : fields[i + 2]
      if (isBuiltExample(path)) continue
      changed.set(path.replace(`${ROOT}/`, '').replace(`${tree}/`, ''), [Number(added), Number(removed)])
    }
  }
  // Generated files are not counted.
  for (const path of changed.keys()) {
    const text = await readFile(join(tree, path), 'utf8')
    if (/^\/\/ Made by scripts\//.test(text)) changed.delete(path)
  }
  const added = Object.values(ADDED).flatMap((files) => Object.keys(files))
  expect([...changed.keys()].sort()).toEqual(
    [...added, 'scripts/schema/registries.js', 'src/expression/functions.ts'].sort(),
  )
  expect(changed.get('scripts/schema/registries.js')).toEqual([4, 4])
  expect(changed.get('src/expression/functions.ts')).toEqual([1, 0])
  const folders = (toy: string): Set<string> => new Set(Object.keys(ADDED[toy]).map(dirname))
  for (const toy of ['rule kind', 'source format', 'output']) expect(folders(toy).size).toBe(1)
  // With the line in the list.
  expect(Object.keys(ADDED['exhibit kind']).length + 1).toBeLessThanOrEqual(4)
})

test.runIf(FULL)('the rule kind shows in the legend, rules, why, rehearse, schema, JSON and the docs', async () => {
  expect(await tool('rules', 'toys.acuarela.yaml', '--brief')).toBe('amount: multiples of 100 → round\n')
  expect(await tool('rules', 'toys.acuarela.yaml')).toContain('Amount: Round for multiples of 100.')
  const why = await tool('why', 'toys.acuarela.yaml', 'shops.amount', 'shop=Quay Lane')
  expect(why).toContain('a multiple of 100: yes. It is “Round”.')
  expect(await tool('rehearse', 'toys.acuarela.yaml')).toMatch(/100 +Round +at: the multiple/)
  const text = await tool('paint', 'toys.acuarela.yaml', '--width', '80')
  expect(text).toMatch(/Round multiples of 100 · 2/)
  const data = JSON.parse(await tool('paint', 'toys.acuarela.yaml', '--to', 'json'))
  const statuses = data.exhibits[1].cells.map((cell: { style: { status: string | null } }) => cell.style.status)
  expect(statuses.filter((status: string | null) => status === 'round')).toHaveLength(2)
  const schema = await readFile(join(tree, 'dist/report.schema.json'), 'utf8')
  expect(schema).toContain('whole multiples of a number')
  const { stdout } = await run(process.execPath, ['scripts/reference.js', '--print'], { cwd: tree })
  for (const row of ['`multiples`', '`tallest`', 'pairs of names and values', '`outline`', '`half`'])
    expect(stdout).toContain(`| ${row} |`)
})

test.runIf(FULL)('the live page has it, too, and decides and explains by it', async () => {
  await tool('paint', 'toys.acuarela.yaml', '--out', 'toys.html')
  const { page, faults } = await browser.open()
  await page.goto(`file://${join(tree, 'toys/toys.html')}`)
  await page.locator('main:not([aria-busy=true]) .exhibits').waitFor()
  const section = page.locator('section:has(#x-first)')
  expect(await section.locator('tbody tr').count()).toBe(3)
  await section.locator('td', { hasText: '300' }).hover()
  await page.locator('.whybox li').first().waitFor()
  expect(await page.locator('.whybox').textContent()).toContain('a multiple of 100: yes')
  await page.locator('.menu summary').click()
  expect(await page.locator('[data-rule=hundreds] p').textContent()).toBe('Amount: Round for multiples of 100.')
  expect(faults).toEqual([])
})

test.runIf(FULL)('the exhibit kind, the format, the output and the function work everywhere', async () => {
  const lines = (await tool('paint', 'toys.acuarela.yaml', '--to', 'outline')).split('\n')
  // The three highest, then all, with halves.
  expect(lines.slice(0, 3)).toEqual(['Quay Lane: 300 Round', 'Fennel Row: 250', 'Larkmoor: 100 Round'])
  expect(lines).toContain('Old Mill: 35')
  expect(lines).toHaveLength(3 + 8)
  const { stdout } = await run(process.execPath, [join(tree, 'dist/cli/acuarela.js'), 'paint', '--help'])
  expect(stdout.replace(/\s+/g, ' ')).toContain('ods, outline')
  const svg = await run(
    process.execPath,
    [join(tree, 'dist/cli/acuarela.js'), 'paint', 'toys.acuarela.yaml', '--to', 'svg', '--exhibit', 'first'],
    { cwd: join(tree, 'toys') },
  )
  expect(svg.stdout).toContain('Quay Lane')
})
