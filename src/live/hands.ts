import type { DecidedReport } from '../assemble/answer.js'
import { whyCell } from '../assemble/inspect.js'
import { toJson } from '../view/data/json.js'
import { escapeText } from '../view/markup.js'
import { type CellMap, keysOfCell, type ShownCell } from './cells.js'
import type { Session } from './session.js'
import type { Action, LiveState } from './state.js'
import { scaled, scaleOf } from './tools.js'
import type { View } from './view.js'

/** What a reader's moves come to. */
export interface Hands {
  act(action: Action): void
  decided(): DecidedReport
  cells(): CellMap
  session: Session
  page: Document
}

/** Everything that the reader does; gives what takes the listeners away again. */
export function listen(view: View, hands: Hands): () => void {
  const { main, tools, exhibits } = view
  const { act, session, page } = hands
  const stops: (() => void)[] = []
  const on = (target: EventTarget, name: string, heard: (event: Event) => void): void => {
    target.addEventListener(name, heard)
    stops.push(() => target.removeEventListener(name, heard))
  }
  on(tools, 'input', ({ target }) => {
    if (!(target instanceof HTMLInputElement)) return
    const { set } = target.dataset
    if (set !== undefined) {
      const parameter = session.first.report.parameters.get(set)
      if (parameter === undefined || target.value === '') return
      act({ do: 'set', parameter: set, value: scaled(Number(target.value), 1 / scaleOf(parameter)) })
    } else if (target.type === 'search') searchIn(target)
  })
  on(tools, 'change', ({ target }) => {
    if (target instanceof HTMLSelectElement) {
      if (target.dataset.do === 'period') act({ do: 'period', period: target.value === '' ? null : target.value })
      if (target.dataset.do === 'theme') act({ do: 'theme', theme: target.value as LiveState['theme'] })
    }
    if (!(target instanceof HTMLInputElement) || target.type !== 'checkbox') return
    if (target.dataset.do === 'plain') act({ do: 'plain', plain: target.checked })
    const rule = target.closest<HTMLElement>('[data-rule]')?.dataset.rule
    if (rule !== undefined) act({ do: 'pause', rule, paused: !target.checked })
    const pick = target.closest<HTMLElement>('[data-key]')
    if (pick !== null)
      act({
        do: 'filter',
        key: pick.dataset.key ?? '',
        values: [...pick.querySelectorAll<HTMLInputElement>('input:checked')].map(({ value }) => value),
      })
  })
  on(main, 'click', ({ target }) => {
    if (!(target instanceof Element)) return
    const button = target.closest<HTMLButtonElement>('button')
    if (button?.dataset.do === 'reset') act({ do: 'reset' })
    if (button?.dataset.do === 'all')
      act({ do: 'filter', key: button.closest<HTMLElement>('[data-key]')?.dataset.key ?? '', values: [] })
    if (button?.dataset.do === 'copy') void copyTable(button, view)
    if (button?.dataset.do === 'data') download(toJson(hands.decided().page), page)
    const { sort, exhibit } = button?.dataset ?? {}
    if (sort !== undefined && exhibit !== undefined) {
      const order = button?.closest('th')?.getAttribute('aria-sort')
      act({ do: 'sort', exhibit, by: order === 'descending' ? sort : order === 'ascending' ? null : `-${sort}` })
    }
  })
  const explain = (element: Element | null): void => {
    const own = element === null ? undefined : hands.cells().of(element)
    if (own === undefined || element === null) view.why.hidden = true
    else showWhy(view, hands.decided(), own, element)
  }
  on(exhibits, 'pointerover', (event) => explain(event.target instanceof Element ? event.target : null))
  on(exhibits, 'pointerleave', () => explain(null))
  on(exhibits, 'focusin', (event) => explain(event.target instanceof Element ? event.target : null))
  on(exhibits, 'keydown', (event) => walk(event as KeyboardEvent, hands.cells(), explain))
  on(tools, 'pointerover', ({ target }) => {
    const rule = target instanceof Element ? target.closest<HTMLElement>('[data-rule]')?.dataset.rule : undefined
    mark(hands.cells(), 'covered', (own) => rule !== undefined && covers(hands.decided(), rule, own))
    mark(
      hands.cells(),
      'reached',
      ({ cell }) => rule !== undefined && Object.values(cell.look.paintedBy).includes(rule),
    )
  })
  // A list that is open closes when the reader goes elsewhere.
  on(page, 'pointerdown', (event) => {
    for (const open of tools.querySelectorAll<HTMLDetailsElement>('details[open]'))
      if (!event.composedPath().includes(open)) open.open = false
  })
  on(tools, 'keydown', (event) => {
    if ((event as KeyboardEvent).key !== 'Escape' || !(event.target instanceof Element)) return
    const open = event.target.closest<HTMLDetailsElement>('details[open]')
    if (open === null) return
    open.open = false
    open.querySelector('summary')?.focus()
  })
  return () => {
    for (const stop of stops) stop()
  }
}

/** Whether a rule is applied to a cell at all. */
function covers(decided: DecidedReport, rule: string, { exhibit, cell }: ShownCell): boolean {
  const answered = decided.exhibits.find((own) => own.exhibit.name === exhibit)
  return (
    answered?.levels
      .done()
      .some(({ result }) => result.results.some((own) => own.rule.name === rule && own.measure === cell.measure)) ===
    true
  )
}

function searchIn(input: HTMLInputElement): void {
  const wanted = input.value.trim().toLocaleLowerCase()
  for (const label of input.parentElement?.querySelectorAll('label') ?? [])
    (label as HTMLElement).hidden = !(label.textContent ?? '').toLocaleLowerCase().includes(wanted)
}

/** Value, status and reasons of a cell, beside it. */
function showWhy({ why }: View, decided: DecidedReport, { exhibit, cell }: ShownCell, element: Element): void {
  const own = element.closest('td, article') ?? element
  const answer = whyCell(decided, exhibit, cell.measure, keysOfCell(cell))
  const sentences =
    'why' in answer ? answer.why.sentences.slice(1).filter((text) => !text.includes(': not applied')) : []
  const status = cell.statusText === '' ? '' : ` · ${escapeText(cell.statusText)}`
  why.innerHTML = `<p class="cap">${escapeText(cell.name)}</p><p>${escapeText(cell.measureLabel)} ${
    cell.text === '' ? 'missing' : escapeText(cell.text)
  }${status}</p>${sentences.length === 0 ? '<p>No rule reaches it.</p>' : `<ul>${sentences.map((text) => `<li>${escapeText(text)}</li>`).join('')}</ul>`}`
  why.hidden = false
  const place = own.getBoundingClientRect()
  const base = (why.offsetParent ?? why.ownerDocument.documentElement).getBoundingClientRect()
  const space = why.ownerDocument.documentElement.clientWidth
  const left = Math.max(8, Math.min(place.left, space - why.offsetWidth - 12))
  const below = place.bottom + why.offsetHeight + 12 < (why.ownerDocument.defaultView?.innerHeight ?? 0)
  why.style.left = `${left - base.left}px`
  why.style.top = `${(below ? place.bottom + 6 : place.top - why.offsetHeight - 6) - base.top}px`
}

const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

/** Arrows go from cell to cell of a table, Escape hides what was said and leaves it. */
function walk(event: KeyboardEvent, cells: CellMap, explain: (element: Element | null) => void): void {
  const { target, key } = event
  if (!(target instanceof HTMLElement)) return
  const region = target.closest<HTMLElement>('[role=region]')
  if (region === null) return
  if (key === 'Escape') {
    explain(null)
    region.focus()
    return
  }
  const step = STEPS[key]
  if (step === undefined) return
  const rows = [...(region.querySelector('tbody')?.rows ?? [])].map((row) =>
    [...row.cells].filter((own) => cells.of(own) !== undefined),
  )
  const full = rows.filter((row) => row.length > 0)
  const r = full.findIndex((row) => row.includes(target as HTMLTableCellElement))
  let next = full[0]?.[0]
  if (r >= 0) {
    const c = full[r].indexOf(target as HTMLTableCellElement)
    const row = full[Math.min(full.length - 1, Math.max(0, r + step[0]))]
    next = row[Math.min(row.length - 1, Math.max(0, c + step[1]))]
    target.removeAttribute('tabindex')
  }
  if (next === undefined) return
  event.preventDefault()
  next.tabIndex = -1
  next.focus()
}

function download(text: string, page: Document): void {
  const link = page.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
  link.download = 'report.json'
  link.click()
  URL.revokeObjectURL(link.href)
}
/** A table as text, values between tabs: what other programs take. */
async function copyTable(button: HTMLElement, view: View): Promise<void> {
  const table = button.closest('section')?.querySelector('table')
  const rows = [...(table?.rows ?? [])].map((row) =>
    [...row.cells]
      .flatMap((cell) => [
        (cell.textContent ?? '').replace(/\s+/g, ' ').trim(),
        ...Array.from({ length: cell.colSpan - 1 }, () => ''),
      ])
      .join('\t'),
  )
  try {
    await view.main.ownerDocument.defaultView?.navigator.clipboard.writeText(`${rows.join('\n')}\n`)
    view.say(`Copied ${rows.length} lines.`)
  } catch {
    view.say('The browser does not let this page copy; select the table instead.')
  }
}

/** Gives a class to the elements of some cells, and takes it from all others. */
export function mark(cells: CellMap, name: string, holds: (own: ShownCell) => boolean): void {
  for (const [element, own] of cells.all()) element.classList.toggle(name, holds(own))
}
