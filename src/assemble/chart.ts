import type { PackedColor } from '../color/color.js'
import { contrast } from '../color/contrast.js'
import { PAPER, PIGMENTS } from '../color/pigments.js'
import { numberPrinter } from '../format/format.js'
import type { Look } from '../look/look.js'
import type { ChartExhibit, ChartPoint } from '../page/page.js'
import { formatFor, printerFor } from '../rule/print.js'
import { isPeriodUnit } from '../time/period.js'
import { type Answered, lineValue } from './answer.js'
import { createCellMaker, headingText } from './cells.js'
import { childOrder } from './order.js'

/** WCAG 2.2, success criterion 1.4.11: the least contrast of a mark with its ground. */
const MARK_CONTRAST = 3

/** Lays out a bar chart: one point a header of its only key. */
export function buildChart(answered: Answered): ChartExhibit {
  const { exhibit, report, summary } = answered
  const make = createCellMaker(answered)
  const [measure] = exhibit.show
  const [along] = exhibit.rows
  const axis = summary.rows
  const level = summary.levels[1][0]
  const domain = axis.keys[0]?.domain
  const points = childOrder(answered)(0, 0).map((i): ChartPoint => {
    const node = axis.depths[1][i]
    const cell = make.cell(level, i, 0, measure)
    const [code] = node.codes
    let label = make.label(axis, node)
    let outer = ''
    if (domain.kind === 'time' && isPeriodUnit(domain.unit) && domain.unit !== 'year' && code >= 0) {
      label = make.periods.short(domain.unit, domain.periods[code])
      outer = make.periods.year(domain.unit, domain.periods[code])
    }
    return { ...cell, label, outer, ...markOf(cell.look) }
  })
  for (const { rest, levels } of summary.rests) {
    const cell = make.cell(levels[0], 0, 0, measure)
    points.push({ ...cell, label: rest.label, outer: '', ...markOf(cell.look) })
  }
  const facts = report.measures.get(measure)
  const unit = facts?.unit ?? { is: 'none' as const }
  const print = printerFor(facts?.format, unit, report.locale)
  const short = numberPrinter(
    { ...formatFor(facts?.format, unit), digits: 0, compact: true, signed: false },
    report.locale,
  )
  const lines = exhibit.lines.map((line) => {
    const value = lineValue(report, line)
    const parameter = report.parameters.get(line.text)
    return { value, text: print(value), label: line.label ?? parameter?.label ?? line.text }
  })
  const { legends, notes } = answered.told()
  return {
    ...answered.head,
    kind: 'chart',
    along: headingText([along], report.labels),
    measureLabel: facts?.label ?? measure,
    points,
    timed: domain?.kind === 'time',
    lines: lines.filter((line) => !Number.isNaN(line.value)),
    labels: exhibit.labels,
    axisText: short,
    legends,
    notes,
  }
}

/** A status colours the whole mark: a pigment by its body, any other fill by itself. A pale mark gets an outline. */
function markOf(look: Look): { mark: PackedColor; outline: PackedColor | null } {
  const { pigment } = look
  const mark = pigment?.body ?? look.fill ?? PIGMENTS.pebble.body
  if (contrast(mark, PAPER) >= MARK_CONTRAST) return { mark, outline: null }
  return { mark, outline: pigment?.ink ?? look.ink ?? PIGMENTS.pebble.ink }
}
