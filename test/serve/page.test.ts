import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import type { Locator, Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { useEditing } from '../support/edit-server.js'
import { FULL } from '../support/effort.js'
import { writeParquet } from '../support/engines.js'
import { type } from '../support/pointing.js'
import { acuarela } from '../support/tool.js'
import { painted, textOf, watchText } from '../support/workbench.js'

const browser = useBrowser()
const { folder, start } = useEditing()
const SOON = { timeout: 20_000 }
const region = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true })
const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true })

const REPORT = `# The stalls of the spring market.
title: Stalls
sources:
  stalls: { file: stalls.csv }
measures:
  takings: sum(takings)
parameters:
  goal: { value: 100 }
exhibits:
  - table: { rows: stall, show: [takings] }
rules:
  - 'takings: at least goal → bold'
`
const CSV = 'stall,takings\nAsh,120\nElm,80\nOak,95\n'

function market(): { cwd: string; path: string } {
  const cwd = folder()
  const path = join(cwd, 'stalls.acuarela.yaml')
  writeFileSync(path, REPORT)
  writeFileSync(join(cwd, 'stalls.csv'), CSV)
  return { cwd, path }
}

/** A page over a server, in a browser without anything of another page. */
async function opened(address: string): Promise<{ page: Page; faults: string[] }> {
  const { page, faults } = await browser.open()
  page.setDefaultTimeout(20_000)
  await watchText(page)
  await page.goto(address)
  await painted(page)
  return { page, faults }
}

async function setGoal(page: Page, value: string): Promise<void> {
  if ((await page.locator('[data-part="parameters.goal"]').getAttribute('aria-expanded')) === 'false')
    await page.locator('[data-part="parameters.goal"]').click()
  await type({ page, by: 'mouse' }, page.locator(`[data-path='["parameters","goal","value"]'] input`), value)
  await expect.poll(() => textOf(page), SOON).toContain(`value: ${value}`)
}

test('a report on disk is edited, saved, and follows what other programs write', async () => {
  const { cwd, path } = market()
  const server = await start(cwd, ['stalls.acuarela.yaml'])
  const { page, faults } = await opened(server.address)
  // The token is not left in the address.
  expect(new URL(page.url()).search).toBe('')
  await setGoal(page, '90')
  expect(readFileSync(path, 'utf8')).toBe(REPORT)
  await button(page, 'Save').click()
  await expect.poll(() => readFileSync(path, 'utf8'), SOON).toBe(REPORT.replace('100', '90'))
  await expect.poll(() => button(page, 'Save').isDisabled(), SOON).toBe(true)
  // New data are shown; a new text is taken over, and can be taken back.
  writeFileSync(join(cwd, 'stalls.csv'), `${CSV}Yew,400\n`)
  await expect.poll(() => page.locator('.report .main').textContent(), SOON).toContain('Yew')
  writeFileSync(path, REPORT.replace('title: Stalls', 'title: Theirs'))
  await expect.poll(() => page.locator('.report .main').textContent(), SOON).toContain('Theirs')
  await button(page, 'Undo').click()
  await expect.poll(() => textOf(page), SOON).toBe(REPORT.replace('100', '90'))
  // Edited here and there: both texts are shown, nothing is written over.
  const theirs = REPORT.replace('title: Stalls', 'title: Again theirs')
  writeFileSync(path, theirs)
  const conflict = region(page, 'Conflict')
  await conflict.waitFor()
  expect(await conflict.getByRole('region', { name: 'On disk' }).textContent()).toContain('Again theirs')
  expect(await conflict.getByRole('region', { name: 'Yours' }).textContent()).not.toContain('Again theirs')
  expect(readFileSync(path, 'utf8')).toBe(theirs)
  await conflict.getByRole('button', { name: 'Save mine over it' }).click()
  await expect.poll(() => readFileSync(path, 'utf8'), SOON).toBe(REPORT.replace('100', '90'))
  // Deleted: it is written again when that is wanted.
  rmSync(path)
  await expect.poll(() => page.locator('.news').textContent(), SOON).toContain('gone')
  await setGoal(page, '70')
  await button(page, 'Save').click()
  await conflict.getByRole('button', { name: 'Write it again' }).click()
  await expect.poll(() => existsSync(path) && readFileSync(path, 'utf8'), SOON).toBe(REPORT.replace('100', '70'))
  expect(faults.filter((fault) => !/409/.test(fault))).toEqual([])
})

test.runIf(FULL)('two windows on one file never write over each other', async () => {
  const { cwd, path } = market()
  const [one, other] = await Promise.all([start(cwd, ['stalls.acuarela.yaml']), start(cwd, ['stalls.acuarela.yaml'])])
  const first = await opened(one.address)
  const second = await opened(other.address)
  await setGoal(first.page, '90')
  await setGoal(second.page, '80')
  await button(first.page, 'Save').click()
  await expect.poll(() => readFileSync(path, 'utf8'), SOON).toBe(REPORT.replace('100', '90'))
  const conflict = region(second.page, 'Conflict')
  await conflict.waitFor()
  await conflict.getByRole('button', { name: 'Take the one on disk' }).click()
  await expect.poll(() => textOf(second.page), SOON).toBe(REPORT.replace('100', '90'))
  // One's own text is an undo away.
  await button(second.page, 'Undo').click()
  await expect.poll(() => textOf(second.page), SOON).toBe(REPORT.replace('100', '80'))
  expect(readFileSync(path, 'utf8')).toBe(REPORT.replace('100', '90'))
})

test.runIf(FULL)('a killed browser or server leaves the draft, with its history, on another port too', async () => {
  const { cwd, path } = market()
  const server = await start(cwd, ['stalls.acuarela.yaml'])
  const { page } = await opened(server.address)
  await setGoal(page, '90')
  await setGoal(page, '85')
  await page.waitForTimeout(1200)
  await page.context().close()
  await server.kill('SIGKILL')
  const next = await start(cwd, ['stalls.acuarela.yaml'])
  const again = await opened(next.address)
  expect(await textOf(again.page)).toBe(REPORT.replace('100', '85'))
  expect(await again.page.locator('.news').textContent()).toContain('draft')
  await button(again.page, 'Undo').click()
  await expect.poll(() => textOf(again.page), SOON).toBe(REPORT.replace('100', '90'))
  // A server that is gone: the page, which has loaded all of itself, keeps the text, and says so.
  await again.page.waitForTimeout(3000)
  await next.kill('SIGKILL')
  await setGoal(again.page, '75')
  await button(again.page, 'Save').click()
  await expect.poll(() => again.page.locator('.trouble').textContent(), SOON).toContain('does not answer')
  expect(await textOf(again.page)).toBe(REPORT.replace('100', '75'))
  expect(readFileSync(path, 'utf8')).toBe(REPORT)
})

test.runIf(FULL)(
  'a draft of an older version of the file is shown beside the newer one, and not written over it',
  async () => {
    const { cwd, path } = market()
    const server = await start(cwd, ['stalls.acuarela.yaml'])
    const { page } = await opened(server.address)
    await setGoal(page, '85')
    await page.waitForTimeout(1200)
    await server.kill('SIGKILL')
    await page.context().close()
    const theirs = REPORT.replace('title: Stalls', 'title: Theirs')
    writeFileSync(path, theirs)
    for (let i = 0; i < 2; i++) {
      // Also when nobody settles it the first time.
      const next = await start(cwd, ['stalls.acuarela.yaml'])
      const again = await opened(next.address)
      expect(await textOf(again.page)).toBe(REPORT.replace('100', '85'))
      const conflict = region(again.page, 'Conflict')
      await expect.poll(() => conflict.getByRole('region', { name: 'On disk' }).textContent(), SOON).toContain('Theirs')
      await again.page.waitForTimeout(1200)
      if (i === 1) {
        await button(again.page, 'Save').click()
        await again.page.waitForTimeout(500)
        expect(readFileSync(path, 'utf8')).toBe(theirs)
        await conflict.getByRole('button', { name: 'Save mine over it' }).click()
        await expect.poll(() => readFileSync(path, 'utf8'), SOON).toBe(REPORT.replace('100', '85'))
      }
      await again.page.context().close()
      await next.kill('SIGKILL')
    }
  },
)

test('data alone become a starter that asks where it is saved', async () => {
  const cwd = mkdtempSync(join(folder(), 'data-'))
  writeFileSync(join(cwd, 'stalls.csv'), CSV)
  const server = await start(cwd, ['stalls.csv'])
  const { page } = await opened(server.address)
  await button(page, 'Save').click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox').fill('market.acuarela.yaml')
  await dialog.getByRole('button', { name: 'Save the file' }).click()
  await expect.poll(() => existsSync(join(cwd, 'market.acuarela.yaml')), SOON).toBe(true)
  await expect.poll(() => page.locator('.brand').textContent(), SOON).toBe('market.acuarela.yamlsaved')
})

test.runIf(FULL)('rows of a database stay on the server, which opens others once the report is saved', async () => {
  const cwd = mkdtempSync(join(folder(), 'data-'))
  await writeParquet(
    join(cwd, 'orders.parquet'),
    Array.from({ length: 300 }, (_, i) => ({ stall: `Stall ${i % 7}`, takings: i, sold: '2025-01-03' })),
    { stall: 'text', takings: 'float8', sold: 'date' },
  )
  writeFileSync(
    join(cwd, 'served.acuarela.yaml'),
    REPORT.replace('{ file: stalls.csv }', '{ file: orders.parquet, engine: duckdb, date: sold }').replace(
      '100',
      '6000',
    ),
  )
  const second = await start(cwd, ['served.acuarela.yaml'])
  const served = await opened(second.address)
  const asked: string[] = []
  served.page.on('request', (request) => asked.push(new URL(request.url()).pathname))
  expect(await region(served.page, 'Data').textContent()).toContain('300 rows')
  expect(await served.page.locator('.report .main').textContent()).toContain('Stall 6')
  await setGoal(served.page, '6500')
  await expect.poll(() => served.page.locator('.report .main:not([aria-busy=true])').count(), SOON).toBe(1)
  // Rules alone changed: nothing is asked again.
  expect(asked.filter((path) => path.startsWith('/engine'))).toEqual([])
  // Other rows are opened by the server once the report that names them is saved; packed ones, too.
  writeFileSync(join(cwd, 'packed.csv.gz'), gzipSync('stall,takings,sold\nPacked,9000,2025-01-03\n'))
  await button(served.page, 'Text').click()
  const other = REPORT.replace('{ file: stalls.csv }', '{ file: packed.csv.gz, date: sold }')
  await served.page.getByRole('textbox', { name: 'Text of the file' }).fill(other)
  await expect.poll(() => region(served.page, 'File').textContent(), SOON).toContain('save the report')
  await button(served.page, 'Save').click()
  await expect.poll(() => served.page.locator('.report .main').textContent(), SOON).toContain('Packed')
  expect(await region(served.page, 'File').locator('.problems li').count()).toBe(0)
})

test.runIf(FULL)('a workbook becomes a starter, and the report that is saved reads it', async () => {
  const { cwd } = market()
  const { code } = await acuarela(['paint', 'stalls.acuarela.yaml', '--out', 'painted.ods'], cwd)
  expect(code).toBe(0)
  const server = await start(cwd, ['painted.ods'])
  const { page, faults } = await opened(server.address)
  expect(await region(page, 'Data').textContent()).toContain('3 rows')
  expect(await page.locator('.report .main').textContent()).toContain('Elm')
  await button(page, 'Save').click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox').fill('again.acuarela.yaml')
  await dialog.getByRole('button', { name: 'Save the file' }).click()
  await expect.poll(() => existsSync(join(cwd, 'again.acuarela.yaml')), SOON).toBe(true)
  const { out } = await acuarela(['paint', 'again.acuarela.yaml', '--to', 'csv'], cwd)
  expect(out).toContain('Elm')
  expect(faults).toEqual([])
})
