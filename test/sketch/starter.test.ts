import { spawn } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { openReport, readReport, readSource, type SketchSource, sketch, sketchQuestions } from 'acuarela/report'
import { expect, test } from 'vitest'
import { effort, some } from '../support/effort.js'
import type { Painted } from '../support/painted.js'
import { acuarela, folder, ROOT } from '../support/tool.js'
import { CASES as TABLES } from './files.js'
import { STARS } from './stars.js'

const CASES = [...TABLES, ...STARS]

/** The data of a case as the library takes them. */
async function sourcesOf(files: Readonly<Record<string, string>>): Promise<SketchSource[]> {
  return Promise.all(
    Object.entries(files).map(async ([file, content]) => ({
      file,
      source: await readSource([{ name: file, content }]),
    })),
  )
}

// In the short run each third.
test.each(some(CASES, 3))('$name', async ({ files, has, lacks = [] }) => {
  const cwd = await folder(files)
  const made = await acuarela(['sketch', ...Object.keys(files), '--out', 's.acuarela.yaml', '--quiet'], cwd)
  expect([made.code, made.err]).toEqual([0, ''])
  const text = await readFile(join(cwd, 's.acuarela.yaml'), 'utf8')
  for (const part of has) expect(text).toMatch(part)
  for (const part of lacks) expect(text).not.toMatch(part)
  expect(text.split('\n').length).toBeLessThanOrEqual(80)
  // The author sees a painted page and no finding.
  const painted = await acuarela(['paint', 's.acuarela.yaml', '--to', 'json', '--quiet'], cwd)
  expect([painted.code, painted.err]).toEqual([0, ''])
  const proof = await acuarela(['proof', 's.acuarela.yaml'], cwd)
  expect([proof.code, proof.err], proof.out).toEqual([0, ''])
  expect(proof.out).toMatch(/nothing found|^$/)
  // The library writes the same; brief is the same report without comments.
  if (!some(CASES, 4).some((each) => each.files === files)) return
  const data = await sourcesOf(files)
  expect(await sketch(data)).toBe(text)
  const brief = await sketch(data, { brief: true })
  expect(brief).not.toMatch(/^\s*#| {2}# /m)
  expect(readReport(brief).spec).toEqual(readReport(text).spec)
})

test('the rows are split by what the plan has, too, so that it is nowhere missing', async () => {
  const cwd = await folder()
  const files = ['sales.csv', 'budget.csv'].map((name) => join(ROOT, 'examples/brezal', name))
  await acuarela(['sketch', ...files, '--out', 's.acuarela.yaml', '--quiet'], cwd)
  expect(await readFile(join(cwd, 's.acuarela.yaml'), 'utf8')).toMatch(/rows: \[region, shop\]/)
  const { out } = await acuarela(['paint', 's.acuarela.yaml', '--to', 'json', '--quiet'], cwd)
  const overview = (JSON.parse(out) as Painted).exhibits.find(({ name }) => name === 'overview')
  const plans = overview?.cells.filter(({ measure }) => measure === 'plan') ?? []
  expect(plans.length).toBeGreaterThan(9)
  expect(plans.every(({ value }) => value !== null)).toBe(true)
})

test('statuses differ wherever there are bands and no plan', async () => {
  let bands = 0
  for (const { name, files } of some(CASES, 2)) {
    const data = await sourcesOf(files)
    const text = await sketch(data)
    if (!text.includes('at least target →') && !text.includes('at most target →')) continue
    bands++
    const inputs = Object.fromEntries(
      data.map(({ source }, i) => [Object.keys(readReport(text).spec?.sources ?? {})[i], source]),
    )
    const stacked = text.includes('stack: {') || text.includes('unstack: {')
    const page = stacked
      ? await openReport(
          text,
          Object.fromEntries(Object.entries(files).map(([, content], i) => [Object.keys(inputs)[i], content])),
        )
      : await openReport(text, inputs)
    // The target is near the upper third: statuses differ, and none has nearly all cells.
    const counts = page.strip?.parts.filter(({ kind, count }) => kind === 'status' && count > 0) ?? []
    expect(counts.length, name).toBeGreaterThanOrEqual(2)
    expect(Math.max(...counts.map(({ count }) => count)) / (page.strip?.count ?? 1), name).toBeLessThanOrEqual(0.7)
    expect(counts.find(({ status }) => status === 'ahead')?.count, name).toBeGreaterThan(0)
  }
  expect(bands).toBeGreaterThan(effort(15, 7))
})

test('what is unsure is asked, with the guess; an answer replaces it', async () => {
  const files = CASES[0].files
  const data = await sourcesOf(files)
  const questions = sketchQuestions(data)
  expect(questions.map(({ name, guess }) => [name, guess])).toEqual([['main', 'Takings']])
  expect(questions[0].choices.map(({ value }) => value)).toEqual(['Seats', 'Takings'])
  const text = await sketch(data, { answers: { main: 'Seats', rows: 'Region', better: 'lower', date: 'none' } })
  expect(text).toMatch(/measures:.*\n {2}seats: \{ formula: sum\(Seats\).*better: lower/)
  expect(text).toContain('rows: Region')
  expect(text).not.toContain('date:')
  // All guesses together are the starter without answers.
  const guesses = Object.fromEntries(questions.map(({ name, guess }) => [name, guess]))
  expect(await sketch(data, { answers: guesses })).toBe(await sketch(data))
  await expect(sketch(data, { answers: { main: 'Takngs' } })).rejects.toThrow(/Takngs.*Takings/)
  await expect(sketch(data, { breif: true } as never)).rejects.toThrow('breif')
})

test('the tool: brief, and questions only where there is a terminal', async () => {
  const cwd = await folder(CASES[0].files)
  const brief = await acuarela(['sketch', 'orders.csv', '--brief'], cwd)
  expect(brief.out).not.toContain('#')
  const asked = await acuarela(['sketch', 'orders.csv', '--ask'], cwd)
  expect([asked.code, asked.err]).toEqual([0, 'no terminal to ask at; the guesses were taken\n'])
  expect(asked.out).toBe((await acuarela(['sketch', 'orders.csv'], cwd)).out)
})

test.skipIf(process.platform !== 'linux')(
  'at a terminal the tool asks what it is unsure of, with its guess; an answer replaces it',
  async () => {
    const cwd = await folder(CASES[0].files)
    /** The tool behind a terminal of its own; each key is pressed once the tool has asked. */
    const ask = (keys: readonly string[]): Promise<{ code: number | null; out: string }> =>
      new Promise((done) => {
        const command = `stty cols 100 rows 30; "${process.execPath}" "${join(ROOT, 'dist/cli/acuarela.js')}" sketch orders.csv --ask --out asked.acuarela.yaml --force`
        const child = spawn('script', ['-qec', command, '/dev/null'], { cwd, env: { ...process.env, TERM: 'xterm' } })
        let [out, pressed] = ['', 0]
        child.stdout.on('data', (text: Buffer) => {
          out += text.toString()
          if (pressed < keys.length && out.includes('?')) child.stdin.write(keys[pressed++])
        })
        child.on('close', (code) => done({ code, out }))
      })
    const plain = (await acuarela(['sketch', 'orders.csv'], cwd)).out
    const guessed = await ask(['\r'])
    expect(guessed.code, guessed.out).toBe(0)
    expect(guessed.out).toContain('Takings')
    expect(await readFile(join(cwd, 'asked.acuarela.yaml'), 'utf8')).toBe(plain)
    // The choice above the guess.
    const other = await ask(['\u001b[A', '\r'])
    expect(other.code, other.out).toBe(0)
    expect(await readFile(join(cwd, 'asked.acuarela.yaml'), 'utf8')).toMatch(
      /measures:[\s\S]*?\n {2}seats: \{ formula: sum\(Seats\)/,
    )
  },
)
