import { DuckDBInstance } from '@duckdb/node-api'
import { fromColumns, paint } from 'acuarela'
import { expect, test } from 'vitest'

/** Numbers with ties and gaps from a fixed seed. */
const values = Array.from({ length: 5000 }, (_, i) => (i % 97 === 0 ? null : ((i * 7919) % 1009) / 8 - 40))
const regions = values.map((_, i) => ['Coast', 'Upland', 'Valley'][i % 3])

test('places, shares and percentiles of rules are those that a database gives', async () => {
  const instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  await connection.run('CREATE TABLE t(i INTEGER, x DOUBLE, region VARCHAR)')
  const appender = await connection.createAppender('t')
  for (const [i, x] of values.entries()) {
    appender.appendInteger(i)
    if (x === null) appender.appendNull()
    else appender.appendDouble(x)
    appender.appendVarchar(regions[i])
    appender.endRow()
  }
  appender.closeSync()
  const ask = async (sql: string): Promise<unknown[][]> =>
    (await connection.runAndReadAll(sql)).getRows() as unknown[][]
  const painting = paint(fromColumns({ x: values, region: regions }), {
    rules: [
      { paint: 'x', rank: { top: 25, style: { weight: 'bold' } } },
      { paint: 'x', within: 'region', rank: { bottom: '10%', style: { icon: 'down' } } },
      { paint: 'x', within: 'region', bands: [{ above: 'percentile(value, 65%)', style: { ink: 'indigo' } }] },
      { paint: 'x', bands: [{ below: 'median(x) within all', style: { fill: 'sky' } }] },
    ],
  })
  const rows = await ask(`
    SELECT i,
      rank() OVER (ORDER BY x DESC) <= 25,
      rank() OVER (PARTITION BY region ORDER BY x) - 1 < greatest(1, 0.1 * count(x) OVER (PARTITION BY region)),
      x > (SELECT quantile_cont(y.x, 0.65) FROM t y WHERE y.region = t.region),
      x < (SELECT median(x) FROM t)
    FROM t WHERE x IS NOT NULL`)
  expect(rows.length).toBe(values.filter((x) => x !== null).length)
  for (const [i, top, bottom, above, below] of rows) {
    const { weight, icon, ink, fill } = painting.cell(Number(i), 'x')
    expect([weight, icon, ink !== null, fill !== null], String(i)).toEqual([
      top === true ? 'bold' : null,
      bottom === true ? 'down' : null,
      above === true || below === true,
      below === true,
    ])
  }
  connection.closeSync()
})
