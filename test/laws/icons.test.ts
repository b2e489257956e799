import { paint, type RuleSpec, type TableCellStyle } from 'acuarela'
import { toHtml } from 'acuarela/html'
import { openReport } from 'acuarela/report'
import { toText } from 'acuarela/terminal'
import fc from 'fast-check'
import { parseHTML } from 'linkedom'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { rows, rule, specOf, tableOf } from '../support/rules.js'

const RUNS = { seed: 20261130, numRuns: effort(250, 100) }

test('law 50: an icon after the number is a channel of its own', () => {
  fc.assert(
    fc.property(rows, fc.array(rule, { minLength: 1, maxLength: 2 }), (list, specs) => {
      const table = tableOf(list)
      const painted = (...sides: ('before' | 'after')[]): TableCellStyle[] => {
        const rules = specs.map((spec, k): RuleSpec => ({ ...spec, icon: sides[k] }))
        const painting = paint(table, specOf(rules))
        return list.flatMap((_, row) => ['x', 'y'].map((column) => painting.cell(row, column)))
      }
      const plain = painted('before', 'before')
      const behind = painted('after', 'after')
      behind.forEach((cell, k) => {
        const { icon, iconAfter, paintedBy, ...rest } = cell
        const { icon: was, iconAfter: none, paintedBy: by, ...others } = plain[k]
        expect([icon, iconAfter, none, rest]).toEqual([null, was, null, others])
        expect(paintedBy.iconAfter).toBe(by.icon)
      })
      // Of two rules each has its side, unless the first leaves nothing to the second.
      const [first, second] = specs
      if (second === undefined || first.final === true) return
      const alone = paint(table, specOf([second]))
      painted('before', 'after').forEach(({ iconAfter }, k) => {
        expect(iconAfter).toBe(alone.cell(Math.floor(k / 2), k % 2 === 0 ? 'x' : 'y').icon)
      })
    }),
    RUNS,
  )
})

test('law 50: an arrow by sign, and an icon from a column, stand at the side of their rule', () => {
  const rules: RuleSpec[] = [
    { paint: 'x', bands: [{ above: 0, style: { icon: 'tick' } }] },
    { paint: 'x', icon: 'after', bands: [{ otherwise: { icon: 'bySign' } }] },
    { paint: 'y', icon: 'after', fromColumn: { icon: 'sign' } },
  ]
  const painting = paint(
    [
      { x: -1, y: 1, sign: 'drop' },
      { x: 0, y: 2, sign: 'petals-2-of-5' },
      { x: 1, y: 3, sign: 'nothing' },
    ],
    { rules },
  )
  const icons = (column: string): unknown[] =>
    [0, 1, 2].map((row) => [painting.cell(row, column).icon, painting.cell(row, column).iconAfter])
  expect(icons('x')).toEqual([
    [null, 'down'],
    [null, 'sideways'],
    ['tick', 'up'],
  ])
  expect(icons('y')).toEqual([
    [null, 'drop'],
    [null, 'petals-2-of-5'],
    [null, null],
  ])
  expect(painting.why(2, 'x').sentences.join(' ')).toContain('This sets icon after the number.')
  expect(painting.rules()[1]).toMatchObject({ sentence: 'x: otherwise → icon bySign, icon after the number' })
  expect(() => paint([{ x: 1 }], { rules: [{ ...rules[1], icon: 'behind' as 'after' }] })).toThrow(
    "'behind' is not one of before, after",
  )
})

test('law 50: columns place both icons, and hide hides both', async () => {
  const drawn = async (column: object, hide?: 'icon'): Promise<{ text: string; html: string }> => {
    const page = await openReport(
      {
        title: 't',
        sources: { s: { file: 'd.csv' } },
        measures: { total: 'sum(amount)' },
        statuses: { good: { label: 'Good', icon: 'tick' } },
        rules: [
          { paint: 'total', bands: [{ above: 15, status: 'good' }], ...(hide && { hide }) },
          { paint: 'total', icon: 'after', bands: [{ above: 15, style: { icon: 'up' } }] },
        ],
        exhibits: [{ table: { rows: 'shop', show: [{ show: 'total', ...column }] } }],
      },
      { s: 'shop,amount\nAsh,10\nElm,20\n' },
    )
    const { document } = parseHTML(await toHtml(page))
    const cell = document.querySelectorAll('table.grid td')[1]
    const html = [...(cell.firstElementChild?.children ?? [])]
      .map((part) => part.querySelector('use')?.getAttribute('href') ?? part.textContent)
      .join(' ')
    const text =
      toText(page)
        .split('\n')
        .find((line) => line.startsWith('Elm')) ?? ''
    return { text: text.replace(/\s+/g, ' '), html }
  }
  expect(await drawn({})).toEqual({ text: 'Elm ✓ 20 ↑', html: '#i-tick Good,  20 #i-up' })
  expect(await drawn({ icon: 'after' })).toEqual({ text: 'Elm 20 ✓ ↑', html: 'Good,  20 #i-tick #i-up' })
  expect(await drawn({}, 'icon')).toEqual({ text: 'Elm 20 (Good)', html: 'Good,  20' })
  // The status has words of its own; the other icon has its name.
  const page = await openReport(
    {
      title: 't',
      sources: { s: { file: 'd.csv' } },
      measures: { total: 'sum(amount)' },
      rules: [{ paint: 'total', icon: 'after', bands: [{ above: 0, style: { icon: 'up' } }] }],
      exhibits: [{ table: { rows: 'shop', show: 'total' } }],
    },
    { s: 'shop,amount\nAsh,10\n' },
  )
  expect(
    parseHTML(await toHtml(page))
      .document.querySelector('td svg')
      ?.getAttribute('aria-label'),
  ).toBe('up')
})
