import { type Mounted, mountSession, type ShownCell, shownCells } from 'acuarela/live'
import type { Workbench, WorkbenchState } from 'acuarela/workbench'
import { lazy, memo, Suspense, useEffect, useRef } from 'react'
import { calls, shownPage } from './bench.js'
import type { Pointed } from './pointed.js'
import type { ViewAs } from './views.js'

// Views of colour vision need colour maths, and are seldom looked at.
const VisionFilter = lazy(() => import('./vision.js').then((part) => ({ default: part.VisionFilter })))

type Path = Pointed['path']
type Comparison = Awaited<ReturnType<Workbench['compared']>>

/** The values of parameters, which the controls of a page begin with. */
function valuesKey({ draft: { spec } }: WorkbenchState): string {
  return JSON.stringify(spec.parameters)
}

/** What the reader of a page can change: where it differs, the page is mounted anew. */
function controlsKey({ draft: { spec }, rules }: WorkbenchState): string {
  const { parameters, filters, sources, exhibits, locale, calendar } = spec
  const named = Object.entries((parameters ?? {}) as Record<string, unknown>).map(([name, part]) =>
    typeof part === 'object' && part !== null ? { name, ...part, value: null } : name,
  )
  const shown = (Array.isArray(exhibits) ? exhibits : []).map((one: unknown) => JSON.stringify(one))
  return JSON.stringify([
    named,
    filters,
    sources,
    locale,
    calendar,
    shown,
    rules.map(({ rule, title }) => [rule, title]),
  ])
}

/** The first page rests for so long before its charts are drawn, in milliseconds. */
const CHARTS_MS = 500

/** A page that changes, as while a limit is dragged, rests for so long before its marks. */
const MARKS_MS = 300

const OUTLINE = `
.differs-from-saved { outline: 2px dashed currentColor; outline-offset: -2px }
.grid td.pointed-at > span, .heat td.pointed-at, article.pointed-at { box-shadow: inset 0 0 0 1.5px var(--soot) }
.chart .pointed-at { stroke: var(--soot); stroke-width: 2px }
section.pointed-at { box-shadow: 0 0 0 8px var(--paper), 0 0 0 9.5px var(--soot) }
`

/** Changes a page that may no longer be answered: it then stays, and the text tells why. */
function act(page: Mounted, action: Parameters<Mounted['act']>[0]): void {
  page.act(action).catch(() => undefined)
}

/** Outlines the cells that differ from the saved report; null: none. */
function outline(page: Mounted, comparison: Comparison | null): void {
  void import('./marks.js').then(({ outlineCells }) => outlineCells(page, comparison))
}

/** Shows a page as it is printed, or no longer so. */
async function onPaper(element: HTMLElement, isPaper: boolean): Promise<void> {
  const { showOnPaper } = await import('./paper.js')
  showOnPaper(element, isPaper)
}

interface Props {
  state: WorkbenchState | null
  theme: 'auto' | 'light' | 'dark'
  view: ViewAs
  /** What differs from the saved report; null where it is not asked for. */
  comparison: Comparison | null
  /** The part that is pointed at. */
  marked: Path | null
  onCell(cell: ShownCell): void
  onRule(name: string): void
}

/** The live page itself. */
export const ReportPanel = memo(function ReportPanel({
  state,
  theme,
  view,
  comparison,
  marked,
  onCell,
  onRule,
}: Props) {
  const host = useRef<HTMLDivElement>(null)
  const mounted = useRef<{ page: Mounted; element: HTMLElement; controls: string; values: string } | null>(null)
  const busy = useRef<Promise<unknown>>(Promise.resolve())
  const compared = useRef(comparison)
  compared.current = comparison
  const isOutlined = useRef(false)
  const own = view === 'paper' ? 'light' : theme
  const isSeen = view !== 'as it is' && view !== 'paper'
  const isPaper = useRef(false)
  useEffect(() => {
    const element = host.current
    if (element === null || state?.isShown !== true) return
    const [controls, values] = [controlsKey(state), valuesKey(state)]
    const mount = async (): Promise<void> => {
      const next = document.createElement('div')
      const { port1, port2 } = new MessageChannel()
      // What draws charts is larger than all else: the first page does not wait for it.
      const chartsLater = mounted.current === null
      await calls.page(port1, { chartsLater })
      const page = await mountSession(next, port2)
      const style = new CSSStyleSheet()
      style.replaceSync(OUTLINE)
      next.shadowRoot?.adoptedStyleSheets.push(style)
      if (own !== 'auto') await page.act({ do: 'theme', theme: own })
      mounted.current?.page.destroy()
      element.replaceChildren(next)
      mounted.current = { page, element: next, controls, values }
      shownPage.now = page
      if (compared.current !== null) outline(page, compared.current)
      if (isPaper.current) await onPaper(next, true)
      if (chartsLater) setTimeout(() => act(page, { do: 'again' }), CHARTS_MS)
    }
    const show = (): void => {
      busy.current = busy.current
        .then(async () => {
          if (mounted.current?.controls !== controls) return mount()
          await mounted.current.page.act({ do: 'again' })
          if (compared.current !== null) outline(mounted.current.page, compared.current)
        })
        .catch(() => undefined)
    }
    show()
    // While a parameter is dragged its control would be made anew at each step.
    const rest = setTimeout(() => {
      if (mounted.current !== null && mounted.current.values !== values)
        busy.current = busy.current.then(mount).catch(() => undefined)
    }, 700)
    return () => clearTimeout(rest)
  }, [state, own])
  useEffect(() => {
    if (mounted.current !== null) act(mounted.current.page, { do: 'theme', theme: own })
  }, [own])
  useEffect(() => {
    if (mounted.current !== null && (comparison !== null || isOutlined.current))
      outline(mounted.current.page, comparison)
    isOutlined.current = comparison !== null
  }, [comparison])
  useEffect(() => {
    if (view !== 'paper' && !isPaper.current) return
    isPaper.current = view === 'paper'
    busy.current = busy.current
      .then(async () => {
        if (mounted.current !== null) await onPaper(mounted.current.element, view === 'paper')
      })
      .catch(() => undefined)
  }, [state, view])
  const hasMarks = useRef(false)
  useEffect(() => {
    if (state === null || (marked === null && !hasMarks.current)) return
    hasMarks.current = marked !== null
    // After what is being drawn.
    const rest = setTimeout(() => {
      busy.current = busy.current
        .then(async () => {
          const { markPart } = await import('./marks.js')
          if (mounted.current !== null) markPart(mounted.current.element, mounted.current.page, state, marked)
        })
        .catch(() => undefined)
    }, MARKS_MS)
    return () => clearTimeout(rest)
  }, [state, marked])
  useEffect(() => {
    const element = host.current
    if (element === null) return
    const point = (event: Event): void => {
      if (event instanceof KeyboardEvent && event.key !== 'Enter') return
      const [target] = event.composedPath()
      const now = mounted.current
      if (now === null || !(target instanceof Element)) return
      const rule = target.closest('[data-rule]')?.getAttribute('data-rule')
      const cell = shownCells(now.element, now.page).of(target)
      if (cell !== undefined) onCell(cell)
      else if (rule !== null && rule !== undefined) onRule(rule)
    }
    element.addEventListener('click', point)
    element.addEventListener('keydown', point)
    return () => {
      element.removeEventListener('click', point)
      element.removeEventListener('keydown', point)
    }
  }, [onCell, onRule])
  return (
    <section className={view === 'paper' ? 'report paper' : 'report'} aria-label="Report">
      {state !== null && state.missing.length > 0 && (
        <div className="missing">
          <p>The report names files that were not given. Drop them anywhere, or open them:</p>
          <ul>
            {state.missing.map((file) => (
              <li key={file}>{file}</li>
            ))}
          </ul>
        </div>
      )}
      {state !== null && !state.isShown && state.problems.length > 0 && (
        <div className="missing" role="status">
          <p>The page shows the last text that could be painted.</p>
          <ul>
            {state.problems.slice(0, 3).map(({ message, place }) => (
              <li key={message}>
                {place.line === undefined ? '' : `line ${place.line}: `}
                {message}
              </li>
            ))}
          </ul>
        </div>
      )}
      {isSeen && (
        <Suspense fallback={null}>
          <VisionFilter view={view} />
        </Suspense>
      )}
      <div ref={host} className="page" style={isSeen ? { filter: 'url(#seen)' } : {}} />
    </section>
  )
})
