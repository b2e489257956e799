import type { Names } from '../../expression/bind.js'
import { nearest } from '../../problem/nearest.js'
import { type Problem, problem } from '../../problem/problem.js'
import type { ReportSpec } from '../../spec/report.js'

/**
 * What readers may narrow by are columns and fields of home, each once, and its time as a period.
 */
export function checkFilters(spec: ReportSpec, columns: Names, date: string | undefined, problems: Problem[]): void {
  const seen = new Set<string>()
  spec.filters?.forEach((name, i) => {
    const path = ['filters', i]
    if (seen.has(name)) problems.push(problem('two-of-a-name', { name, what: 'filters' }, { path }))
    seen.add(name)
    if (name === 'period') {
      if (date === undefined) problems.push(problem('no-date', { name }, { path }))
      return
    }
    const type = columns.find(name)?.type.kind
    const known = [
      ...columns.all().filter((own) => ['text', 'blank'].includes(columns.find(own)?.type.kind ?? '')),
      'period',
    ]
    if (type === undefined)
      problems.push(problem('unknown-name', { name, nearest: nearest(name, known), known }, { path }))
    else if (type !== 'text' && type !== 'condition' && type !== 'unknown' && type !== 'blank')
      problems.push(problem('filter-kind', { name, kind: type, known }, { path }))
  })
}
