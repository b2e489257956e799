import type { Draft } from '../edit/draft.js'
import type { Answerer } from './answerer.js'
import type { Workbench } from './calls.js'

/** What the calls read: the report as it was last answered, the present draft, the saved text. */
interface Inspected {
  answerer: Answerer
  draft(): Draft
  saved(): string
}

type Inspector = Pick<
  Workbench,
  | 'check'
  | 'preview'
  | 'complete'
  | 'plot'
  | 'findings'
  | 'rehearse'
  | 'why'
  | 'looks'
  | 'compared'
  | 'differences'
  | 'prepare'
>

/**
 * The calls that look at a report without changing it; the code of each is loaded when it is first
 * used.
 */
export function createInspector({ answerer, draft, saved }: Inspected): Inspector {
  return {
    check: async (edit) => (await import('./preview.js')).problemsAfter(answerer, draft(), edit),
    preview: async (sentence, at) => (await import('./preview.js')).previewed(answerer, draft(), sentence, at),
    complete: async (text, cursor) => (await import('./preview.js')).completed(answerer.now(), text, cursor),
    plot: async (rule, exhibit) => (await import('./plot.js')).plotOf(answerer.now().decided, rule, exhibit),
    async findings() {
      const { decided, file } = answerer.now()
      return (await import('../proof/report.js')).proofReport(decided, file)
    },
    async rehearse(rule) {
      const { decided } = answerer.now()
      const name = decided.report.rules.find(({ index }) => index === rule)?.name
      if (name === undefined) return []
      return (await import('../report/inspect/rehearse.js')).rehearseReport(decided, name)
    },
    why: async ({ exhibit, measure, keys }) =>
      (await import('../report/inspect/why.js')).whyCell(answerer.now().decided, exhibit, measure, keys),
    async looks() {
      const { pigments } = draft().spec
      const own = typeof pigments === 'object' && pigments !== null ? Object.keys(pigments) : []
      return (await import('./looks.js')).looksOf(answerer.now().decided, own)
    },
    async compared() {
      const now = answerer.now().decided
      const { compareReports } = await import('../report/inspect/compare.js')
      return compareReports(await answerer.decide(saved()), now)
    },
    differences: async (other) => (await import('../edit/diff.js')).diff(other, draft().text),
    async prepare() {
      await Promise.all([
        import('../edit/history.js'),
        import('../edit/diff.js'),
        import('../proof/report.js'),
        import('../report/inspect/compare.js'),
        import('../report/inspect/rehearse.js'),
        import('../report/inspect/why.js'),
        import('./looks.js'),
        import('./plot.js'),
        import('./preview.js'),
      ])
    },
  }
}
