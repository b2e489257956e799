import { openDraft } from 'acuarela/edit'
import type { Locator, Page } from 'playwright-core'
import { expect } from 'vitest'

type Path = readonly (string | number)[]

const isMap = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

/** `atLeast` as a form says it. */
function words(key: string): string {
  const text = key.replace(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`)
  return text.charAt(0).toUpperCase() + text.slice(1)
}

const SOON = { timeout: 20_000, intervals: [20, 30, 50, 100] }

/** Whoever makes a report by pointing: by the mouse, or by keys alone. */
export interface Hand {
  page: Page
  by: 'mouse' | 'keys'
  /** The present text. */
  text(): Promise<string>
}

/** How somebody gets at a field: `tab` walks there from field to field. */
type By = Pick<Hand, 'by' | 'page'> & { walks?: boolean }

/** The most fields between two that are used one after the other. */
const MOST_TABS = 600

/** Gets the focus to an element that keys can reach. */
export async function reach({ page, walks = false }: By, element: Locator): Promise<void> {
  const isThere = (): Promise<boolean> => element.evaluate((own) => own === document.activeElement)
  if (!walks) {
    // What Tab passes by cannot be used by keys, even if it can be focused.
    await expect.poll(() => element.evaluate((own) => (own as HTMLElement).tabIndex), SOON).toBeGreaterThanOrEqual(0)
    await element.focus()
    return
  }
  await element.waitFor()
  for (let i = 0; i < MOST_TABS && !(await isThere()); i++) await page.keyboard.press('Tab')
  expect(await isThere()).toBe(true)
}

/** Presses a button: by a click, or by the focus and a key. */
export async function press(hand: By, button: Locator): Promise<void> {
  if (hand.by === 'mouse') return button.click()
  await reach(hand, button)
  await hand.page.keyboard.press('Enter')
}

/** Puts a text into a field. */
export async function put(hand: By, field: Locator, text: string): Promise<void> {
  if (hand.by === 'mouse') return field.fill(text)
  await reach(hand, field)
  await hand.page.keyboard.press('ControlOrMeta+A')
  await hand.page.keyboard.type(text)
}

/** Enters a text into a field, which takes it over by Enter. */
export async function type(hand: By, field: Locator, text: string): Promise<void> {
  await put(hand, field, text)
  await field.press('Enter')
}

/** Chooses an option of a list: by keys it is opened, gone through, and closed by Enter. */
export async function choose(hand: By, list: Locator, value: string): Promise<void> {
  if (hand.by === 'mouse') {
    await list.selectOption(value)
    return
  }
  await reach(hand, list)
  const [from, to] = await list.evaluate((element, wanted) => {
    const { selectedIndex, options } = element as HTMLSelectElement
    return [selectedIndex, [...options].findIndex((one) => one.value === wanted)]
  }, value)
  expect(to).toBeGreaterThanOrEqual(0)
  if (to === from) return
  await hand.page.keyboard.press('Space')
  for (let i = 0; i < Math.abs(to - from); i++) await hand.page.keyboard.press(to > from ? 'ArrowDown' : 'ArrowUp')
  await hand.page.keyboard.press('Enter')
}

/** Picks an entry of a menu: by keys it is opened, gone through, and entered. */
export async function pick(hand: By, menu: Locator, value: string): Promise<void> {
  const { page } = hand
  await press(hand, menu)
  const entry = page.getByRole('menu').locator(`[data-value=${JSON.stringify(value)}]`)
  if (hand.by === 'mouse') return entry.click()
  // The menu opens with the focus on its first entry, a moment after it is shown.
  await page.locator('[role=menuitem]:focus').waitFor()
  const isThere = (): Promise<boolean> => entry.evaluate((own) => own === document.activeElement)
  for (let i = 0; i < MOST_TABS && !(await isThere()); i++) await page.keyboard.press('ArrowDown')
  expect(await isThere()).toBe(true)
  await page.keyboard.press('Enter')
}

/** What stands at a path of the present text. */
async function valueAt(hand: Hand, path: Path): Promise<unknown> {
  let value: unknown = openDraft(await hand.text()).spec
  for (const key of path) value = (value as Record<string | number, unknown> | undefined)?.[key]
  return value
}

async function becomes(hand: Hand, path: Path, wanted: (value: unknown) => boolean, what: string): Promise<void> {
  await expect.poll(async () => (wanted(await valueAt(hand, path)) ? what : await valueAt(hand, path)), SOON).toBe(what)
}

/** The field of a path in its form. */
function fieldOf({ page }: Hand, path: Path): Locator {
  return page.locator(`[data-path='${JSON.stringify(path).replaceAll("'", "\\'")}']`)
}

function formOf(value: unknown): string {
  return Array.isArray(value) ? 'a list' : isMap(value) ? 'in detail' : 'a value'
}

/** Makes the part of a path what is wanted, by its form. The field of the path is shown already. */
export async function point(hand: Hand, path: Path, wanted: unknown, label: string): Promise<void> {
  const now = await valueAt(hand, path)
  if (isSame(now, wanted)) return
  const field = fieldOf(hand, path)
  const form = formOf(wanted)
  const isIn = formOf(now)
  const forms = field.getByRole('combobox', { name: `${label}: form`, exact: true }).first()
  if (form !== isIn && (await forms.count()) > 0) {
    const options = await forms.locator('option').allTextContents()
    if (options.includes(form)) {
      await choose(hand, forms, form)
      if (now !== undefined)
        await becomes(hand, path, (value) => formOf(value) === form, `${path.join('.')} is ${form}`)
    }
  }
  if (Array.isArray(wanted)) return pointList(hand, path, wanted, label)
  if (isMap(wanted)) return pointMap(hand, path, wanted, label)
  const own = field.first()
  const list = own.locator('select:not(.quiet)').first()
  if (typeof wanted === 'boolean' && (await own.locator('input[type=checkbox]').count()) > 0) {
    if (hand.by === 'mouse') await own.getByRole('checkbox').setChecked(wanted)
    else {
      await reach(hand, own.getByRole('checkbox'))
      await hand.page.keyboard.press('Space')
    }
  } else if (
    (await list.count()) > 0 &&
    (await list.locator(`option[value="${String(wanted)}"], option`).allTextContents()).includes(String(wanted))
  )
    await choose(hand, list, String(wanted))
  else {
    const options = (await forms.count()) > 0 ? await forms.locator('option').allTextContents() : []
    if (options.includes(String(wanted))) await choose(hand, forms, String(wanted))
    else await type(hand, own.locator('input.field').first(), String(wanted))
  }
  await becomes(hand, path, (value) => isSame(value, wanted), `${path.join('.')} ${String(wanted)}`)
}

async function pointMap(hand: Hand, path: Path, wanted: Record<string, unknown>, label: string): Promise<void> {
  const field = fieldOf(hand, path)
  const isFree = (await field.getByLabel(`New name in ${label}`, { exact: true }).count()) > 0
  for (const [key, value] of Object.entries(wanted)) {
    const at = [...path, key]
    if (isSame(await valueAt(hand, at), value)) continue
    if ((await fieldOf(hand, at).count()) === 0) {
      if (isFree) {
        await type(hand, field.getByLabel(`New name in ${label}`, { exact: true }), key)
      } else await pick(hand, field.getByRole('button', { name: `Add a key to ${label}`, exact: true }), key)
      await fieldOf(hand, at).waitFor()
    }
    await point(hand, at, value, isFree ? key : words(key))
  }
  const now = await valueAt(hand, path)
  for (const key of Object.keys(isMap(now) ? now : {})) {
    if (wanted[key] !== undefined) continue
    await press(
      hand,
      fieldOf(hand, [...path, key])
        .getByLabel(`Remove ${isFree ? key : words(key)}`, { exact: true })
        .first(),
    )
    await becomes(hand, [...path, key], (value) => value === undefined, `${key} removed`)
  }
}

async function pointList(hand: Hand, path: Path, wanted: readonly unknown[], label: string): Promise<void> {
  const field = fieldOf(hand, path)
  const length = async (): Promise<number> => {
    const now = await valueAt(hand, path)
    return Array.isArray(now) ? now.length : 0
  }
  while ((await length()) > wanted.length) {
    const count = await length()
    await press(hand, field.getByLabel(`Remove ${label} ${count}`, { exact: true }))
    await becomes(hand, path, (value) => Array.isArray(value) && value.length === count - 1, `${label} removed`)
  }
  for (const [i, value] of wanted.entries()) {
    const name = `${label} ${i + 1}`
    if ((await length()) <= i) {
      await press(hand, field.getByRole('button', { name: `Add to ${label}`, exact: true }))
      // A plain item is typed before it is part of the list.
      const typed = field.getByLabel(name, { exact: true })
      if (!isMap(value) || !(await appears(hand, path, i))) {
        const isMenu = (await typed.first().evaluate((element) => element.tagName)) === 'BUTTON'
        const text = isMap(value) ? String(Object.values(value)[0]) : String(value)
        if (isMenu) await pick(hand, typed.first(), text)
        else await type(hand, typed.first(), text)
      }
      await becomes(hand, path, (all) => Array.isArray(all) && all.length > i, `${name} added`)
    }
    await point(hand, [...path, i], value, name)
  }
}

/** Whether an item was added whole; a plain one asks for its text first. */
async function appears(hand: Hand, path: Path, index: number): Promise<boolean> {
  const item = fieldOf(hand, [...path, index])
  const typed = fieldOf(hand, path).getByLabel(/ \d+$/).last()
  for (let i = 0; i < 100; i++) {
    if ((await item.count()) > 0) return true
    if (await typed.evaluate((element) => element === document.activeElement).catch(() => false)) return false
    await hand.page.waitForTimeout(20)
  }
  return false
}

const NAMED: Readonly<Record<string, [one: string, asks: string]>> = {
  parameters: ['parameter', 'Value'],
  measures: ['measure', 'Formula'],
  statuses: ['status', 'Pigment'],
  pigments: ['pigment', 'Colour'],
}
/** Parts before those that name them. */
const ORDER = ['sources', 'fields', 'parameters', 'measures', 'pigments', 'statuses', 'exhibits', 'rules']

/** Makes the present report what is wanted, by pointing alone. */
export async function pointReport(hand: Hand, wanted: Record<string, unknown>): Promise<void> {
  const { page } = hand
  for (const summary of await page.locator('.data details.section > summary').all())
    if (!(await summary.evaluate((element) => (element.parentElement as HTMLDetailsElement).open)))
      await press(hand, summary)
  const keys = [...ORDER.filter((key) => key in wanted), ...Object.keys(wanted).filter((key) => !ORDER.includes(key))]
  for (const key of keys) {
    const value = wanted[key]
    if (isSame(await valueAt(hand, [key]), value)) continue
    if (key in NAMED) await pointNamed(hand, key, value as Record<string, unknown>)
    else if (key === 'exhibits') await pointExhibits(hand, value as readonly Record<string, unknown>[])
    else if (key === 'rules') await pointRules(hand, value as readonly Record<string, unknown>[])
    else {
      if ((await fieldOf(hand, [key]).count()) === 0) {
        await pick(hand, page.getByRole('button', { name: 'Add a key to the report', exact: true }), key)
        await fieldOf(hand, [key]).waitFor()
      }
      await point(hand, [key], value, words(key))
    }
  }
}

async function pointNamed(hand: Hand, key: string, wanted: Record<string, unknown>): Promise<void> {
  const { page } = hand
  const [one, asks] = NAMED[key]
  const now = await valueAt(hand, [key])
  for (const [name, value] of Object.entries(wanted)) {
    const own = isMap(now) ? now[name] : undefined
    if (isSame(own, value)) continue
    if (own === undefined) {
      const main = isMap(value) ? (value.formula ?? value.value ?? value.wash ?? '') : value
      await put(hand, page.getByLabel(`Name of a new ${one}`, { exact: true }), name)
      await put(hand, page.getByLabel(`${asks} of a new ${one}`, { exact: true }), String(main))
      await press(hand, page.getByRole('button', { name: `Add ${one}`, exact: true }))
      await becomes(hand, [key, name], (made) => made !== undefined, `${one} ${name}`)
    } else await press(hand, fieldOfName(hand, key, name))
    await fieldOf(hand, [key, name]).waitFor()
    await point(hand, [key, name], value, words(one))
    // Closed again: one entry is open at a time.
    await press(hand, page.locator('.data button.name[aria-expanded=true]').first())
  }
}

function fieldOfName({ page }: Hand, key: string, name: string): Locator {
  return page.locator(`.data button.name[data-part='${key}.${name}']`)
}

async function pointExhibits(hand: Hand, wanted: readonly Record<string, unknown>[]): Promise<void> {
  const { page } = hand
  const length = async (): Promise<number> => ((await valueAt(hand, ['exhibits'])) as unknown[]).length
  const entry = (i: number): Locator => page.locator(`.data button.name[data-part='exhibits.${i}']`)
  for (const [i, exhibit] of wanted.entries()) {
    if (isSame(await valueAt(hand, ['exhibits', i]), exhibit)) continue
    if ((await length()) <= i) {
      const kind = KINDS.find((key) => key in exhibit) ?? 'table'
      await press(hand, page.getByRole('button', { name: 'Add exhibit', exact: true }))
      await press(
        hand,
        page.getByRole('group', { name: 'Add exhibit: kind' }).getByRole('button', { name: kind, exact: true }),
      )
      await becomes(hand, ['exhibits'], (all) => (all as unknown[]).length > i, `exhibit ${i}`)
    } else await press(hand, entry(i))
    await fieldOf(hand, ['exhibits', i]).waitFor()
    await point(hand, ['exhibits', i], exhibit, 'Exhibit')
    await press(hand, page.locator('.data button.name[aria-expanded=true]').first())
  }
  while ((await length()) > wanted.length) {
    const last = (await length()) - 1
    await press(hand, entry(last))
    await press(hand, page.getByRole('button', { name: 'Remove exhibit', exact: true }))
    await becomes(hand, ['exhibits'], (all) => (all as unknown[]).length === last, 'exhibit removed')
  }
}

const KINDS = ['table', 'heatmap', 'chart', 'cards', 'list', 'records', 'moves', 'reading']
const RULES: Readonly<Record<string, string>> = {
  bands: 'limits',
  gradient: 'gradient',
  bar: 'bar',
  rank: 'rank',
  fromColumn: 'by a column',
}

async function pointRules(hand: Hand, wanted: readonly Record<string, unknown>[]): Promise<void> {
  const { page } = hand
  const rules = page.getByRole('region', { name: 'Rules', exact: true })
  // New rules come first, so the last one is made first.
  for (const rule of [...wanted].reverse()) {
    const kind = Object.keys(RULES).find((key) => key in rule) ?? 'bands'
    const before = ((await valueAt(hand, ['rules'])) as unknown[] | undefined)?.length ?? 0
    await press(hand, rules.getByRole('button', { name: 'Add rule', exact: true }))
    const [first] = [rule.paint].flat()
    const measure = rules.getByRole('combobox', { name: 'Measure of a new rule', exact: true })
    if ((await measure.locator('option').allTextContents()).includes(String(first)))
      await choose(hand, measure, String(first))
    await press(hand, rules.getByRole('button', { name: RULES[kind], exact: true }))
    await becomes(hand, ['rules'], (all) => (all as unknown[])?.length > before, 'a rule')
    await fieldOf(hand, ['rules', 0]).waitFor()
    const { paused, ...rest } = rule
    await point(hand, ['rules', 0], rest, 'Rule')
    if (paused === true) {
      await press(hand, rules.getByRole('button', { name: 'Switch off', exact: true }))
      await becomes(hand, ['rules', 0, 'paused'], (value) => value === true, 'paused')
    }
  }
}
