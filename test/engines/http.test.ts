import { fromRows, ProblemError } from 'acuarela'
import { engineHandler, engineOverHttp } from 'acuarela/engine/http'
import { type GridExhibit, openReport } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

const ROWS = [
  { shop: 'Ash', region: 'North', amount: 120, cost: 60, sold: new Date('2025-01-03'), open: true },
  { shop: 'Elm', region: 'North', amount: 80, cost: 30, sold: new Date('2025-02-03'), open: false },
  { shop: 'Oak', region: 'South', amount: 140, cost: 99, sold: new Date('2025-02-14'), open: true },
]
const WIDE = fromRows(Array.from({ length: 500 }, (_, i) => ({ shop: `shop ${i}`, amount: i })))

type Handler = ReturnType<typeof engineHandler>

const post = (body: unknown, method = 'POST'): Request =>
  new Request('http://127.0.0.1/', {
    method,
    ...(method === 'POST' && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  })

/** The status of a reply with the codes of its problems. */
async function refusal(handler: Handler, body: unknown, method?: string): Promise<unknown[]> {
  const reply = await handler(post(body, method))
  if (reply.ok) return [reply.status]
  const { problems } = (await reply.json()) as { problems: { code: string }[] }
  return [reply.status, ...problems.map(({ code }) => code)]
}

const asked = (question: Record<string, unknown>, more: Record<string, unknown> = {}): Record<string, unknown> => ({
  call: 'ask',
  date: 'sold',
  question: { keys: [], parts: [], fields: [], where: [], ...question },
  ...more,
})
const part = (more: Record<string, unknown>): Record<string, unknown> => ({ statistic: 'sum', share: 0.5, ...more })

test('a question that was not asked by our page is refused before the engine sees it', async () => {
  const open = engineHandler(ROWS)
  const narrow = engineHandler(ROWS, { columns: ['shop', 'amount', 'sold'] })
  const deep = `${'('.repeat(5000)}1${')'.repeat(5000)}`
  const cases: [string, Handler, unknown, unknown[]][] = [
    ['a right one', open, asked({ keys: ['shop', 'month'], parts: [part({ of: 'amount - cost' })] }), [200]],
    ['no JSON', open, '{"call":', [400, 'http-request']],
    ['nothing', open, '', [400, 'http-request']],
    ['another call', open, { call: 'drop' }, [400, 'not-one-of']],
    ['an unknown key', open, { ...asked({}), sql: 'SELECT 1' }, [400, 'unknown-key']],
    ['a list for a map', open, [], [400, 'wrong-shape']],
    ['no question', open, { call: 'ask' }, [400, 'http-request']],
    ['a column that is not there', open, asked({ keys: ['shop"; DROP TABLE x; --'] }), [400, 'unknown-column']],
    [
      'a key of every object',
      open,
      asked({ keys: ['__proto__', 'constructor'] }),
      [400, 'unknown-column', 'unknown-column'],
    ],
    ['a hidden column as a key', narrow, asked({ keys: ['region'] }), [400, 'unknown-column']],
    ['a hidden column in a condition', narrow, asked({ where: ["region = 'North'"] }), [400, 'unknown-name']],
    [
      'a hidden column in an aggregate',
      narrow,
      asked({ parts: [part({ of: 'amount - cost' })] }),
      [400, 'unknown-name'],
    ],
    [
      'a hidden column in a field',
      narrow,
      asked({ keys: ['r'] }, { fields: [{ name: 'r', text: 'region' }] }),
      [400, 'unknown-name'],
    ],
    ['a hidden column as the date', narrow, { ...asked({}), date: 'cost' }, [400, 'unknown-column']],
    [
      'a hidden column by a second name',
      narrow,
      asked({ keys: ['r'] }, { derived: [{ name: 'r', same: 'region' }] }),
      [400, 'unknown-column'],
    ],
    ['a date that is none', open, { ...asked({}), date: 'amount' }, [400, 'unknown-column']],
    ['no condition', open, asked({ where: ['amount'] }), [400, 'wrong-type']],
    ['an aggregate in a condition', open, asked({ where: ['sum(amount) > 1'] }), [400, 'aggregate-here']],
    ['brackets without end', open, asked({ where: [deep] }), [400, 'expression-too-long']],
    ['brackets too deep', open, asked({ where: [deep.slice(4500, 5501)] }), [400, 'expression-too-deep']],
    ['a sum of texts', open, asked({ parts: [part({ of: 'shop' })] }), [400, 'http-request']],
    ['a sum of nothing', open, asked({ parts: [part({})] }), [400, 'http-request']],
    [
      'a statistic that is none',
      open,
      asked({ parts: [part({ statistic: 'exec', of: 'amount' })] }),
      [400, 'not-one-of'],
    ],
    ['a share above 1', open, asked({ parts: [part({ share: 7, of: 'amount' })] }), [400, 'wrong-shape']],
    ['a span without days', open, asked({ span: [null, 1e15] }), [400, 'http-request']],
    ['too many keys', open, asked({ keys: Array.from({ length: 13 }, () => 'shop') }), [400, 'http-many']],
    [
      'too many parts',
      open,
      asked({ parts: Array.from({ length: 2001 }, () => part({ of: 'amount' })) }),
      [400, 'http-many'],
    ],
    [
      'a circle of fields',
      open,
      asked(
        {},
        {
          fields: [
            { name: 'a', text: 'b' },
            { name: 'b', text: 'a' },
          ],
        },
      ),
      [400, 'circle'],
    ],
    [
      'lists of unequal length',
      open,
      asked({}, { derived: [{ name: 'x.y', kind: 'text', by: ['shop'], words: [['Ash']], values: ['a', 'b'] }] }),
      [400, 'http-request'],
    ],
    ['rows', open, { ...asked({}), call: 'records' }, [400, 'http-records']],
    ['a rest of nothing', open, { ...asked({}), call: 'askWhole' }, [400, 'http-request']],
  ]
  const found: [string, unknown[]][] = []
  for (const [name, handler, body] of cases) found.push([name, await refusal(handler, body)])
  expect(found).toEqual(cases.map(([name, , , wanted]) => [name, wanted]))
  expect(await refusal(open, undefined, 'GET')).toEqual([405, 'http-request'])
})

test('the size of requests and answers is bounded', async () => {
  const small = engineHandler(WIDE, { maxGroups: 100, maxBytes: 2000, records: true })
  expect(await refusal(small, asked({ keys: ['shop'] }, { date: undefined }))).toEqual([400, 'http-many'])
  expect(await refusal(small, { ...asked({}, { date: undefined }), call: 'records' })).toEqual([400, 'http-many'])
  const median = asked({ keys: ['shop'], parts: [part({ statistic: 'median', of: 'amount' })] }, { date: undefined })
  expect(await refusal(small, { ...median, call: 'askWhole' })).toEqual([400, 'http-many'])
  expect(await refusal(small, asked({ where: [' '.repeat(3000)] }))).toEqual([413, 'http-large'])
  expect(() => engineHandler(WIDE, { columns: ['shop', 'profit'] })).toThrow('no column profit')
  expect(() => engineHandler(WIDE, { maxGroups: 0 })).toThrow('maxGroups')
  expect(() => engineHandler(5 as never)).toThrow(ProblemError)
})

test('random requests are answered or refused, and never fail', async () => {
  const handler = engineHandler(ROWS)
  const texts = fc.oneof(
    fc.constantFrom('shop', 'amount', 'sold', 'amount > 5', '-amount', 'lag(amount)', 'value', '', "column('shop')"),
    fc.string(),
  )
  const statistic = fc.constantFrom('sum', 'count', 'median', 'last', 'countDistinct', 'stdev')
  const question = fc.record({
    keys: fc.array(texts, { maxLength: 3 }),
    parts: fc.array(fc.record({ statistic, share: fc.double({ min: 0, max: 1 }), of: texts }), { maxLength: 3 }),
    fields: fc.array(texts, { maxLength: 2 }),
    where: fc.array(texts, { maxLength: 2 }),
  })
  const request = fc.record(
    {
      call: fc.constantFrom('ask', 'askWhole', 'stats', 'columns', 'records'),
      date: fc.constantFrom('sold', 'amount'),
      fields: fc.array(fc.record({ name: texts, text: texts }), { maxLength: 3 }),
      question: fc.oneof(question, fc.jsonValue() as fc.Arbitrary<never>),
    },
    { requiredKeys: ['call'] },
  )
  const statuses = new Map<number, number>()
  await fc.assert(
    fc.asyncProperty(request, async (body) => {
      const { status } = await handler(post(body))
      statuses.set(status, (statuses.get(status) ?? 0) + 1)
      expect([200, 400]).toContain(status)
    }),
    { seed: 18, numRuns: 600 },
  )
  expect(Math.min(...statuses.values())).toBeGreaterThan(20)
})

test('what another server says is no answer, and a silent one is told', async () => {
  const right = engineHandler(ROWS)
  const report = {
    title: 'T',
    sources: { sales: { file: 'sales', date: 'sold' } },
    measures: { total: 'sum(amount)' },
    exhibits: [{ table: { rows: 'shop', show: ['total'] } }],
  }
  const through = (change: (text: string) => string) =>
    engineOverHttp('http://127.0.0.1/', {
      fetch: async (url, request) => {
        const reply = await right(new Request(url, request))
        const isAsked = String(request.body).includes('"call":"ask"')
        return new Response(isAsked ? change(await reply.text()) : await reply.text(), { status: reply.status })
      },
    })
  const codes = async (open: Promise<unknown>): Promise<unknown> =>
    open.then(
      () => 'answered',
      (error: unknown) => (error instanceof ProblemError ? error.problems.map(({ code }) => code) : error),
    )
  const page = await openReport(report, { sales: await through((text) => text) })
  expect((page.exhibits[0] as GridExhibit).rows.map((row) => row.cells[0]?.value)).toEqual([120, 80, 140])
  const forged = async (change: (text: string) => string): Promise<unknown> =>
    codes(openReport(report, { sales: await through(change) }))
  // A code that no word has, an answer without groups, a page of another program.
  expect(await forged((text) => text.replace('"Ash",', ''))).toEqual(['http-unreachable'])
  expect(await forged(() => '[{"groups":1},3]')).toEqual(['http-answer'])
  expect(await forged(() => '<!doctype html>')).toEqual(['http-unreachable'])
  const silent = engineOverHttp('http://127.0.0.1:9/')
  expect(await codes(silent)).toEqual(['http-unreachable'])
  const other = engineOverHttp('http://127.0.0.1/', { fetch: async () => new Response('[{"columns":1},5]') })
  expect(await codes(other)).not.toBe('answered')
  await expect(engineOverHttp(5 as never)).rejects.toThrow('url')
})
