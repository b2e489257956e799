import type { Cell, Exhibit, Heading, RecordCell } from '../../page/page.js'
import { PLAIN_STYLE } from '../../style/cell-style.js'

/**
 * The same exhibit without colours, to be shown beside the painted one. Hidden numbers are shown.
 */
export function unpaintedTwin(exhibit: Exhibit): Exhibit {
  const head = {
    name: `${exhibit.name}-plain`,
    title: `${exhibit.title}, plain`,
    legends: [],
    messages: [],
    besideUnpainted: false,
    beside: false,
  }
  switch (exhibit.kind) {
    case 'chart': {
      const points = exhibit.points.map((point) => {
        const { mark, outline } = exhibit.series[point.series]
        return { ...point, ...unpainted(point), mark, outline, painted: false }
      })
      return { ...exhibit, ...head, points }
    }
    case 'cards':
      return {
        ...exhibit,
        ...head,
        cards: exhibit.cards.map((card) => ({
          ...card,
          cell: unpainted(card.cell),
          versus: card.versus && unpainted(card.versus),
        })),
      }
    case 'records':
      return {
        ...exhibit,
        ...head,
        records: exhibit.records.map((record) => ({ ...record, painted: false, cells: record.cells.map(unpainted) })),
      }
    case 'reading':
      return {
        ...exhibit,
        ...head,
        sentences: exhibit.sentences.map(({ text }) => ({ text, style: null, statusText: '' })),
      }
    default: {
      const { columns: _, longestHeading: __, ...grid } = exhibit
      return {
        ...grid,
        ...head,
        styles: exhibit.styles.map((style) => ({ ...style, draw: 'number' })),
        rows: exhibit.rows.map((row) => ({
          ...row,
          heading: unpainted(row.heading),
          cells: row.cells.map((cell) => cell && unpainted(cell)),
        })),
      }
    }
  }
}

function unpainted<T extends Heading | Cell | RecordCell>(cell: T): T {
  return {
    ...cell,
    style: PLAIN_STYLE,
    bar: null,
    flag: null,
    statusText: '',
    ...('extent' in cell ? { extent: null, was: undefined } : {}),
  }
}
