import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { expect, test } from 'vitest'
import type { Io } from '../src/cli/io.js'
import { helpText } from '../src/cli/main.js'
import { ROOT } from './support/tool.js'

const SRC = join(ROOT, 'src')

/** Reading order; what each folder may import. Types of the report file may be imported anywhere. */
const BASE = ['problem', 'shape', 'color', 'time', 'format', 'column', 'expression', 'table', 'look']
const ARROWS: Record<string, readonly string[]> = {
  problem: [],
  shape: ['problem'],
  color: ['problem'],
  time: ['problem'],
  format: ['problem', 'time'],
  column: ['problem'],
  expression: ['problem', 'time', 'column'],
  table: ['problem', 'shape', 'time', 'format', 'column', 'expression'],
  look: ['problem', 'color'],
  rule: BASE,
  summary: ['problem', 'time', 'column', 'expression', 'table'],
  engine: ['problem', 'shape', 'time', 'column', 'table', 'summary'],
  source: ['problem', 'shape', 'time', 'column', 'expression', 'table'],
  page: ['problem', 'shape', 'color', 'time', 'column', 'format', 'table', 'look'],
  file: ['problem', 'shape', 'expression', 'rule'],
  assemble: [...BASE, 'rule', 'summary', 'page'],
  view: ['problem', 'shape', 'color', 'format', 'look', 'page'],
  proof: [...BASE, 'rule', 'summary', 'page', 'file', 'assemble'],
  node: [...BASE, 'rule', 'summary', 'source', 'engine', 'page', 'file', 'assemble', 'view'],
  live: [...BASE, 'rule', 'summary', 'page', 'assemble', 'proof', 'view'],
  cli: [...BASE, 'rule', 'summary', 'source', 'engine', 'page', 'file', 'assemble', 'view', 'node', 'proof'],
}
/** The doors of the package: lists of public names, and the one place where file, data and engine meet in a browser. */
const DOORS = ['index.ts', 'report.ts', 'html.ts', 'svg.ts', 'terminal.ts', 'data.ts', 'node.ts', 'live.ts']
const NODE_FOLDERS = ['node', 'cli']

interface Import {
  from: string
  to: string
  type: boolean
}

const files = readdirSync(SRC, { recursive: true, encoding: 'utf8' }).filter(
  (f) => f.endsWith('.ts') && !f.endsWith('.test.ts'),
)

function importsOf(file: string): Import[] {
  const text = readFileSync(join(SRC, file), 'utf8')
  const found = [
    ...text.matchAll(/(?:^|\n)\s*(?:import|export)\s+(type\s)?[^'"`;]*?from\s+'([^']+)'|import\('([^']+)'\)/g),
  ]
  return found.map((m) => ({ from: file, to: m[2] ?? m[3], type: m[1] !== undefined }))
}

const all = files.flatMap(importsOf)
const folderOf = (path: string): string => path.split('/')[0]

test('imports run along the arrows alone', () => {
  expect(all.length).toBeGreaterThan(200)
  const wrong = all.flatMap(({ from, to, type }) => {
    if (!to.startsWith('.') || DOORS.includes(from)) return []
    const target = relative(SRC, resolve(SRC, dirname(from), to))
    const [own, other] = [folderOf(from), folderOf(target)]
    if (own === other || (other === 'file' && type) || ARROWS[own]?.includes(other)) return []
    return [`${from} → ${target}`]
  })
  expect(wrong).toEqual([])
})

test('every folder has its arrows, and none runs both ways', () => {
  expect([...new Set(files.filter((f) => f.includes('/')).map(folderOf))].sort()).toEqual(Object.keys(ARROWS).sort())
  for (const [own, others] of Object.entries(ARROWS))
    for (const other of others) expect(ARROWS[other], `${own} and ${other}`).not.toContain(own)
})

test('views never import each other', () => {
  const wrong = all.filter(({ from, to }) => {
    const target = relative(SRC, resolve(SRC, dirname(from), to)).split('/')
    const own = from.split('/')
    return own[0] === 'view' && target[0] === 'view' && own.length > 2 && target.length > 2 && own[1] !== target[1]
  })
  expect(wrong).toEqual([])
})

test('the computation knows neither Node nor a document, nor clocks and chance', () => {
  for (const { from, to } of all)
    if (to.startsWith('node:')) expect(NODE_FOLDERS, `${from} imports ${to}`).toContain(folderOf(from))
  for (const file of files) {
    if (NODE_FOLDERS.includes(folderOf(file))) continue
    const code = readFileSync(join(SRC, file), 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '')
    expect(code, file).not.toMatch(
      /\b(?:window|process|globalThis|localStorage|fetch)\b\s*[.([]|Date\.now|new Date\(\)|Math\.random|\beval\(|new Function/,
    )
  }
})

test('importing does nothing: no module calls anything for its effect', () => {
  for (const file of files) {
    if (file === 'cli/bin.ts') continue
    const effects = readFileSync(join(SRC, file), 'utf8')
      .split('\n')
      .filter((line) => /^[a-zA-Z_.]+\(.*\)?$/.test(line))
    expect(effects, file).toEqual([])
  }
})

test('no file eats the library', () => {
  for (const file of files) {
    const lines = readFileSync(join(SRC, file), 'utf8').split('\n').length
    expect(
      lines <= 400 || readFileSync(join(SRC, file), 'utf8').includes('over 400 lines because'),
      `${file}: ${lines} lines`,
    ).toBe(true)
  }
})

test('help loads no schema, YAML, database or plotting code', () => {
  const eager = (file: string, seen = new Set<string>()): Set<string> => {
    if (seen.has(file)) return seen
    seen.add(file)
    const text = readFileSync(join(SRC, file), 'utf8')
    for (const [, type, to] of text.matchAll(/(?:^|\n)(?:import|export)\s+(type\s)?[^'"`;]*?from\s+'([^']+)'/g)) {
      if (type !== undefined) continue
      if (to.startsWith('.')) eager(relative(SRC, resolve(SRC, dirname(file), to)).replace(/\.js$/, '.ts'), seen)
      else seen.add(to)
    }
    return seen
  }
  const packages = [...eager('cli/bin.ts')].filter((name) => !name.endsWith('.ts'))
  expect(packages.sort()).toEqual(['node:fs'])
  // What the build wrote down is what the program says.
  const io = { out: () => undefined, err: () => undefined }
  const { version } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'))
  expect(readFileSync(join(ROOT, 'dist/cli/help.txt'), 'utf8')).toBe(helpText(io as unknown as Io, version))
})
