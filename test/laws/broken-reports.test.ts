import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { ProblemError } from 'acuarela'
import { openReport } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { ROOT } from '../support/tool.js'

const DEMO = readFileSync(join(ROOT, 'examples/brezal/spring.acuarela.yaml'), 'utf8')
const [BUDGET, SHOPS] = ['budget', 'shops'].map((name) =>
  readFileSync(join(ROOT, `examples/brezal/${name}.csv`), 'utf8'),
)
const CSV = `${readFileSync(join(ROOT, 'examples/brezal/sales.csv'), 'utf8').split('\n').slice(0, 300).join('\n')}\n`

/** Small errors in a text, as hurried writers make them. */
const harm = fc.oneof(
  fc.tuple(fc.constant('cut' as const), fc.nat(), fc.integer({ min: 1, max: 12 })),
  fc.tuple(fc.constant('swap' as const), fc.nat(), fc.integer({ min: 1, max: 40 })),
  fc.tuple(
    fc.constant('put' as const),
    fc.nat(),
    fc.constantFrom(
      '{',
      '}',
      '[',
      ']',
      ':',
      ': ',
      ',',
      "'",
      '"',
      '#',
      ' #',
      '\n',
      '  ',
      '-',
      '%',
      '(',
      ')',
      'null',
      '007',
      '> ',
      '&a ',
      '*a',
      '\t',
      'é',
      '=',
      ' of ',
      '\u0000',
    ),
  ),
)

function harmed(text: string, [kind, where, what]: [string, number, string | number]): string {
  const at = where % text.length
  if (typeof what === 'string') return text.slice(0, at) + what + text.slice(at)
  if (kind === 'cut') return text.slice(0, at) + text.slice(at + what)
  return (
    text.slice(0, at) + text.slice(at + what, at + 2 * what) + text.slice(at, at + what) + text.slice(at + 2 * what)
  )
}

test('however a report is broken, it is painted or refused with problems that have a sentence and a place', async () => {
  let refused = 0
  let painted = 0
  await fc.assert(
    fc.asyncProperty(fc.array(harm, { minLength: 1, maxLength: 3 }), async (harms) => {
      const text = harms.reduce((t, h) => harmed(t, h as [string, number, string | number]), DEMO)
      try {
        const page = await openReport(text, { sales: CSV, budget: BUDGET, outlets: SHOPS })
        expect(page.exhibits.length).toBeGreaterThan(0)
        painted++
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error
        refused++
        expect(error.problems.length).toBeGreaterThan(0)
        for (const { message, place } of error.problems) {
          expect(message).toMatch(/^\S.{8,}/)
          expect(message).not.toMatch(/undefined|\[object|NaN/)
          // Every problem of a text has a line in it, except those of settings.
          expect(place.line ?? 1).toBeGreaterThan(0)
          if (place.path !== undefined) expect(place.line, message).toBeDefined()
        }
      }
    }),
    { seed: 20250630, numRuns: effort(400, 60) },
  )
  // Both outcomes occur often enough.
  expect(refused).toBeGreaterThan(effort(200, 30))
  expect(painted).toBeGreaterThan(effort(40, 4))
}, 180_000)
