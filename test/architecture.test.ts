import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import ts from 'typescript-lowest'
import { expect, test } from 'vitest'
import type { Io } from '../src/cli/io.js'
import { helpText } from '../src/cli/main.js'
import { ROOT } from './support/tool.js'

const SRC = join(ROOT, 'src')

/**
 * What each folder may import, from the table of docs/architecture.md. A folder inside another that
 * the table names has a row of its own.
 */
const ARROWS: Readonly<Record<string, readonly string[]>> = Object.fromEntries(
  readFileSync(join(ROOT, 'docs/architecture.md'), 'utf8')
    .split('\n')
    .flatMap((line) => {
      const [, folder, imports] = /^\| `([a-z/]+)\/` \| ([^|]+) \|/.exec(line) ?? []
      return folder === undefined ? [] : [[folder, imports === 'nothing' ? [] : imports.split(', ')]]
    }),
)
/**
 * The doors of the package: lists of public names, and the one place where file, data and engine
 * meet in a browser.
 */
const DOORS = [
  'index.ts',
  'report.ts',
  'html.ts',
  'svg.ts',
  'workbook.ts',
  'terminal.ts',
  'data.ts',
  'node.ts',
  'live.ts',
  'session.ts',
  'edit.ts',
  'workbench.ts',
]
const NODE_FOLDERS = ['node', 'serve', 'cli']

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
  const imports = [
    ...text.matchAll(/(?:^|\n)\s*(?:import|export)\s+(type\s)?[^'"`;]*?from\s+'([^']+)'|import\('([^']+)'\)/g),
  ]
  return imports.map((m) => ({ from: file, to: m[2] ?? m[3], type: m[1] !== undefined }))
}

const all = files.flatMap(importsOf)
/** The row of the table for a file. */
function folderOf(path: string): string {
  const parts = path.split('/').slice(0, -1)
  while (parts.length > 0 && ARROWS[parts.join('/')] === undefined) parts.pop()
  return parts.join('/')
}
function targetOf({ from, to }: Import): string | undefined {
  return to.startsWith('.')
    ? relative(SRC, resolve(SRC, dirname(from), to))
        .replace(/\.js$/, '.ts')
        .replaceAll('\\', '/')
    : undefined
}

test('imports run along the arrows alone, and no arrow is allowed that none runs along', () => {
  expect(all.length).toBeGreaterThan(200)
  const used = new Map<string, Set<string>>()
  for (const each of all) {
    const target = targetOf(each)
    if (target === undefined || DOORS.includes(each.from)) continue
    const [from, to] = [folderOf(each.from), folderOf(target)]
    if (from !== to) used.set(from, (used.get(from) ?? new Set()).add(to))
  }
  const arrows = Object.keys(ARROWS).map((from) => [from, [...(used.get(from) ?? [])].sort()])
  expect(arrows).toEqual(Object.entries(ARROWS).map(([from, to]) => [from, [...to].sort()]))
})

test('every folder has its row, and arrows run downwards alone', () => {
  const named = Object.keys(ARROWS)
  for (const file of files) if (file.includes('/')) expect(named, file).toContain(folderOf(file))
  for (const [folder, others] of Object.entries(ARROWS))
    for (const other of others)
      expect(named.indexOf(other), `${folder} imports ${other}`).toBeLessThan(named.indexOf(folder))
})

test('no cycle of files, imports of types included', () => {
  const imports = new Map(files.map((file) => [file, [] as string[]]))
  for (const each of all) {
    const target = targetOf(each)
    if (target !== undefined && imports.has(target)) imports.get(each.from)?.push(target)
  }
  // Repeatedly removes files without remaining imports; if files are left, they contain a cycle.
  for (;;) {
    const free = [...imports].filter(([, targets]) => !targets.some((target) => imports.has(target)))
    if (free.length === 0) break
    for (const [file] of free) imports.delete(file)
  }
  const inCycles = [...imports.keys()].filter((file) => [...imports.values()].some((targets) => targets.includes(file)))
  expect(inCycles).toEqual([])
})

test('writers of outputs never import each other', () => {
  const writers = Object.keys(ARROWS).filter((folder) => /^view\/(?!model$|chart$)[^/]*$/.test(folder))
  expect(writers).toEqual(['view/html', 'view/svg', 'view/terminal', 'view/data', 'view/workbook'])
  for (const writer of writers) for (const other of writers) expect(ARROWS[writer]).not.toContain(other)
})

test('the computation knows neither Node nor a document, nor clocks and chance', () => {
  for (const { from, to } of all)
    if (to.startsWith('node:')) expect(NODE_FOLDERS, `${from} imports ${to}`).toContain(folderOf(from))
  for (const file of files) {
    if (NODE_FOLDERS.includes(folderOf(file))) continue
    const whole = readFileSync(join(SRC, file), 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '')
    // The one file that asks a server.
    const code = file === 'engine/http/client.ts' ? whole.replaceAll('fetch(', '') : whole
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

test('no function is over 80 lines without a reason written in it', () => {
  const long: string[] = []
  for (const file of files) {
    const text = readFileSync(join(SRC, file), 'utf8')
    const tree = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true)
    const lineAt = (place: number): number => tree.getLineAndCharacterOfPosition(place).line
    const visit = (node: ts.Node): void => {
      const isLong = ts.isFunctionLike(node) && lineAt(node.end) - lineAt(node.getStart(tree)) >= 80
      if (isLong && !/over 80 lines because/i.test(node.getFullText(tree))) long.push(`${file}:${lineAt(node.pos) + 1}`)
      node.forEachChild(visit)
    }
    visit(tree)
  }
  expect(long).toEqual([])
})

test('no comment is wider than 100 columns, unless a link or a directive makes it so', () => {
  const wide = ['src', 'test', 'bench', 'scripts', 'examples'].flatMap((top) =>
    readdirSync(join(ROOT, top), { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.(ts|js)$/.test(file) && !/node_modules|(^|\/)(dist|out)\//.test(file))
      .flatMap((file) =>
        readFileSync(join(ROOT, top, file), 'utf8')
          .split('\n')
          .flatMap((line, i) => (isWideComment(line) ? [`${top}/${file}:${i + 1}`] : [])),
      ),
  )
  expect(wide).toEqual([])
})

function isWideComment(line: string): boolean {
  return line.length > 100 && /^\s*(\/\/|\/?\*)/.test(line) && !/https?:\/\/|biome-ignore|@type|@ts-/.test(line)
}

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
