import { execFileSync, spawnSync } from 'node:child_process'
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { expect, test } from 'vitest'
import { parse, stringify } from 'yaml'
import { RENAMED_FUNCTIONS, RENAMED_ICONS, RENAMED_PIGMENTS } from '../dist/problem/renamed.js'
import { findingsPage } from '../scripts/findings.js'
import { FULL, some } from './support/effort.js'
import { acuarela, folder, ROOT } from './support/tool.js'

const README = readFileSync(join(ROOT, 'README.md'), 'utf8')
const block = (language: string, holding: string): string => {
  const match = [...README.matchAll(/```(\w*)\n([\s\S]*?)```/g)].find(
    (m) => m[1] === language && m[2].includes(holding),
  )
  if (match === undefined) throw new Error(`README has no ${language} block with ${holding}`)
  return match[2]
}

test('the README’s report is painted by the README’s commands', async () => {
  const cwd = await folder({ 'shops.acuarela.yaml': block('yaml', 'exhibits') })
  await writeFile(join(cwd, 'sales.csv'), await readFile(join(ROOT, 'examples/brezal/sales.csv')))
  const commands = block('sh', 'npx acuarela')
    .trim()
    .split('\n')
    .map((line) =>
      line
        .replace(/\s+#.*$/, '')
        .split(/\s+/)
        .slice(2),
    )
  expect(commands).toHaveLength(5)
  for (const args of commands) expect(await acuarela(args, cwd)).toMatchObject({ code: 0 })
  expect(readdirSync(cwd)).toContain('first.acuarela.yaml')
  expect(readdirSync(join(cwd, 'out')).sort()).toEqual(['shops.html', 'shops.json'])
  expect(readdirSync(join(cwd, 'pages')).sort()).toEqual(['shops-Coast.pdf', 'shops-Upland.pdf', 'shops-Valley.pdf'])
})

test('the README’s mistake reads as the README says', async () => {
  const yaml = block('yaml', 'exhibits').replace('at least target →', 'at least taget →')
  const cwd = await folder({ 'shops.acuarela.yaml': yaml, 'sales.csv': 'date,region,shop,amount\n2025-01-01,a,b,1\n' })
  const { code, err } = await acuarela(['paint', 'shops.acuarela.yaml'], cwd)
  expect(code).toBe(2)
  expect(err).toBe(block('', 'taget'))
})

test('the README’s library use gives what its comment says', async () => {
  const code = block('ts', 'fromRows').replace(
    /^painting\.cell.*$/m,
    'console.log(JSON.stringify(painting.cell(0, "revenue")))',
  )
  const file = join(ROOT, 'out', `readme-${process.pid}.mjs`)
  mkdirSync(dirname(file), { recursive: true })
  await writeFile(file, code)
  const lines: string[] = []
  const log = console.log
  console.log = (text: string) => lines.push(text)
  try {
    await import(/* @vite-ignore */ pathToFileURL(file).href)
  } finally {
    console.log = log
    rmSync(file)
  }
  expect(JSON.parse(lines[0])).toMatchObject({ status: 'behind', fill: '#f4a19e', ink: '#6b1420', icon: 'cross' })
})

test('every example of the guide to sources and measures is painted, and reads as the guide says', async () => {
  const guide = readFileSync(join(ROOT, 'docs/sources-and-measures.md'), 'utf8')
  const cwd = await folder()
  for (const name of ['sales', 'budget', 'prices', 'footfall', 'shops', 'towns'])
    await writeFile(join(cwd, `${name}.csv`), await readFile(join(ROOT, `examples/brezal/${name}.csv`)))
  const examples = [...guide.matchAll(/```yaml\n([\s\S]*?)```\n\n```text\n([\s\S]*?)```/g)]
  expect(examples.length).toBeGreaterThan(8)
  expect(examples.length).toBe(guide.split('```yaml').length - 1)
  for (const [, yaml, says] of some(examples, 2)) {
    await writeFile(join(cwd, 'example.acuarela.yaml'), yaml)
    expect(await acuarela(['paint', 'example.acuarela.yaml'], cwd)).toEqual({ code: 0, err: '', out: says })
  }
})

test('every recipe of the cookbook does what the cookbook says', async () => {
  const book = readFileSync(join(ROOT, 'docs/cookbook.md'), 'utf8')
  const cwd = await folder()
  for (const name of ['sales.csv', 'budget.csv', 'shops.csv', 'border.csv', 'rates.csv', 'plans.fods'])
    await writeFile(join(cwd, name), await readFile(join(ROOT, `examples/brezal/${name}`)))
  const base = /```yaml\n([\s\S]*?)```/.exec(book)?.[1] ?? ''
  const recipes = [...book.slice(book.indexOf('\n## ')).matchAll(/```yaml\n([\s\S]*?)```\n\n```text\n([\s\S]*?)```/g)]
  expect(recipes.length).toBe(book.split('```text').length - 1)
  expect(recipes.length).toBeGreaterThan(24)
  // A few at a time, so that the machine is not overloaded.
  const tried = some([...recipes.entries()], 5)
  for (let from = 0; from < tried.length; from += 3)
    await Promise.all(
      tried.slice(from, from + 3).map(async ([i, [, yaml, says]]) => {
        const name = `recipe-${i}.acuarela.yaml`
        // A recipe with a title is a report of its own, and is painted.
        const isReport = yaml.startsWith('title:')
        await writeFile(join(cwd, name), isReport ? yaml : base + yaml)
        expect(await acuarela([isReport ? 'paint' : 'rules', name], cwd)).toEqual({ code: 0, err: '', out: says })
        // Its rules stand below as sentences, and paint the same.
        if (!isReport || !yaml.includes('rules:')) return
        const { out } = await acuarela(['rules', name, '--brief'], cwd)
        for (const sentence of out.trim().split('\n')) expect(book).toContain(`- \`${sentence}\`\n`)
        const list = out
          .trim()
          .split('\n')
          .map((sentence) => `  - '${sentence.replaceAll("'", "''")}'\n`)
        const keyed = parse(yaml) as { rules: { name?: string; title?: string }[] }
        if (keyed.rules.some((rule) => rule.name !== undefined || rule.title !== undefined)) return
        await writeFile(join(cwd, name), stringify({ ...keyed, rules: parse(list.join('')) as string[] }))
        expect((await acuarela(['paint', name], cwd)).out).toBe(says)
      }),
    )
})

test('the docs name functions, values, icons and pigments as they are called now', () => {
  const old = new Set([
    ...Object.keys({ ...RENAMED_FUNCTIONS, ...RENAMED_PIGMENTS, ...RENAMED_ICONS }),
    // Keys and values that are not ordinary words.
    ...['lying', 'shades', 'gives', 'seal', 'together', 'uses', 'borrow', 'oneOf', 'finding', 'marker', 'details'],
  ])
  const docs = readdirSync(join(ROOT, 'docs')).filter((file) => file.endsWith('.md'))
  for (const file of ['README.md', ...docs.map((name) => `docs/${name}`)])
    for (const [code] of readFileSync(join(ROOT, file), 'utf8').matchAll(/```yaml[\s\S]*?```|`[^`\n]+`/g))
      for (const [word] of code.matchAll(/\p{L}+/gu)) expect([file, word, old.has(word)]).toEqual([file, word, false])
})

test.runIf(FULL)('the pages of the library are what its doc comments make of them', async () => {
  const printed = execFileSync(process.execPath, ['scripts/api.js', '--print'], { cwd: ROOT, encoding: 'utf8' })
  const pages = JSON.parse(printed) as [name: string, text: string][]
  expect(readdirSync(join(ROOT, 'docs/api')).sort()).toEqual(pages.map(([name]) => name).sort())
  for (const [name, text] of pages) expect(readFileSync(join(ROOT, 'docs/api', name), 'utf8')).toBe(text)
  // Every export has a description.
  const bare = pages.flatMap(([name, text]) =>
    [...text.matchAll(/\n## (\w+)\n\n```/g)].map(([, heading]) => `${name} ${heading}`),
  )
  expect(bare).toEqual([])
})

test('the reference is what the schema and the registries make of it', () => {
  expect(readFileSync(join(ROOT, 'docs/reference.md'), 'utf8')).toBe(
    execFileSync(process.execPath, ['scripts/reference.js', '--print'], { cwd: ROOT, encoding: 'utf8' }),
  )
})

test('the page of findings is what the catalogue makes of it', () => {
  expect(readFileSync(join(ROOT, 'docs/proof.md'), 'utf8')).toBe(findingsPage())
})

test('every link in the documents leads somewhere', () => {
  const files = [
    'README.md',
    'CONTRIBUTING.md',
    ...readdirSync(join(ROOT, 'docs'), { recursive: true, encoding: 'utf8' })
      .filter((f) => f.endsWith('.md'))
      .map((f) => `docs/${f}`),
  ]
  for (const file of files) {
    const text = readFileSync(join(ROOT, file), 'utf8')
    for (const [, to] of text.matchAll(/\]\((?!https?:)([^)#]+)\)/g))
      expect(() => readdirOrFile(join(ROOT, dirname(file), to)), `${file}: ${to}`).not.toThrow()
  }
})

function readdirOrFile(path: string): void {
  try {
    readFileSync(path)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EISDIR') throw error
  }
}

test('the JSON Schema of the report file is shipped and knows the keys', () => {
  const schema = JSON.parse(readFileSync(join(ROOT, 'dist/report.schema.json'), 'utf8')) as {
    properties: Record<string, unknown>
    additionalProperties: boolean
    required: string[]
  }
  expect(Object.keys(schema.properties)).toEqual(
    expect.arrayContaining(['title', 'sources', 'measures', 'rules', 'exhibits']),
  )
  expect(schema.additionalProperties).toBe(false)
  expect(schema.required.sort()).toEqual(['exhibits', 'title'])
})

test('every law that a test cites stands in docs/laws.md, each under one number', () => {
  const laws = [...readFileSync(join(ROOT, 'docs/laws.md'), 'utf8').matchAll(/^(\d+)\. /gm)].map(([, n]) => Number(n))
  expect(laws).toEqual(Array.from({ length: laws.length }, (_, i) => i + 1))
  const tests = readdirSync(join(ROOT, 'test'), { recursive: true, encoding: 'utf8' }).filter((f) =>
    f.endsWith('.test.ts'),
  )
  const cited = tests.flatMap((file) =>
    [...readFileSync(join(ROOT, 'test', file), 'utf8').matchAll(/\blaws? (\d+)\b/g)].map(([, n]) => Number(n)),
  )
  expect(new Set(cited).size).toBeGreaterThan(20)
  expect(cited.filter((n) => !laws.includes(n))).toEqual([])
})

/** What the examples of the documents take as given. */
const GIVEN = ['spec', 'rows', 'text', 'page', 'writeFile', 'report']

test.runIf(FULL)('the TypeScript of the documents is accepted by the compiler, with what it takes as given', () => {
  const out = join(ROOT, 'out', `docs-${process.pid}`)
  mkdirSync(out, { recursive: true })
  const names = readdirSync(join(ROOT, 'docs')).filter((name) => name.endsWith('.md'))
  let count = 0
  for (const name of ['README.md', ...names.map((name) => `docs/${name}`)])
    for (const [, code] of readFileSync(join(ROOT, name), 'utf8').matchAll(/```ts\n([\s\S]*?)```/g)) {
      const given = GIVEN.filter((one) => !new RegExp(`(const|import[^\n]*) ${one}\\b`).test(code))
      const head = given.map((one) => `declare const ${one}: any\n`).join('')
      writeFileSync(join(out, `${name.replaceAll('/', '-')}-${count++}.ts`), `export {}\n${head}${code}`)
    }
  expect(count).toBeGreaterThan(8)
  const compilerOptions = {
    module: 'nodenext',
    target: 'es2023',
    lib: ['es2023', 'dom', 'dom.iterable'],
    types: [],
    strict: true,
    noEmit: true,
    skipLibCheck: true,
  }
  writeFileSync(join(out, 'tsconfig.json'), JSON.stringify({ compilerOptions, include: ['*.ts'] }))
  const tsc = join(ROOT, 'node_modules/typescript/bin/tsc')
  const { stdout } = spawnSync(process.execPath, [tsc, '-p', out], { encoding: 'utf8', cwd: out })
  rmSync(out, { recursive: true })
  expect(stdout).toBe('')
})
