import { paint } from 'acuarela'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { type Row, rows, rules, specOf, tableOf } from '../support/rules.js'

const RUNS = { seed: 20261123, numRuns: effort(150, 40) }
const COLUMNS = ['x', 'y', 'region']

function each(list: readonly Row[], visit: (row: number, column: string) => void): void {
  list.forEach((_, row) => {
    for (const column of COLUMNS) visit(row, column)
  })
}

test('why agrees with what is painted, for each channel of each cell', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      const painting = paint(tableOf(list), specOf(specs))
      each(list, (row, column) => {
        const look = painting.cell(row, column)
        const why = painting.why(row, column)
        // One rule sets a channel, and no other claims it.
        expect(Object.fromEntries(why.channels.map(({ channel, by }) => [channel, by]))).toEqual(look.paintedBy)
        for (const { rule, won, lost } of why.rules) {
          for (const channel of won) expect(look.paintedBy[channel]).toBe(rule)
          for (const { channel, to } of lost) {
            expect(to, `${rule} loses ${channel}`).not.toBe(rule)
            expect(why.rules.map((other) => other.rule)).toContain(to)
          }
        }
        for (const [channel, by] of Object.entries(look.paintedBy))
          expect(why.rules.find(({ rule }) => rule === by)?.won).toContain(channel)
        // The value, a sentence for each rule, and remarks.
        expect(why.sentences.slice(1)).toEqual([...why.rules.map((rule) => rule.sentence), ...why.remarks])
        for (const rule of why.rules) expect(rule.sentence.startsWith(`${rule.title}: `)).toBe(true)
        const replaced = why.remarks.filter((text) => text.startsWith('The text colour')).length
        expect(why.remarks.length).toBe(Number(why.rules.length === 0) + replaced)
      })
    }),
    RUNS,
  )
})

test('a paused rule equals a rule removed, and says that it is paused', () => {
  fc.assert(
    fc.property(rows, rules, fc.nat(3), (list, specs, at) => {
      const k = at % specs.length
      const spec = specOf(specs)
      const paused = paint(tableOf(list), {
        ...spec,
        rules: spec.rules.map((r, i) => (i === k ? { ...r, paused: true } : r)),
      })
      const removed = paint(tableOf(list), { ...spec, rules: spec.rules.filter((_, i) => i !== k) })
      each(list, (row, column) => {
        expect(paused.cell(row, column)).toEqual(removed.cell(row, column))
        const explained = paused.why(row, column).rules.find(({ rule }) => rule === `r${k}`)
        if (explained !== undefined) expect(explained.skipped).toEqual({ because: 'paused', text: 'it is paused' })
      })
      expect(paused.rules()[k].explanation).toMatch(/^Paused: /)
      expect(paused.rules()[k].sentence).toMatch(/, paused$/)
    }),
    RUNS,
  )
})

test('adding a lower rule changes no channel already set', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      const spec = specOf(specs)
      const before = paint(tableOf(list), { ...spec, rules: spec.rules.slice(0, -1) })
      const after = paint(tableOf(list), spec)
      each(list, (row, column) => {
        const [was, is] = [before.cell(row, column), after.cell(row, column)]
        for (const channel of Object.keys(was.paintedBy) as (keyof typeof was.paintedBy)[]) {
          // A text colour that was chosen for a fill was set by no rule, and gives way to one that
          // is.
          const by = specs[Number(was.paintedBy.ink?.slice(1))]
          if (channel === 'ink' && by?.gradient !== undefined && was.paintedBy.ink === was.paintedBy.fill) continue
          if (channel === 'ink' && was.fill === null && is.fill !== null) continue
          expect(is[channel]).toEqual(was[channel])
        }
      })
    }),
    RUNS,
  )
})

test('what is tallied is what is shown, and every cell counts in one status at most', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      const painting = paint(tableOf(list), specOf(specs))
      const { statuses, parts } = painting.tally()
      for (const { measure, status, count } of statuses)
        expect(count).toBe(list.filter((_, row) => painting.cell(row, measure).status === status).length)
      for (const { covered: given, painted } of parts) {
        expect(painted).toBeLessThanOrEqual(given)
        expect(given).toBeLessThanOrEqual(list.length)
      }
    }),
    RUNS,
  )
})

test('a rehearsed value gets what the same value gets where it stands', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      // One rule at a time: a rehearsal shows the result of a rule alone.
      const painting = paint(tableOf(list), specOf(specs.slice(0, 1)))
      for (const { measure, cell, trials } of painting.rehearse()) {
        if (cell < 0 || measure === '(row)') continue
        const value = list[cell][measure as 'x']
        const again = painting.rehearse('r0', [value]).find((r) => r.measure === measure)
        const trial = again?.trials.find((t) => t.value === value)
        if (trial === undefined || specs[0].judge !== undefined) continue
        const look = painting.cell(cell, measure)
        expect(trial.style.status).toBe(look.status)
        expect(trial.style.icon).toBe(look.icon)
        expect(trials.some(({ what }) => what === 'missing')).toBe(true)
      }
    }),
    RUNS,
  )
})

test('repainting with another parameter equals painting again', () => {
  fc.assert(
    fc.property(rows, rules, fc.integer({ min: -6, max: 6 }), (list, specs, target) => {
      const moved = paint(tableOf(list), specOf(specs)).repaint({ target })
      const fresh = paint(tableOf(list), specOf(specs, target))
      each(list, (row, column) => {
        expect(moved.cell(row, column)).toEqual(fresh.cell(row, column))
        expect(moved.why(row, column)).toEqual(fresh.why(row, column))
      })
      expect(moved.notes).toEqual(fresh.notes)
    }),
    RUNS,
  )
})

test('steps shared by several rules equal cell by cell: a condition that always holds changes nothing', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      const spec = specOf(specs)
      const slow = { ...spec, rules: spec.rules.map((r) => ({ ...r, where: r.where ?? 'true' })) }
      const [fast, plain] = [paint(tableOf(list), spec), paint(tableOf(list), slow)]
      each(list, (row, column) => expect(fast.cell(row, column)).toEqual(plain.cell(row, column)))
    }),
    RUNS,
  )
})

test('every explanation names each limit, and all that a rule gives', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      const painting = paint(tableOf(list), specOf(specs))
      painting.rules().forEach(({ explanation, sentence: written }, k) => {
        expect(explanation.endsWith('.')).toBe(true)
        for (const band of specs[k].bands ?? [])
          for (const sign of ['atLeast', 'above', 'atMost', 'below'] as const) {
            const limit = band[sign]
            if (limit === undefined) continue
            const words: Record<string, string> = {
              target: '2',
              '50% of target': '1',
              y: ' y',
              'mean(value)': 'the mean',
              'mean(x) within region': 'the mean of x within each region',
              'percentile(value, 60%)': 'the 60th percentile',
            }
            expect(explanation).toContain(typeof limit === 'number' ? String(limit).replace('-', '−') : words[limit])
          }
        const { rank, bands } = specs[k]
        for (const status of [rank?.status, ...(bands ?? []).map((band) => band.status)])
          if (status !== undefined) expect(written).toContain(`→ ${status}`)
        for (const status of [rank?.status, ...(bands ?? []).map((band) => band.status)])
          if (status !== undefined)
            expect(explanation).toContain({ ahead: 'Ahead', close: 'Near', behind: 'Behind' }[status])
      })
    }),
    RUNS,
  )
})

test('the order of rows matters to no kind of rule', () => {
  fc.assert(
    fc.property(rows, rules, (list, specs) => {
      const [forth, back] = [paint(tableOf(list), specOf(specs)), paint(tableOf([...list].reverse()), specOf(specs))]
      each(list, (row, column) => expect(back.cell(list.length - 1 - row, column)).toEqual(forth.cell(row, column)))
    }),
    RUNS,
  )
})

test('a higher limit never makes a status better', () => {
  const order = ['behind', 'close', 'ahead']
  fc.assert(
    fc.property(rows, fc.integer({ min: -6, max: 6 }), fc.nat(6), (list, target, more) => {
      const painting = paint(tableOf(list), {
        statuses: { ahead: { wash: 'aqua' }, close: { wash: 'straw' }, behind: { wash: 'coral' } },
        parameters: { target },
        rules: [
          {
            paint: 'x',
            bands: [
              { atLeast: 'target', status: 'ahead' },
              { atLeast: 'target - 2', status: 'close' },
              { otherwise: 'behind' },
            ],
          },
        ],
      })
      const higher = painting.repaint({ target: target + more })
      list.forEach((_, row) => {
        const [was, is] = [painting, higher].map((p) => order.indexOf(p.cell(row, 'x').status ?? ''))
        expect(is).toBeLessThanOrEqual(was)
      })
    }),
    RUNS,
  )
})
