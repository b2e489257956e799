import { parseHTML } from 'linkedom'
import Papa from 'papaparse'
import { expect, test } from 'vitest'
import { shownAbove } from '../support/legends.js'
import { acuarela, folder, ROOT } from '../support/tool.js'
import { WILD, WILD_CSV } from '../support/wild.js'

/** Every output is compared with the painted data as JSON. */
interface Data {
  exhibits: {
    name: string
    kind: string
    cells: {
      row: Record<string, string | null>
      column: Record<string, string | null>
      level: { row: string; column: string }
      measure: string
      value: number | string | null
      text: string
      style: Record<string, string | null>
      paintedBy: Record<string, string>
    }[]
    headings: { axis: string; text: string }[]
    sentences?: string[]
    legends: {
      rule: string
      measure: string
      population: string
      entries: { label: string; limit: string; count: number | null }[]
      ramp: { marks: { text: string }[] } | null
    }[]
  }[]
}

const GLYPHS: Record<string, string> = {
  tick: '✓',
  dash: '–',
  cross: '✗',
  up: '↑',
  sideways: '→',
  down: '↓',
  sprig: '❧',
  ring: '○',
  drop: '◆',
}

async function painted(report: string, cwd: string): Promise<{ data: Data; csv: string; text: string; html: string }> {
  const run = async (...args: string[]): Promise<string> => {
    const { code, out, err } = await acuarela(['paint', report, ...args], cwd)
    expect([code, err]).toEqual([0, ''])
    return out
  }
  const [json, csv, text, html] = await Promise.all([
    run('--to', 'json'),
    run('--to', 'csv'),
    run('--to', 'text', '--width', '0'),
    run('--to', 'html'),
  ])
  return { data: JSON.parse(json) as Data, csv, text, html }
}

/** Labels of statuses as they are shown. */
const LABELS: Record<string, Record<string, string>> = {
  spring: {
    ahead: 'On target',
    close: 'Near target',
    behind: 'Behind',
    overPlan: 'Above plan',
    shortOfPlan: 'Under plan',
    leading: 'Leading',
  },
  wild: { good: 'Good <i>', bad: 'Bad & low', pale: 'Pale' },
}

async function all(): Promise<[string, Awaited<ReturnType<typeof painted>>][]> {
  const cwd = await folder({ 's.csv': WILD_CSV, 'wild.acuarela.yaml': WILD })
  return [
    ['spring', await painted('examples/brezal/spring.acuarela.yaml', ROOT)],
    ['wild', await painted('wild.acuarela.yaml', cwd)],
  ]
}

test('every cell has the same text, status and look in JSON, CSV, text and HTML, and every key the same entries', async () => {
  for (const [name, { data, csv, text, html }] of await all()) {
    const labels = LABELS[name]
    const words = (status: string | null): string => (status === null ? '' : labels[status])
    const { document } = parseHTML(html)
    const rows = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true }).data
    expect(rows.length).toBe(data.exhibits.reduce((sum, { cells }) => sum + cells.length, 0))
    let at = 0
    const blocks = text.split('\n')
    for (const exhibit of data.exhibits) {
      const place = `${name} ${exhibit.name}`
      // CSV: cell by cell, in the same order; a guarded text begins with an apostrophe.
      for (const cell of exhibit.cells) {
        const row = rows[at++]
        expect(row.exhibit).toBe(exhibit.name)
        expect(row.text.replace(/^'/, ''), place).toBe(cell.text)
        expect(row.value.replace(/^'/, '')).toBe(cell.value === null ? '' : String(cell.value))
        expect([row.status, row.statusText, row.fill, row.icon, row.iconAfter]).toEqual([
          cell.style.status ?? '',
          words(cell.style.status),
          cell.style.fill ?? '',
          cell.style.icon ?? '',
          cell.style.iconAfter ?? '',
        ])
        for (const [key, value] of Object.entries(cell.row))
          expect(row[`row.${key}`].replace(/^'/, '')).toBe(String(value ?? ''))
      }
      // HTML: the cells of the section, status words before the number.
      const section = document.querySelector(`[aria-labelledby="x-${exhibit.name}"]`)
      if (section === null) throw new Error(`no section ${place}`)
      const said = (cell: Data['exhibits'][number]['cells'][number], flag = true): string =>
        `${cell.style.status === null ? '' : `${words(cell.style.status)}, `}${cell.text}${flag ? (cell.style.flag ?? '') : ''}`
      const texts = (selector: string): string[] =>
        [...section.querySelectorAll(selector)].map((node) => node.textContent ?? '')
      const kind = exhibit.kind
      if (kind === 'table' || kind === 'heatmap' || kind === 'list') {
        const shown = [...section.querySelectorAll(':scope > .wide > table > tbody > tr')].flatMap((row) =>
          [...row.querySelectorAll('td')]
            .filter((td) => !/\bk\b/.test(td.className) && td.innerHTML !== '')
            .map(
              (td) =>
                // Icons may follow the number; the reading order is the same.
                td.textContent ?? '',
            ),
        )
        expect(
          shown.filter((t) => t !== ''),
          place,
        ).toEqual(exhibit.cells.map((cell) => said(cell)).filter((t) => t !== ''))
      }
      if (kind === 'chart' && exhibit.cells.some((cell) => cell.value !== null)) {
        const shown = [...section.querySelectorAll('.nums tbody tr')].slice(0, exhibit.cells.length)
        expect(
          shown.map((row) => row.querySelector('td.n')?.textContent),
          place,
        ).toEqual(exhibit.cells.map((c) => c.text))
        expect(shown.map((row) => row.querySelector('td:last-child')?.textContent)).toEqual(
          exhibit.cells.map((c) => words(c.style.status)),
        )
      }
      if (kind === 'records' && exhibit.name !== 'single')
        expect(texts(':scope > .wide > table > tbody td'), place).toEqual(exhibit.cells.map((cell) => said(cell)))
      if (kind === 'reading') {
        expect(texts('.words li').map((t) => t.replace(/\s/g, ''))).toEqual(
          exhibit.sentences?.map((sentence) =>
            Object.values(labels).some((label) => sentence.startsWith(`${label}: `))
              ? sentence.replace(': ', '').replace(/\s/g, '')
              : sentence.replace(/\s/g, ''),
          ),
        )
        for (const sentence of exhibit.sentences ?? []) expect(text).toContain(sentence)
      }
      // Keys, in both.
      const written = (legends: typeof exhibit.legends): string[] =>
        legends.flatMap(({ entries }) =>
          entries.map(({ label, limit, count }) =>
            // A card is one cell, so its style has no count.
            [label, limit, exhibit.kind === 'cards' ? '' : `· ${count}`].filter((t) => t !== '').join(' '),
          ),
        )
      const entries = written(exhibit.legends)
      // A page names the exhibit above for a legend that it shows.
      const shownHere = written(
        exhibit.legends.filter((legend) => shownAbove(legend, exhibit, data.exhibits) === undefined),
      )
      const keys = texts('.key[aria-label^="Key"] li:not(.of):not(.ramp)')
      expect(
        keys.map((t) => t.replace(/^Aa/, '').trim().replace(/\s+/g, ' ')),
        place,
      ).toEqual(shownHere)
      for (const entry of entries)
        expect(
          blocks.some((line) => line.trimEnd().endsWith(entry)),
          `${place}: ${entry}`,
        ).toBe(true)
      // Text: a line for each row, with every icon, number and flag in order.
      if (kind === 'table' || kind === 'heatmap' || kind === 'list' || kind === 'records') {
        const lines = new Map<string, string>()
        for (const cell of exhibit.cells) {
          const row = JSON.stringify([cell.row, cell.level.row])
          const sign = (icon: string | null): string =>
            icon === null || cell.style.hide === 'icon' ? '' : GLYPHS[icon]
          const icon = sign(cell.style.icon)
          const second = sign(cell.style.iconAfter)
          const behind = exhibit.name === 'flat' && cell.measure === 'margin'
          const bare = cell.style.status !== null && cell.style.icon === null ? `(${words(cell.style.status)})` : ''
          const word = behind
            ? `${cell.text}${icon}${second}${cell.style.flag ?? ''}${bare}`
            : `${icon}${cell.text}${second}${cell.style.flag ?? ''}${bare}`
          lines.set(row, `${lines.get(row) ?? ''}${word}`)
        }
        if (exhibit.name === 'single') continue
        const bare = blocks.map((line) => line.replace(/[\s█▏▎▍▌▋▊▉─●▁▂▃▄▅▆▇▶◀]/g, ''))
        for (const [row, cells] of lines) {
          const wanted = cells.replace(/\s/g, '')
          expect(
            bare.some((line) => line.endsWith(wanted)),
            `${place} ${row}: ${wanted}`,
          ).toBe(true)
        }
      }
    }
  }
})

test('text fits the width that it is given, wide characters counted as two', async () => {
  const wide =
    'title: 幅\nlocale: ja\nsources: { s: { file: s.csv } }\nmeasures: { x: sum(x) }\nrules: [{ paint: x, bar: {} }]\nexhibits: [{ name: t, table: { rows: k, columns: c, show: x, totals: top } }]\n'
  const csv = [
    'k,c,x',
    ...Array.from(
      { length: 60 },
      (_, i) => `東京の園芸店の長い名前${i % 4},${'期間'.repeat(1 + (i % 3))}${i % 15},${i}`,
    ),
  ].join('\n')
  const cwd = await folder({ 's.csv': csv, 'w.acuarela.yaml': wide, 'spring.csv': 'a' })
  const { widthOf } = await import('../../src/view/terminal/columns.js')
  for (const width of [24, 40, 60, 100]) {
    const { out } = await acuarela(['paint', 'w.acuarela.yaml', '--width', String(width)], cwd)
    const widest = Math.max(...out.split('\n').map(widthOf))
    // A heading and one column are the least that a line shows.
    expect(widest, `${width}`).toBeLessThanOrEqual(Math.max(width, 44))
    const { out: demo } = await acuarela([
      'paint',
      'examples/brezal/spring.acuarela.yaml',
      '--width',
      String(Math.max(60, width)),
    ])
    expect(Math.max(...demo.split('\n').map(widthOf))).toBeLessThanOrEqual(Math.max(60, width))
  }
})
