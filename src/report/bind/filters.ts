import type { Names } from '../../expression/bind.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { ReportSpec } from '../../spec/report.js'

/** Filters must be columns or fields of home, each once, or `period`. */
export function checkFilters(
  spec: ReportSpec,
  columns: Names,
  date: string | undefined,
  diagnostics: Diagnostics,
): void {
  const seen = new Set<string>()
  spec.filters?.forEach((name, i) => {
    const path = diagnostics.at('filters', i)
    if (seen.has(name)) path.report('two-of-a-name', { name, what: 'filters' })
    seen.add(name)
    if (name === 'period') {
      if (date === undefined) path.report('no-date', { name })
      return
    }
    const type = columns.find(name)?.type.kind
    const candidates = [
      ...columns.all().filter((name) => ['text', 'blank'].includes(columns.find(name)?.type.kind ?? '')),
      'period',
    ]
    if (type === undefined) path.report('unknown-name', { name, nearest: nearest(name, candidates), known: candidates })
    else if (type !== 'text' && type !== 'condition' && type !== 'unknown' && type !== 'blank')
      path.report('filter-kind', { name, kind: type, known: candidates })
  })
}
