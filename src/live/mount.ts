import type { DecidedReport } from '../assemble/answer.js'
import { compareReports } from '../assemble/compare.js'
import { tellRules, whyCell } from '../assemble/inspect.js'
import { ProblemError } from '../problem/problem.js'
import { toJson } from '../view/data/json.js'
import type { Writing } from '../view/html/cell.js'
import { createWriting, type HtmlParts, htmlParts } from '../view/html/page.js'
import { escapeText } from '../view/markup.js'
import { type CellMap, keysOfCell, mapCells, type ShownCell } from './cells.js'
import { patchChildren } from './patch.js'
import { createSession, type LiveReport, type Session } from './session.js'
import { type Action, FIRST_STATE, fromAddress, type LiveState, nextState, toAddress } from './state.js'
import { hosted, LIVE_STYLE } from './style.js'
import { scaled, scaleOf, showState, toolsMarkup } from './tools.js'

export interface MountOptions {
  /** Parameters that start with another value than the report's. */
  parameters?: Readonly<Record<string, number>>
  /** Filters that start narrowed, by key. */
  filters?: Readonly<Record<string, readonly string[]>>
  /** Called with the state after every change, the first one included. */
  onChange?: (state: LiveState) => void
  /** Keeps the state in the address behind `#`, so that it can be sent as a link; for pages that are the report alone. Default: false. */
  address?: boolean
}

/** A mounted report. */
export interface Mounted {
  /** Moves a parameter: a plain number, 0.15 for 15 %. */
  set(parameter: string, value: number): Promise<void>
  /** Narrows by the values of a key, or with none takes the filter away. */
  filter(key: string, values: readonly string[]): Promise<void>
  /** Any other thing that a reader can do. */
  act(action: Action): Promise<void>
  /** What the reader has changed. */
  state(): LiveState
  /** The report as it is shown, with what decided it. */
  decided(): DecidedReport
  /** Takes everything away again. */
  destroy(): void
}

let mounts = 0

/** Shows a live report inside `root`: a shadow root, or the main part of a page that is nothing but the report. */
export async function mountIn(
  root: ShadowRoot | HTMLElement,
  live: LiveReport,
  options: MountOptions = {},
): Promise<Mounted> {
  const { ownerDocument: page = document } = root
  const id = `live-${++mounts}`
  const session = await createSession(live)
  let state = startState(session, options, page)
  let decided = await session.answer(state)
  const writing = createWriting(decided.page)
  const view = createView(root, page, session, id)
  let cells = await view.show(decided, state, writing)
  let asked = 0
  const act = async (action: Action): Promise<void> => {
    const next = nextState(state, action, session.allowed)
    if (next === state) return
    const before = decided
    state = next
    showState(view.tools, state, session)
    const turn = ++asked
    const found = await session.answer(next).catch((error: unknown) => {
      if (error instanceof ProblemError) return error
      throw error
    })
    // A later move has overtaken this one.
    if (turn !== asked) return
    if (found instanceof ProblemError) {
      view.say(found.problems.map(({ message }) => escapeText(message)).join('<br>'))
      return
    }
    decided = found
    cells = await view.show(decided, state, writing)
    const told =
      action.do === 'set' || action.do === 'pause' ? changesOf(before, decided) : { text: '', moved: new Set<string>() }
    view.say(told.text)
    mark(cells, 'moved', (own) => told.moved.has(placeOf(own)))
    remember()
  }
  const remember = (): void => {
    options.onChange?.(state)
    const own = page.defaultView
    if (options.address !== true || own === null) return
    const text = toAddress(state)
    own.history.replaceState(null, '', text === '' ? own.location.pathname + own.location.search : `#${text}`)
  }
  const stop = listen(view, {
    act: (action) => void act(action),
    decided: () => decided,
    cells: () => cells,
    session,
    page,
  })
  remember()
  return {
    set: (parameter, value) => act({ do: 'set', parameter, value }),
    filter: (key, values) => act({ do: 'filter', key, values }),
    act,
    state: () => state,
    decided: () => decided,
    destroy() {
      stop()
      view.remove()
    },
  }
}

function startState(
  session: Session,
  { parameters = {}, filters = {}, address }: MountOptions,
  page: Document,
): LiveState {
  const { allowed } = session
  let state = address === true ? fromAddress(page.defaultView?.location.hash ?? '', allowed) : FIRST_STATE
  for (const [parameter, value] of Object.entries(parameters))
    state = nextState(state, { do: 'set', parameter, value }, allowed)
  for (const [key, values] of Object.entries(filters)) state = nextState(state, { do: 'filter', key, values }, allowed)
  return state
}

interface View {
  root: ShadowRoot | HTMLElement
  main: HTMLElement
  tools: HTMLElement
  exhibits: HTMLElement
  why: HTMLElement
  show(decided: DecidedReport, state: LiveState, writing: Writing): Promise<CellMap>
  say(markup: string): void
  remove(): void
}

/** The elements of a mounted report; what is shown is patched into them. */
function createView(root: ShadowRoot | HTMLElement, page: Document, session: Session, id: string): View {
  const alone = root instanceof HTMLElement
  const make = (name: string, className: string): HTMLElement => {
    const own = page.createElement(name)
    own.className = className
    return own
  }
  const style = page.createElement('style')
  const symbols = make('div', 'symbols')
  const main = alone ? root : make('div', 'main')
  const head = make('div', 'head')
  const exhibits = make('div', 'exhibits')
  const sources = make('div', 'sources')
  const why = make('div', 'whybox')
  why.hidden = true
  why.setAttribute('role', 'status')
  const box = page.createElement('template')
  const parse = (markup: string): DocumentFragment => {
    box.innerHTML = markup
    return box.content
  }
  const tools = parse(toolsMarkup(session, tellRules(session.first), id)).firstElementChild as HTMLElement
  if (!alone) main.lang = session.first.report.locale
  main.replaceChildren(head, tools, exhibits, sources)
  const holder: Node = alone ? page.head : root
  holder.appendChild(style)
  if (alone) page.body.append(symbols, why)
  else root.append(symbols, main, why)
  return {
    root,
    main,
    tools,
    exhibits,
    why,
    async show(decided, state, writing) {
      const parts: HtmlParts = await htmlParts(decided.page, { document: page, theme: state.theme }, writing)
      const css = `${alone ? parts.css : hosted(parts.css)}${LIVE_STYLE}`
      if (style.textContent !== css) style.textContent = css
      if (symbols.innerHTML !== parts.symbols) symbols.innerHTML = parts.symbols
      patchChildren(head, parse(parts.header))
      const none = decided.exhibits.length > 0 && decided.exhibits.every(({ summary }) => summary.counted === 0)
      const next = parse(
        none ? '<p class="empty">No rows fit these filters. Take one away to see figures again.</p>' : parts.exhibits,
      )
      // Before they are patched in, so that focus stays on a button that was pressed.
      sortable(next, decided, state, page)
      patchChildren(exhibits, next)
      patchChildren(sources, parse(parts.sources))
      showState(tools, state, session)
      why.hidden = true
      return mapCells(exhibits, decided.page)
    },
    say(markup) {
      const counts = tools.querySelector('.counts')
      if (counts !== null) counts.innerHTML = markup
    },
    remove() {
      style.remove()
      symbols.remove()
      why.remove()
      if (alone) root.replaceChildren()
      else main.remove()
    },
  }
}

/** Headings of measures become buttons that sort. */
function sortable(root: ParentNode, decided: DecidedReport, state: LiveState, page: Document): void {
  for (const exhibit of decided.page.exhibits) {
    if (exhibit.kind !== 'table' && exhibit.kind !== 'list') continue
    const bound = decided.exhibits.find((own) => own.exhibit.name === exhibit.name)?.exhibit
    if (bound === undefined || bound.columns.length > 0 || exhibit.columnHeadings.length !== 1) continue
    const name = `x-${encodeURIComponent(exhibit.name.toWellFormed())}`
    const section = [...root.querySelectorAll('section')].find((own) => own.getAttribute('aria-labelledby') === name)
    const cells = section?.querySelector('thead tr')?.children
    if (cells === undefined) continue
    const corners = exhibit.nest === 'columns' ? exhibit.corners.length : 1
    const [first] = exhibit.rows.filter(({ cells: own }) => own.some((cell) => cell !== null))
    first?.cells.forEach((cell, c) => {
      const lines = exhibit.trends.filter(({ at }) => at <= c).length
      const head = cells[corners + c + lines]
      if (cell === null || head === undefined) return
      const by = state.sorts[exhibit.name] ?? ''
      const order = by === cell.measure ? 'ascending' : by === `-${cell.measure}` ? 'descending' : 'none'
      head.setAttribute('aria-sort', order)
      head.classList.add('sortable')
      const button = page.createElement('button')
      button.type = 'button'
      button.dataset.sort = cell.measure
      button.dataset.exhibit = exhibit.name
      button.textContent = head.textContent
      head.replaceChildren(button)
    })
  }
}

function placeOf({ exhibit, cell }: ShownCell): string {
  return JSON.stringify([exhibit, cell.measure, keysOfCell(cell)])
}

/** Counts before and after, and the cells whose status is another. */
function changesOf(before: DecidedReport, after: DecidedReport): { text: string; moved: Set<string> } {
  const { counts, cells, restyled } = compareReports(before, after)
  const moved = new Set(
    cells.map(({ exhibit, measure, keys }) =>
      JSON.stringify([exhibit, measure, Object.fromEntries(Object.entries(keys).map(([k, v]) => [k, v ?? '']))]),
    ),
  )
  const sums = new Map<string, { label: string; before: number; after: number }>()
  for (const { status, label, before: was, after: is } of counts) {
    const own = sums.get(status) ?? { label, before: 0, after: 0 }
    sums.set(status, { label, before: own.before + was, after: own.after + is })
  }
  const told = [...sums.values()]
    .filter((own) => own.before !== own.after)
    .map((own) => `${escapeText(own.label)} ${own.before} → <b>${own.after}</b>`)
  const others = restyled.reduce((sum, { count }) => sum + count, 0)
  const plural = (n: number, text: string): string => `${n} ${n === 1 ? 'cell' : 'cells'} ${text}`
  const parts = [
    ...told,
    plural(cells.length, 'of another status'),
    ...(others > 0 ? [plural(others, 'of another shade')] : []),
  ]
  return { text: parts.join(' · '), moved }
}

function mark(cells: CellMap, name: string, holds: (own: ShownCell) => boolean): void {
  for (const [element, own] of cells.all()) element.classList.toggle(name, holds(own))
}

interface Hands {
  act(action: Action): void
  decided(): DecidedReport
  cells(): CellMap
  session: Session
  page: Document
}

/** Everything that the reader does; gives what takes the listeners away again. */
function listen(view: View, hands: Hands): () => void {
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
function showWhy({ why, root }: View, decided: DecidedReport, { exhibit, cell }: ShownCell, element: Element): void {
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
  void root
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
