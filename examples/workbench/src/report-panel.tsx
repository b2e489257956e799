import { type Mounted, mountSession } from 'acuarela/live'
import type { WorkbenchState } from 'acuarela/workbench'
import { useEffect, useRef } from 'react'
import { calls, shownPage } from './bench.js'

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

/** The live page itself. */
export function ReportPanel({ state, theme }: { state: WorkbenchState | null; theme: 'auto' | 'light' | 'dark' }) {
  const host = useRef<HTMLDivElement>(null)
  const mounted = useRef<{ page: Mounted; controls: string; values: string } | null>(null)
  const busy = useRef<Promise<unknown>>(Promise.resolve())
  useEffect(() => {
    const element = host.current
    if (element === null || state?.isShown !== true) return
    const [controls, values] = [controlsKey(state), valuesKey(state)]
    const mount = async (): Promise<void> => {
      const next = document.createElement('div')
      const { port1, port2 } = new MessageChannel()
      await calls.page(port1)
      const page = await mountSession(next, port2)
      if (theme !== 'auto') await page.act({ do: 'theme', theme })
      mounted.current?.page.destroy()
      element.replaceChildren(next)
      mounted.current = { page, controls, values }
      shownPage.now = page
    }
    const show = (): void => {
      busy.current = busy.current
        .then(async () => {
          if (mounted.current?.controls !== controls) return mount()
          return mounted.current.page.act({ do: 'again' })
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
  }, [state, theme])
  useEffect(() => {
    void mounted.current?.page.act({ do: 'theme', theme })
  }, [theme])
  return (
    <section className="report" aria-label="Report">
      {state !== null && state.missing.length > 0 && (
        <p className="missing">
          The report names files that were not given: {state.missing.join(', ')}. Drop them here.
        </p>
      )}
      {state !== null && !state.isShown && state.problems.length > 0 && (
        <p className="missing">The page shows the last text that could be painted.</p>
      )}
      <div ref={host} className="page" />
    </section>
  )
}
