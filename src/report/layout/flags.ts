import { numberPrinter } from '../../format/format.js'
import { judgedText } from '../../rule/explain/judged-text.js'
import { flagText } from '../../style/flag.js'
import { phraseContextOf } from '../answer/facts.js'
import type { FlagOf } from '../model/answered.js'

/**
 * The flag of a cell: it may contain the value, the status, what was judged, measures and
 * parameters.
 */
export const flagOf: FlagOf = (make, answered, { look, level, at, value }) => {
  const { report } = answered
  return flagText(look.flag ?? '', (name) => {
    if (name === 'value') return value
    if (name === 'status') return make.statusText(look)
    if (name === 'judged') {
      const { results } = answered.levels.of(level).result
      const result = results.find(({ rule }) => rule.name === look.paintedBy.flag)
      return result === undefined ? '' : judgedText(result, at, phraseContextOf(report))
    }
    const parameter = report.parameters.get(name)
    if (parameter !== undefined) return numberPrinter(parameter.format, report.locale)(parameter.value)
    const column = level.table.columns.get(name)?.column
    return column?.kind === 'number' ? make.labels.printer(name)(column.values[at]) : ''
  })
}
