import type { ChartExhibit } from '../../page/page.js'
import { framesOf } from '../chart/frame.js'
import { placeText } from './captions.js'
import { EMPTY, type Sheet, type SheetRow, sheetCell } from './sheet.js'

/**
 * A chart as a table: a row for each place, a column for each series, panels one after the other,
 * and reference lines as rows.
 */
export function chartSheet(exhibit: ChartExhibit): Sheet {
  const several = exhibit.series.length > 1
  const [frame] = framesOf({ ...exhibit, horizontal: true }, { width: 800, height: 300 })
  const [low, high] = frame?.domain ?? [0, 1]
  const share = (v: number): number => (v - low) / (high - low)
  const zero = share(Math.max(low, Math.min(0, high)))
  const blank = exhibit.series.map(() => EMPTY)
  const rows: SheetRow[] = exhibit.panels.flatMap(({ label: name }, panel) => {
    const row = exhibit.places.map((at, place): SheetRow => {
      const cells = exhibit.series.map((series, s) => {
        const p = exhibit.points.find((o) => o.panel === panel && o.place === place && o.series === s)
        if (p === undefined) return EMPTY
        const cell = sheetCell(p)
        if (p.value === null) return { ...cell, bar: null, dot: null }
        const end = share(p.value)
        const bar = { from: Math.min(zero, end), to: Math.max(zero, end) }
        // In a table the bars of a stack begin at zero, as each has a column.
        return { ...cell, bar, dot: series.draw === 'bar' ? null : p.value < 0 ? ('from' as const) : ('to' as const) }
      })
      const heading = { ...EMPTY, text: placeText(at) }
      return { kind: 'detail', indent: name === '' ? 0 : 1, depth: 0, cells: [heading, ...cells] }
    })
    if (name === '') return row
    return [{ kind: 'group' as const, indent: 0, depth: 0, cells: [{ ...EMPTY, text: name }, ...blank] }, ...row]
  })
  const lines = exhibit.references.map((line): SheetRow => {
    const bar = { from: share(low), to: share(line.value) }
    return {
      kind: 'total',
      indent: 0,
      depth: 0,
      cells: [
        {
          ...EMPTY,
          text: line.panel === undefined ? line.label : `${line.label}, ${exhibit.panels[line.panel].label}`,
        },
        { ...EMPTY, text: line.text, bar, dot: 'to' },
        ...blank.slice(1),
      ],
    }
  })
  return {
    headings: 1,
    columns: [
      { label: exhibit.along, right: false },
      ...exhibit.series.map(({ label }) => ({ label: several ? label : exhibit.measureLabel, right: true })),
    ],
    tops: [],
    rows: [...rows, ...lines],
  }
}
