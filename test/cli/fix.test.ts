import { cp, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { acuarela, folder, ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')

interface Finding {
  code: string
  at: string
  edits?: object[]
}

async function careless(): Promise<string> {
  const cwd = await folder({})
  for (const file of ['sales', 'budget', 'footfall', 'shops', 'freight'])
    await cp(join(BREZAL, `${file}.csv`), join(cwd, `${file}.csv`))
  await cp(join(BREZAL, 'careless.acuarela.yaml'), join(cwd, 'careless.acuarela.yaml'))
  return cwd
}

test('proof --fix makes the fixes that need no decision, and nothing else', async () => {
  const cwd = await careless()
  const text = await readFile(join(cwd, 'careless.acuarela.yaml'), 'utf8')
  const { out, code } = await acuarela(['proof', 'careless.acuarela.yaml', '--fix', '--json'], cwd)
  expect(code).toBe(1)
  const { fixes, findings, written } = JSON.parse(out) as {
    fixes: Finding[]
    findings: Finding[]
    written: boolean
  }
  expect(written).toBe(true)
  expect([...new Set(fixes.map((fix) => fix.code))].sort()).toEqual([
    'against-sign',
    'color-alone',
    'contrast',
    'count-for-share',
    'equal-in-bad',
    'hole',
    'missing-in-bad',
    'one-scale-unlike',
    'open-end',
    'overlap',
    'percent-meant',
    'ranked-outside',
    'scale-squeezed',
    'twin-rules',
    'typed-limit',
    'unreachable-band',
    'unused-parameter',
    'unused-status',
  ])
  // What was fixed is not found again, and every line that no fix is about is still there.
  const left = findings.filter(({ edits }) => edits !== undefined)
  expect(left).toEqual([])
  const after = (await readFile(join(cwd, 'careless.acuarela.yaml'), 'utf8')).split('\n')
  const lost = text.split('\n').filter((line) => !after.includes(line))
  expect(lost.length).toBeLessThan(30)
  expect(after.filter((line) => line.includes('#')).length).toBeGreaterThan(18)
})

test('a fix reaches into a sentence and keeps its words; a report that is right stays as it is', async () => {
  const report = (sentence: string, parameters: string): string => `title: T
sources: { s: { file: s.csv } }
measures: { revenue: { formula: sum(amount), label: Revenue, better: higher } }
parameters: { ${parameters} }
statuses: { good: { verdict: good, wash: aqua, icon: tick }, bad: { verdict: bad, wash: coral, icon: cross } }
rules:
  - ${sentence}   # the goal
exhibits: [{ name: shops, table: { rows: shop, show: revenue } }]
`
  const cwd = await folder({
    's.csv': 'shop,amount\na,10\nb,20\nc,30\n',
    'r.acuarela.yaml': report('Revenue: above   15 => good; otherwise => bad', 'goal: 15, spare: 3'),
  })
  const text = await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8')
  const dry = await acuarela(['proof', 'r.acuarela.yaml', '--fix', '--dry-run'], cwd)
  expect(dry.out).toContain('-   - Revenue: above   15 => good; otherwise => bad   # the goal\n')
  expect(dry.out).toContain('+   - Revenue: at least goal → good; otherwise => bad   # the goal\n')
  expect(dry.out).toContain('3 findings would be fixed; r.acuarela.yaml is as it was.')
  expect(await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8')).toBe(text)
  const alone = await acuarela(['proof', 'r.acuarela.yaml', '--dry-run'], cwd)
  expect([alone.code, alone.err]).toEqual([2, '--dry-run belongs to --fix; add that, or leave it out\n'])
  const { out, code } = await acuarela(['proof', 'r.acuarela.yaml', '--fix'], cwd)
  expect(out).toContain('typed-limit')
  expect([code, await readFile(join(cwd, 'r.acuarela.yaml'), 'utf8')]).toEqual([
    0,
    report('Revenue: at least goal → good; otherwise => bad', 'goal: 15'),
  ])
  const quiet = await acuarela(['proof', 'r.acuarela.yaml', '--fix'], cwd)
  expect(quiet.out).toBe('nothing found\n')
})
