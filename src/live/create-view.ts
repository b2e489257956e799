import type { Exhibit } from '../page/page.js'
import { type HtmlParts, headParts, htmlParts } from '../view/html/page.js'
import { escapeText } from '../view/markup.js'
import { controlsMarkup, showState } from './controls/markup.js'
import { exhibitId } from './dom/address.js'
import { createCellMap, TABLES } from './dom/elements.js'
import { createHighlights } from './dom/highlights.js'
import { loadFeatures } from './dom/load-optional.js'
import { MIN_VIRTUAL_ROWS, NO_FEATURES } from './dom/optional.js'
import { patchChildren, patchNode } from './dom/patch.js'
import { nextTask } from './dom/tasks.js'
import type { View } from './dom/view.js'
import type { ReportControls, Update } from './session/model.js'
import type { LiveState } from './state/state.js'

/** Shown in place of the exhibits if none has rows. */
const EMPTY = {
  filters: 'No rows match these filters. Remove a filter to see figures again.',
  source: 'No rows.',
}

/** Creates the elements of a mounted report; updates are patched into them. */
export function createView(root: ShadowRoot | HTMLElement, page: Document, controls: ReportControls, id: string): View {
  const alone = root instanceof HTMLElement
  const box = page.createElement('template')
  const parse = (markup: string): DocumentFragment => {
    box.innerHTML = markup
    return box.content
  }
  const tools = parse(controlsMarkup(controls, id)).firstElementChild as HTMLElement
  const { style, symbols, main, head, strip, exhibits, sources, why, place } = placeElements(root, page, tools)
  if (!alone) main.lang = controls.locale
  let written: readonly Exhibit[] = []
  const marks = createHighlights(exhibits)
  const extras = { ...NO_FEATURES }
  let cells = createCellMap(exhibits, [])
  const say = (markup: string): void => {
    const counts = tools.querySelector('.counts')
    if (counts !== null) counts.innerHTML = markup
  }
  const dress = createDresser(style, symbols, alone)
  const patchExhibits = createPatcher(exhibits, parse, (fragment, update, state) => {
    // Before patching, so that focus stays on a pressed button.
    sortable(fragment, update, controls, state)
    copyable(fragment, update, page, extras.finder !== NO_FEATURES.finder)
    untitled([fragment])
    return fragment
  })
  return {
    root,
    main,
    tools,
    strip,
    exhibits,
    why,
    marks,
    extras: () => extras,
    cells: () => cells,
    async show(update, state, writing, said) {
      const options = { document: page, theme: state.theme }
      // With the icons of what is shown still.
      const top = headParts(update.page, options, writing, update.openedStrip, written)
      await dress(top)
      patchChildren(head, parse(top.header))
      patchChildren(strip, parse(top.strip))
      place('above')
      say(said)
      // The counts are drawn before the tables are laid out, and neither holds up typing.
      await nextTask()
      await loadFeatures(extras, update.page.exhibits, exhibits, (rows) => {
        untitled(rows)
        marks.drawn(rows)
      })
      writing.long = extras.windows === NO_FEATURES.windows ? Number.POSITIVE_INFINITY : MIN_VIRTUAL_ROWS
      const parts: HtmlParts = await htmlParts(update.page, options, writing, update.openedStrip)
      await dress(parts)
      written = parts.shown
      await patchExhibits(update, state, parts)
      patchChildren(sources, parse(parts.sources))
      place('below')
      showState(tools, state, controls)
      showSentences(tools, update)
      why.hidden = true
      cells = createCellMap(exhibits, update.page.exhibits)
      extras.stepper.show()
      marks.show(cells)
      extras.windows.show(parts.shown, writing)
      extras.finder.show(parts.shown)
    },
    say,
    remove() {
      extras.windows.remove()
      style.remove()
      symbols.remove()
      why.remove()
      if (alone) root.replaceChildren()
      else main.remove()
    },
  }
}

/**
 * Creates the containers of a report: inside a shadow root, or in a page with the report alone.
 * There the controls come first, between what the tool has written; `place` puts the containers in
 * its stead. The controls are not moved for it, as they may be in use.
 */
function placeElements(root: ShadowRoot | HTMLElement, page: Document, tools: HTMLElement) {
  const alone = root instanceof HTMLElement
  const make = (className: string): HTMLElement => {
    const box = page.createElement('div')
    box.className = className
    return box
  }
  const style = page.createElement('style')
  const main = alone ? root : make('main')
  const names = ['symbols', 'head', 'stripbox', 'exhibits', 'sources', 'whybox']
  const [symbols, head, strip, exhibits, sources, why] = names.map(make)
  why.hidden = true
  why.setAttribute('role', 'status')
  if (!alone) main.replaceChildren(head, strip, tools, exhibits, sources)
  else {
    const before = main.querySelector(':scope > .strip') ?? main.querySelector(':scope > header')
    if (before === null) main.prepend(tools)
    else before.after(tools)
  }
  const place = (part: 'above' | 'below'): void => {
    const isAbove = part === 'above'
    const own = isAbove ? [head, strip] : [exhibits, sources]
    if (own[0].isConnected) return
    const side = isAbove ? 'previousSibling' : 'nextSibling'
    for (let node = tools[side]; node !== null; node = tools[side]) node.remove()
    if (isAbove) tools.before(...own)
    else tools.after(...own)
  }
  const holder: Node = alone ? page.head : root
  holder.appendChild(style)
  if (alone) page.body.append(symbols, why)
  else root.append(symbols, main, why)
  return { style, symbols, main, head, strip, exhibits, sources, why, place }
}

/** Sets the classes of styles, and the symbols of icons. */
function createDresser(
  style: HTMLElement,
  symbols: HTMLElement,
  alone: boolean,
): (parts: Pick<HtmlParts, 'css' | 'symbols'>) => Promise<void> {
  let drawings = ''
  return async (parts) => {
    // The page of the tool has the common style sheet already.
    const css = alone ? parts.css : (await import('./dom/shadow-style.js')).shadowStyle(parts.css)
    if (style.textContent !== css) style.textContent = css
    if (drawings !== parts.symbols) symbols.innerHTML = parts.symbols
    drawings = parts.symbols
  }
}

/** Exhibits are drawn in one task for so long, in milliseconds: longer ones hold up typing. */
const TASK_MS = 16

/** Patches the exhibits that changed. `finish` adds the controls inside exhibits. */
function createPatcher(
  exhibits: HTMLElement,
  parse: (markup: string) => DocumentFragment,
  finish: (fragment: DocumentFragment, update: Update, state: LiveState) => DocumentFragment,
): (update: Update, state: LiveState, parts: HtmlParts) => Promise<void> {
  /** The markup of each element; equal markup is not patched. */
  let written: string[] = []
  return async (update, state, parts) => {
    const blocks = update.empty === null ? parts.exhibits : [`<p class="empty">${EMPTY[update.empty]}</p>`]
    // The sort order shows in the headings even if the rows are the same.
    const keys = blocks.map((block) => `${JSON.stringify(state.sorts)} ${block}`)
    if (keys.length !== written.length) patchChildren(exhibits, finish(parse(blocks.join('')), update, state))
    else {
      const changed = blocks.flatMap((block, i) => (keys[i] === written[i] ? [] : [{ block, i }]))
      let begun = performance.now()
      for (const { block, i } of changed) {
        if (performance.now() - begun > TASK_MS) {
          await nextTask()
          begun = performance.now()
        }
        patchNode(exhibits.children[i], finish(parse(block), update, state).children[0])
      }
    }
    written = keys
  }
}

/** Explanations of rules contain limits, which may have moved. */
function showSentences(tools: HTMLElement, update: Update): void {
  const sentences = new Map(update.sentences.map(({ rule, explanation }) => [rule, explanation]))
  for (const item of tools.querySelectorAll<HTMLElement>('[data-rule]')) {
    const paragraph = item.querySelector('p')
    if (paragraph !== null) paragraph.textContent = sentences.get(item.dataset.rule ?? '') ?? paragraph.textContent
  }
}

/** Removes tooltips: the popover shows the same and more. */
function untitled(parts: readonly ParentNode[]): void {
  for (const part of parts) {
    for (const cell of part.querySelectorAll('td[title]')) cell.removeAttribute('title')
    for (const title of part.querySelectorAll('.chart svg title')) {
      title.remove()
    }
  }
}

/** Turns headings of measures into sort buttons. */
function sortable(root: ParentNode, { page }: Update, { sorts }: ReportControls, state: LiveState): void {
  for (const exhibit of page.exhibits) {
    if (exhibit.kind !== 'table' && exhibit.kind !== 'list') continue
    const sort = sorts.find((each) => each.exhibit === exhibit.name)
    if (sort?.byHeading !== true || exhibit.columnHeadings.length !== 1) continue
    const name = exhibitId(exhibit.name)
    const section = [...root.querySelectorAll('section')].find(
      (element) => element.getAttribute('aria-labelledby') === name,
    )
    const cells = section?.querySelector('thead tr')?.children
    if (cells === undefined) continue
    const corners = exhibit.nest === 'columns' ? exhibit.corners.length : 1
    const first = exhibit.rows.find(({ cells }) => cells.some((cell) => cell !== null))
    first?.cells.forEach((cell, c) => {
      const lines = exhibit.trends.filter(({ at }) => at <= c).length
      const head = cells[corners + c + lines]
      if (cell === null || head === undefined) return
      const by = state.sorts[exhibit.name] ?? ''
      const order = by === cell.measure ? 'ascending' : by === `-${cell.measure}` ? 'descending' : 'none'
      head.setAttribute('aria-sort', order)
      head.classList.add('sortable')
      const button = `<button type="button" data-sort="${escapeText(cell.measure)}" data-exhibit="${escapeText(exhibit.name)}">`
      head.innerHTML = `${button}${escapeText(head.textContent ?? '')}</button>`
    })
  }
}

/** Adds a copy button to tables, and a text search to long ones. */
function copyable(root: ParentNode, update: Update, page: Document, finds: boolean): void {
  const { exhibits } = update.page
  const byName = new Map(exhibits.map((exhibit) => [exhibit.name, exhibit]))
  const names = new Map(exhibits.flatMap(({ name }) => [name, `${name}-plain`].map((id) => [exhibitId(id), name])))
  for (const section of root.querySelectorAll('section')) {
    const heading = section.querySelector('h2, h3')
    if (section.querySelector(TABLES) === null || heading === null) continue
    const name = names.get(section.getAttribute('aria-labelledby') ?? '') ?? ''
    const [exhibit, title] = [escapeText(name), escapeText(heading.textContent ?? '')]
    const isFound = finds && section.querySelector('.long') !== null && 'rows' in (byName.get(name) ?? {})
    const find = `<input type="search" placeholder="Find" data-find="${exhibit}" aria-label="Find in ${title}"><span role="status"></span>`
    const copy = `<button type="button" data-do="copy" data-exhibit="${exhibit}" aria-label="Copy ${title} as text">Copy</button>`
    const box = page.createElement('div')
    box.className = 'acts'
    box.innerHTML = (isFound ? find : '') + copy
    heading.before(box)
  }
}
