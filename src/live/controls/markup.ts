import { numberPrinter } from '../../format/format.js'
import type { NamedParameter } from '../../rule/bind/parameters.js'
import { escapeText } from '../../view/markup.js'
import type { ReportControls } from '../session/model.js'
import type { LiveState } from '../state/state.js'

/**
 * The controls as markup: a chip for each parameter and filter, which opens to its inputs, and one
 * menu for view, rules and data. They are created once; `showState` sets their values.
 */
export function controlsMarkup({ parameters, filters, periods, months, rules }: ReportControls, id: string): string {
  const chips = [
    ...parameters.map((parameter) => parameterChip(parameter, id)),
    ...filters.map(filterChip),
    ...(periods.length === 0 ? [] : [periodChip(periods, months)]),
  ]
  // Explanations depend on limits, so they arrive with each update.
  const list = rules.map(
    ({ rule, title }) =>
      `<li data-rule="${escapeText(rule)}"><label><input type="checkbox" checked><b>${escapeText(title)}</b></label><p></p></li>`,
  )
  const rulesMarkup =
    list.length === 0 ? '' : `<fieldset class="rules"><legend>Rules</legend><ol>${list.join('')}</ol></fieldset>`
  const menu = `<details class="menu"><summary aria-label="View, rules and data">⋯</summary><div class="drop"><fieldset><legend>View</legend><label>Theme <select data-do="theme"><option value="auto">Automatic</option><option value="light">Light</option><option value="dark">Dark</option></select></label><label><input type="checkbox" data-do="plain">Show without colours</label></fieldset>${rulesMarkup}<fieldset><legend>Data</legend><div class="row"><button type="button" data-do="workbook">Download workbook</button><button type="button" data-do="data">Download data</button><button type="button" data-do="reset">Reset</button></div></fieldset></div></details>`
  return `<div class="tools" role="group" aria-label="Controls"><div class="line"><div class="chips">${chips.join('')}</div>${menu}</div><p class="counts" role="status"></p></div>`
}

/** A chip: what it is set to, its inputs, and an × that is shown while it is changed. */
function chip(attribute: string, label: string, inside: string): string {
  const name = escapeText(label)
  return `<span class="chip" ${attribute}><details><summary>${name} <b class="now"></b></summary><div class="drop">${inside}</div></details><button type="button" class="undo" data-do="undo" aria-label="Reset ${name}" hidden>×</button></span>`
}

function filterChip({ name, label, values }: ReportControls['filters'][number]): string {
  const search =
    values.length > 8 ? `<input type="search" aria-label="Search ${escapeText(label)}" placeholder="Search">` : ''
  const boxes = values.map(
    (value) => `<label><input type="checkbox" value="${escapeText(value)}">${escapeText(value)}</label>`,
  )
  return chip(
    `data-key="${escapeText(name)}"`,
    label,
    `${search}${boxes.join('')}<div class="row"><button type="button" data-do="all">All</button></div>`,
  )
}

function periodChip(periods: readonly string[], months: ReportControls['months']): string {
  const options = periods.map((text) => `<option>${escapeText(text)}</option>`)
  return chip(
    'data-period',
    'Period',
    `<label>Period <select data-do="period"><option value="">${DEFAULT_PERIOD}</option>${options.join('')}<option value="${CUSTOM_RANGE}">from … to …</option></select></label>${rangeMarkup(months)}`,
  )
}

const DEFAULT_PERIOD = 'Report default'

/** The option of a range of months, which shows two month boxes. */
export const CUSTOM_RANGE = 'range'

function rangeMarkup([first, last]: ReportControls['months']): string {
  const box = (label: string, value: string): string =>
    `<input type="month" data-range aria-label="${label} month" min="${first}" max="${last}" value="${value}" pattern="\\d{4}-\\d{2}" placeholder="2025-06">`
  return `<span class="row range" hidden>${box('First', first)} to ${box('Last', last)}</span>`
}

/** Shows the month boxes of a range. */
export function showRange(root: ParentNode): void {
  const range = root.querySelector<HTMLElement>('.range')
  if (range === null) return
  range.hidden = false
  range.querySelector('input')?.focus()
}

/** The period in the month boxes; undefined if they are not filled. */
export function rangeOf(root: ParentNode): string | undefined {
  const [from, to] = [...root.querySelectorAll<HTMLInputElement>('[data-range]')].map(({ value }) => value)
  return /^\d{4}-\d{2}$/.test(from) && /^\d{4}-\d{2}$/.test(to) && from <= to ? `${from} to ${to}` : undefined
}

function parameterChip(parameter: NamedParameter, id: string): string {
  const { name, from, to, step } = parameter
  const fieldId = escapeText(`${id}-${name}`)
  const words = parameterLabel(parameter)
  const scale = controlFactor(parameter)
  const end = (key: string, value: number | undefined): string =>
    value === undefined ? '' : ` ${key}="${scaled(value, scale)}"`
  const common = `${end('min', from)}${end('max', to)} step="${step === undefined ? 'any' : scaled(step, scale)}" data-set="${escapeText(name)}"`
  const range = from === undefined || to === undefined ? '' : `<input type="range" id="${fieldId}"${common}>`
  const named = range === '' ? ` id="${fieldId}"` : ` aria-label="${escapeText(`${words}, as a number`)}"`
  return chip(
    `data-parameter="${escapeText(name)}"`,
    words,
    `<label for="${fieldId}">${escapeText(words)}</label><div class="row">${range}<input type="number"${named}${common}></div>`,
  )
}

/** The label of a parameter as the beginning of a sentence. */
export function parameterLabel({ label }: Pick<NamedParameter, 'label'>): string {
  return label.charAt(0).toUpperCase() + label.slice(1)
}

/** Percents are shown and entered as percents. */
export function controlFactor({ format }: NamedParameter): number {
  return format.kind === 'percent' ? 100 : 1
}

/** Rounds to 12 digits, so that 0.07 is 7 in percent. */
export function scaled(value: number, scale: number): number {
  return Number((value * scale).toPrecision(12))
}

/** Sets the values of all controls. */
export function showState(root: ParentNode, state: LiveState, { locale, parameters }: ReportControls): void {
  const byName = new Map(parameters.map((parameter) => [parameter.name, parameter]))
  for (const input of root.querySelectorAll<HTMLInputElement>('input[data-set]')) {
    const name = input.dataset.set ?? ''
    const parameter = byName.get(name)
    if (parameter === undefined) continue
    const value = scaled(state.parameters[name] ?? parameter.value, controlFactor(parameter))
    if (Number(input.value) !== value || input.value === '') input.value = String(value)
  }
  for (const element of root.querySelectorAll<HTMLElement>('[data-parameter]')) {
    const parameter = byName.get(element.dataset.parameter ?? '')
    if (parameter === undefined) continue
    const value = state.parameters[parameter.name]
    showChip(element, numberPrinter(parameter.format, locale)(value ?? parameter.value), value !== undefined)
  }
  for (const pick of root.querySelectorAll<HTMLElement>('[data-key]')) {
    const chosen = state.filters[pick.dataset.key ?? ''] ?? []
    for (const box of pick.querySelectorAll<HTMLInputElement>('input[type=checkbox]'))
      box.checked = chosen.includes(box.value)
    const text = chosen.length === 0 ? 'all' : chosen.length > 2 ? `${chosen.length} chosen` : chosen.join(', ')
    showChip(pick, text, chosen.length > 0)
  }
  for (const item of root.querySelectorAll<HTMLElement>('[data-rule]')) {
    const box = item.querySelector('input')
    if (box !== null) box.checked = !state.paused.includes(item.dataset.rule ?? '')
  }
  const set = (what: string, value: string): void => {
    const select = root.querySelector<HTMLSelectElement>(`select[data-do=${what}]`)
    if (select !== null) select.value = value
  }
  showPeriod(root, state.period)
  set('theme', state.theme)
  const plain = root.querySelector<HTMLInputElement>('input[data-do=plain]')
  if (plain !== null) plain.checked = state.plain
}

/** Shows what a chip is set to, and whether that is changed. */
function showChip(element: HTMLElement, text: string, changed: boolean): void {
  const now = element.querySelector('.now')
  if (now !== null && now.textContent !== text) now.textContent = text
  element.classList.toggle('on', changed)
  const undo = element.querySelector<HTMLElement>('.undo')
  if (undo === null || undo.hidden === !changed) return
  // The focus of a button that is taken away stays with its chip.
  if (!changed && (undo.getRootNode() as Document | ShadowRoot).activeElement === undo)
    element.querySelector('summary')?.focus()
  undo.hidden = !changed
}

/**
 * A period that is not listed, such as one from a link, is added; a range of months fills the month
 * boxes.
 */
function showPeriod(root: ParentNode, period: string | null): void {
  const select = root.querySelector<HTMLSelectElement>('select[data-do=period]')
  if (select === null) return
  const range = /^(\d{4}-\d{2}) to (\d{4}-\d{2})$/.exec(period ?? '')
  const boxes = root.querySelectorAll<HTMLInputElement>('[data-range]')
  for (const [i, box] of boxes.entries()) if (range !== null) box.value = range[i + 1]
  const holder = root.querySelector<HTMLElement>('.range')
  if (holder !== null) holder.hidden = range === null
  if (range === null && period !== null && ![...select.options].some(({ value }) => value === period))
    select.add(new Option(period, period), 1)
  select.value = range === null ? (period ?? '') : CUSTOM_RANGE
  const chipElement = root.querySelector<HTMLElement>('[data-period]')
  if (chipElement !== null) showChip(chipElement, period ?? DEFAULT_PERIOD.toLowerCase(), period !== null)
}
