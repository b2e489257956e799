import type { Page } from '../../page/page.js'
import { escapeText } from '../../view/markup.js'
import { moveFocus } from '../dom/keyboard.js'
import type { View } from '../dom/view.js'
import { createPopover } from '../explain/popover.js'
import type { TrendValues } from '../explain/trend-values.js'
import { cellId, type Session, type Update } from '../session/model.js'
import type { Action, LiveState } from '../state/state.js'
import { createChangeWalk } from './changes.js'
import { CUSTOM_RANGE, controlFactor, rangeOf, scaled, showRange } from './markup.js'
import type { StripCells } from './strip-cells.js'

/** What the listeners call. */
export interface ReaderActions {
  act(action: Action): void
  /** The report as it is shown. */
  shown(): Update
  /** Settles once a report is shown; the controls are there earlier. */
  ready: Promise<unknown>
  /** Rules that the reader has switched off. */
  paused(): readonly string[]
  session: Session
  page: Document
}

/** Adds a listener that is removed with all the others. */
type Listen = (target: EventTarget, name: string, heard: (event: Event) => void) => void

/** Adds the listeners of a mounted report; returns a function that removes them. */
export function listen(view: View, reader: ReaderActions): () => void {
  const stops: (() => void)[] = []
  const on: Listen = (target, name, heard) => {
    target.addEventListener(name, heard)
    stops.push(() => target.removeEventListener(name, heard))
  }
  listenToTools(on, view, reader)
  listenToRows(on, view)
  listenToTrends(on, view, reader)
  listenToButtons(on, view, reader)
  listenToStrip(on, view, reader)
  stops.push(listenForCells(on, view, reader))
  listenForRules(on, view, reader)
  listenToLists(on, view, reader)
  return () => {
    for (const stop of stops) stop()
  }
}

/** Parameters, filters, period, theme and the switches of rules. */
function listenToTools(on: Listen, { tools }: View, { act, session }: ReaderActions): void {
  on(tools, 'input', ({ target }) => {
    if (!(target instanceof HTMLInputElement)) return
    const { set } = target.dataset
    if (set !== undefined) {
      const parameter = session.controls.parameters.find(({ name }) => name === set)
      if (parameter === undefined || target.value === '') return
      act({ do: 'set', parameter: set, value: scaled(Number(target.value), 1 / controlFactor(parameter)) })
    } else if (target.type === 'search') searchIn(target)
  })
  on(tools, 'change', ({ target }) => {
    if (target instanceof HTMLSelectElement) {
      if (target.dataset.do === 'period')
        if (target.value === CUSTOM_RANGE) {
          // The range of the boxes holds at once, so that choice and page never differ.
          showRange(tools)
          act({ do: 'period', period: rangeOf(tools) ?? null })
        } else act({ do: 'period', period: target.value === '' ? null : target.value })
      if (target.dataset.do === 'theme') act({ do: 'theme', theme: target.value as LiveState['theme'] })
    }
    if (!(target instanceof HTMLInputElement)) return
    if (target.dataset.range !== undefined) {
      const range = rangeOf(tools)
      if (range !== undefined) act({ do: 'period', period: range })
    }
    if (target.type !== 'checkbox') return
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
}

/** Trends answer with the number of each month: to the pointer, a tap, and the arrow keys. */
function listenToTrends(on: Listen, { exhibits }: View, { shown }: ReaderActions): void {
  let values: TrendValues | undefined
  const loaded = async (): Promise<TrendValues> => {
    values ??= (await import('../explain/trend-values.js')).createTrendValues(() => shown().page.exhibits)
    return values
  }
  const isTrend = (target: EventTarget | null): target is Element =>
    target instanceof Element && target.closest('.tr') !== null
  for (const name of ['pointermove', 'pointerdown'])
    on(exhibits, name, (event) => {
      if (isTrend(event.target)) void loaded().then((trends) => trends.point(event as PointerEvent))
    })
  on(exhibits, 'keydown', (event) => {
    const { target, key } = event as KeyboardEvent
    const by = Number(key === 'ArrowRight') - Number(key === 'ArrowLeft')
    if (by === 0 || !isTrend(target)) return
    event.preventDefault()
    void loaded().then((trends) => trends.step(target, by))
  })
  for (const name of ['pointerout', 'focusout'])
    on(exhibits, name, (event) => {
      const { target, relatedTarget } = event as FocusEvent
      if (!isTrend(target) || (relatedTarget instanceof Node && target.closest('.tr')?.contains(relatedTarget))) return
      values?.leave(target)
    })
}

/** The text search of long tables, and the arrow keys of single records. */
function listenToRows(on: Listen, { exhibits, extras }: View): void {
  on(exhibits, 'input', ({ target }) => {
    if (target instanceof HTMLInputElement && target.dataset.find !== undefined) extras().finder.find(target, 0)
  })
  on(exhibits, 'keydown', (event) => {
    const { target, key, shiftKey } = event as KeyboardEvent
    if (!(target instanceof HTMLInputElement) || target.dataset.find === undefined) return
    if (key === 'Escape') target.value = ''
    else if (key !== 'Enter') return
    event.preventDefault()
    extras().finder.find(target, shiftKey ? -1 : 1)
  })
  on(exhibits, 'keydown', (event) => {
    const { target, key } = event as KeyboardEvent
    if (!(target instanceof Element)) return
    const [sideways, down] = [
      Number(key === 'ArrowRight') - Number(key === 'ArrowLeft'),
      Number(key === 'ArrowDown') - Number(key === 'ArrowUp'),
    ]
    if (sideways !== 0 && extras().stepper.step(target, sideways)) event.preventDefault()
    if (down !== 0 && extras().stepper.walk(target, down)) event.preventDefault()
  })
}

/** Buttons and links: reset, copy, download, sorting, the record pager. */
function listenToButtons(on: Listen, view: View, { act, shown, ready, paused, session, page }: ReaderActions): void {
  const walk = createChangeWalk(view, shown)
  const download = async (button: HTMLButtonElement): Promise<void> => {
    // A large report takes a moment, in which a second click would write it again.
    button.disabled = true
    try {
      await ready
      const rules = session.controls.rules.filter(({ rule }) => !paused().includes(rule))
      const { downloadData, downloadWorkbook } = await import('./downloads.js')
      const write = button.dataset.do === 'data' ? downloadData : downloadWorkbook
      await write({ shown: shown(), rules }, page)
    } catch (error) {
      view.say(escapeText((error as Error).message))
    } finally {
      button.disabled = false
    }
  }
  on(view.main, 'click', (event) => {
    const { target } = event
    if (!(target instanceof Element)) return
    const link = target.closest('a')
    // A part of the strip has opened its list.
    if (link !== null && !event.defaultPrevented && (view.extras().stepper.follow(link) || goTo(view, link)))
      event.preventDefault()
    const button = target.closest<HTMLButtonElement>('button')
    if (button?.dataset.walk !== undefined) walk.step(Number(button.dataset.walk))
    if (button?.dataset.do === 'undo') undo(button, act, session)
    if (button?.dataset.do === 'reset') act({ do: 'reset' })
    if (button?.dataset.do === 'all')
      act({ do: 'filter', key: button.closest<HTMLElement>('[data-key]')?.dataset.key ?? '', values: [] })
    if (button?.dataset.do === 'copy') void copyTable(button, view, shown().page)
    if (button?.dataset.do === 'data' || button?.dataset.do === 'workbook') void download(button)
    const { sort, exhibit } = button?.dataset ?? {}
    if (sort !== undefined && exhibit !== undefined) {
      const order = button?.closest('th')?.getAttribute('aria-sort')
      act({ do: 'sort', exhibit, by: order === 'descending' ? sort : order === 'ascending' ? null : `-${sort}` })
    }
  })
}

/** Scrolls to the exhibit that a link names: the address of the page has its state. */
function goTo({ exhibits }: View, link: HTMLAnchorElement): boolean {
  const id = link.getAttribute('href')?.slice(1) ?? ''
  const heading = [...exhibits.querySelectorAll<HTMLElement>('h2[id], h3[id]')].find((element) => element.id === id)
  heading?.scrollIntoView({ block: 'center' })
  return heading !== undefined
}

/** Sets the parameter or filter of a chip back to what the report has. */
function undo(button: HTMLElement, act: ReaderActions['act'], { controls }: Session): void {
  const { parameter: name, key } = button.closest<HTMLElement>('.chip')?.dataset ?? {}
  const parameter = controls.parameters.find((each) => each.name === name)
  if (parameter !== undefined) act({ do: 'set', parameter: parameter.name, value: parameter.value })
  else if (key !== undefined) act({ do: 'filter', key, values: [] })
  else act({ do: 'period', period: null })
}

/** The parts of the strip open the list of their cells. */
function listenToStrip(on: Listen, view: View, { shown, page }: ReaderActions): void {
  let list: StripCells | undefined
  const loaded = async (): Promise<StripCells> => {
    list ??= (await import('./strip-cells.js')).createStripCells(view, shown)
    return list
  }
  on(view.strip, 'click', (event) => {
    const target = event.target instanceof Element ? event.target : null
    const link = target?.closest<HTMLElement>('a[data-kind]')
    const button = target?.closest<HTMLElement>('[data-cell]')
    if (link != null) {
      event.preventDefault()
      void loaded().then((cells) => cells.toggle(link))
    } else if (button != null) list?.go(button)
  })
  on(page, 'pointerdown', (event) => {
    if (!event.composedPath().includes(view.strip)) list?.close()
  })
  on(view.strip, 'keydown', (event) => {
    if ((event as KeyboardEvent).key !== 'Escape') return
    view.strip.querySelector<HTMLElement>('[aria-expanded=true]')?.focus()
    list?.close()
  })
}

/** Shows the popover of the cell that is hovered or focused; returns a function that removes it. */
function listenForCells(on: Listen, view: View, { shown, session, page }: ReaderActions): () => void {
  const { exhibits } = view
  const why = createPopover(view.why, session, shown)
  const explain = (element: Element | null): void => {
    const shown = element === null ? undefined : view.cells().of(element)
    why.show(shown, element ?? undefined)
  }
  // Closing the popover fires `pointerover` on the cell beneath even if the pointer did not move.
  // Ignore it until it moves.
  let resting = false
  on(exhibits, 'pointerover', (event) => {
    if (resting && (event as PointerEvent).pointerType === 'mouse') return
    explain(event.target instanceof Element ? event.target : null)
  })
  on(exhibits, 'pointermove', (event) => {
    const { target, movementX, movementY } = event as PointerEvent
    if (!resting || (movementX === 0 && movementY === 0)) return
    resting = false
    explain(target instanceof Element ? target : null)
  })
  // The popover stays open while the pointer is on it, so that its text can be read and copied.
  for (const [from, to] of [
    [exhibits, view.why],
    [view.why, exhibits],
  ])
    on(from, 'pointerleave', (event) => {
      const { relatedTarget, pointerType } = event as PointerEvent
      // A touch ends when the finger is lifted; the popover stays until the next tap elsewhere.
      if (pointerType === 'touch') return
      if (!(relatedTarget instanceof Node && to.contains(relatedTarget))) explain(null)
    })
  on(exhibits, 'focusin', ({ target }) => {
    // Pressing a cell focuses its table; that does not close the popover.
    if (target instanceof Element && (view.cells().of(target) !== undefined || target.matches(':focus-visible')))
      explain(target)
  })
  on(exhibits, 'focusout', (event) => {
    const { relatedTarget } = event as FocusEvent
    for (const mark of exhibits.querySelectorAll('.here')) mark.classList.remove('here')
    if (relatedTarget instanceof Node && !exhibits.contains(relatedTarget)) explain(null)
  })
  on(exhibits, 'keydown', (event) => moveFocus(event as KeyboardEvent, view, view.cells(), explain))
  on(page, 'keydown', (event) => {
    if ((event as KeyboardEvent).key !== 'Escape') return
    resting = !view.why.hidden
    explain(null)
  })
  on(page, 'pointerdown', (event) => {
    if (!event.composedPath().some((target) => target === exhibits || target === view.why)) explain(null)
  })
  return () => why.remove()
}

/** Outlines the cells that a rule covers and paints while its switch is hovered or focused. */
function listenForRules(on: Listen, { tools, marks }: View, { session }: ReaderActions): void {
  let pointed: string | undefined
  const outline = (target: EventTarget | null): void => {
    const rule = target instanceof Element ? target.closest<HTMLElement>('[data-rule]')?.dataset.rule : undefined
    if (rule === pointed) return
    pointed = rule
    if (rule === undefined) marks.set('covered', undefined)
    else
      void session.coveredCells(rule).then((ids) => {
        const covered = new Set(ids)
        if (pointed === rule)
          marks.set('covered', ({ exhibit, cell }) =>
            covered.has(cellId(exhibit, cell.measure, [...cell.row, ...cell.column])),
          )
      })
    marks.set(
      'reached',
      rule === undefined ? undefined : ({ cell }) => Object.values(cell.style.paintedBy).includes(rule),
    )
  }
  on(tools, 'pointerover', ({ target }) => outline(target))
  on(tools, 'pointerleave', () => outline(null))
  on(tools, 'focusin', ({ target }) => outline(target))
  on(tools, 'focusout', (event) => outline((event as FocusEvent).relatedTarget))
}

/**
 * An open list lies under its chip, inside the width of the controls; it closes on a click
 * elsewhere, and on Escape.
 */
function listenToLists(on: Listen, { tools }: View, { page }: ReaderActions): void {
  const opened = (): HTMLDetailsElement[] => [...tools.querySelectorAll<HTMLDetailsElement>('details[open]')]
  // Toggling does not bubble, but each list hears it.
  for (const details of tools.querySelectorAll('details'))
    on(details, 'toggle', () => {
      if (!details.open) return
      for (const other of opened()) if (other !== details) other.open = false
      placeList(details, tools)
    })
  const place = (): void => {
    for (const details of opened()) placeList(details, tools)
  }
  // A choice may show more boxes.
  on(tools, 'change', place)
  if (page.defaultView !== null) on(page.defaultView, 'resize', place)
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
}

function placeList(details: HTMLDetailsElement, tools: HTMLElement): void {
  const drop = details.querySelector<HTMLElement>('.drop')
  if (drop === null) return
  drop.style.left = '0'
  const left = details.getBoundingClientRect().left - tools.getBoundingClientRect().left
  drop.style.left = `${Math.max(0, Math.min(left, tools.clientWidth - drop.offsetWidth))}px`
}

function searchIn(input: HTMLInputElement): void {
  const wanted = input.value.trim().toLocaleLowerCase()
  for (const label of input.parentElement?.querySelectorAll('label') ?? [])
    (label as HTMLElement).hidden = !(label.textContent ?? '').toLocaleLowerCase().includes(wanted)
}

async function copyTable(button: HTMLElement, view: View, page: Page): Promise<void> {
  const { tableText } = await import('./copy.js')
  const text = tableText(page, button.dataset.exhibit ?? '')
  if (text === undefined) return
  try {
    await view.main.ownerDocument.defaultView?.navigator.clipboard.writeText(text)
    view.say(`Copied ${text.split('\n').length - 1} lines.`)
  } catch {
    view.say('The browser does not let this page copy; select the table instead.')
  }
}
