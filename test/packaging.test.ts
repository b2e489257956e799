import { execFile } from 'node:child_process'
import { mkdirSync, readFileSync, symlinkSync } from 'node:fs'
import { readdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { expect, test } from 'vitest'
import { readmeForPackage } from '../scripts/readme.js'
import { compareImports, unusedPackages } from '../scripts/unused.js'
import { FULL } from './support/effort.js'
import { folder, ROOT } from './support/tool.js'

const run = promisify(execFile)
const manifest = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as {
  exports: Record<string, string | { types: string; default: string }>
  dependencies: Record<string, string>
}

/** The files of the package, packed once. */
let packed: Promise<string[]> | undefined
const filesOfPackage = async (): Promise<string[]> => (packed ??= pack(await folder()))

/** Packs without building: `npm test` has built already. */
async function pack(into: string): Promise<string[]> {
  const { stdout } = await run(
    'npm',
    ['pack', '--json', '--ignore-scripts', '--loglevel=error', '--pack-destination', into],
    { cwd: ROOT },
  )
  const parsed = JSON.parse(stdout.slice(stdout.search(/[[{]/))) as
    | Record<string, { files: { path: string }[] }>
    | { files: { path: string }[] }[]
  return Object.values(parsed)[0].files.map((f) => f.path)
}

test.runIf(FULL)('the package holds what a user needs and nothing else', async () => {
  const files = await filesOfPackage()
  const kinds = new Set(
    files.map((f) =>
      f.startsWith('dist/')
        ? `dist ${f.replace(/^.*?(\.d)?\.(\w+)$/, '$1.$2')}`
        : f.replace(/^docs\/.*\.md$/, 'docs').replace(/^src\/.*\.ts$/, 'src'),
    ),
  )
  expect([...kinds].sort()).toEqual([
    'LICENSE',
    'README.md',
    // The page of `acuarela edit`, with the licences of what is bundled in it.
    'dist .css',
    'dist .d.ts',
    'dist .html',
    'dist .js',
    'dist .json',
    'dist .map',
    'dist .md',
    'dist .txt',
    'docs',
    'examples/brezal/generate.js',
    'examples/brezal/spring.acuarela.yaml',
    'examples/brezal/world.js',
    'package.json',
    'src',
  ])
  expect(files.filter((f) => /test|tsbuildinfo|\.csv$/.test(f))).toEqual([])
  for (const entry of Object.values(manifest.exports)) {
    const targets = typeof entry === 'string' ? [entry] : Object.values(entry)
    for (const target of targets) expect(files).toContain(target.replace('./', ''))
  }
})

test('a package that nothing imports is found, and one that is imported and not named', () => {
  const texts = [
    "import { a } from 'here'\n",
    `export * from '@scope/there/part'\nconst b = await ${['import', "('late')"].join('')}\n`,
  ]
  expect(
    compareImports(['here', 'idle', 'late'], [...texts, "import './file.js'\nimport fs from 'node:fs'\n"], ['own']),
  ).toEqual({
    unused: ['idle'],
    unnamed: ['@scope/there'],
  })
  expect(unusedPackages()).toEqual({ unused: [], unnamed: [] })
})

test.runIf(FULL)('5.7 the README has no link that leads nowhere where npm shows it', async () => {
  const text = readFileSync(join(ROOT, 'README.md'), 'utf8')
  const files = await filesOfPackage()
  const shown = readmeForPackage(text, undefined)
  expect(shown).not.toMatch(/\]\((?!https?:|#)/)
  const paths = [...text.matchAll(/(?<!!)\[[^\]]*\]\((?!https?:|#)([^)#]*)[^)]*\)/g)].map(([, path]) => path)
  expect(paths.length).toBeGreaterThan(10)
  for (const path of paths) expect(shown).toContain(path)
  // The pages that the README links to are in the package.
  for (const path of paths.filter((path) => /^docs\/[^/]*\.md$/.test(path))) expect(files).toContain(path)
  // With a repository npm resolves the links itself.
  expect(readmeForPackage(text, 'https://example.org/acuarela')).toBe(text)
  expect(readFileSync(join(ROOT, 'CONTRIBUTING.md'), 'utf8')).toContain('`repository`')
})

test.runIf(FULL)(
  '4.5 installed elsewhere, the tool runs its demo and the library is imported with its types',
  async () => {
    const home = await folder()
    await pack(home)
    const [archive] = (await readdir(home)).filter((f) => f.endsWith('.tgz'))
    const modules = join(home, 'node_modules')
    mkdirSync(join(modules, 'acuarela'), { recursive: true })
    await run('tar', ['xzf', join(home, archive), '--strip-components=1', '-C', join(modules, 'acuarela')])
    // Its dependencies and theirs are installed in this repository already.
    for (const name of await readdir(join(ROOT, 'node_modules')))
      if (!name.startsWith('.')) symlinkSync(join(ROOT, 'node_modules', name), join(modules, name))
    const { stdout } = await run(
      process.execPath,
      [join(modules, 'acuarela/dist/cli/acuarela.js'), 'demo', '--out', 'made'],
      {
        cwd: home,
      },
    )
    expect(stdout).toContain('made/spring.html')
    expect(await readFile(join(home, 'made/spring.html'), 'utf8')).toContain('Brezal Nurseries')
    await writeFile(
      join(home, 'use.ts'),
      `import { colorText, fromRows, type PaintSpec, paint, type ProblemError } from 'acuarela'
import { mount } from 'acuarela/live'
import { openReport, type Page } from 'acuarela/report'
import { toHtml } from 'acuarela/html'
import { toJson } from 'acuarela/data'
import { openReportFile } from 'acuarela/node'
const painting = paint(fromRows([{ a: 1 }]), { rules: [{ paint: 'a', bands: [{ above: 0, style: { wash: 'aqua' } }] }] })
const fill: string | null = painting.cell(0, 'a').fill
// @ts-expect-error a band has no such key
paint(fromRows([]), { rules: [{ paint: 'a', bands: [{ over: 0 }] }] })
// @ts-expect-error a rule has exactly one kind
const bare: PaintSpec = { rules: [{ paint: 'a' }] }
const element = document.createElement('acuarela-report')
element.parameters = { target: '15%' }
element.addEventListener('change', (event) => event.detail.filters)
element.addEventListener('problem', (event) => event.detail.message)
const keyOf = (error: ProblemError): string[] => error.problems.flatMap((p) => (p.code === 'unknown-key' ? [p.params.key] : []))
const css: string = colorText(0xa7e5e4)
interface Sale { shop: string; revenue: bigint }
const sales: Sale[] = []
paint(sales, { rules: [{ paint: 'revenue', gradient: { ramp: 'aqua' } }] })
const page: Promise<Page> = openReport('title: x', {})
export { bare, css, fill, keyOf, mount, page, toHtml, toJson, openReportFile }
`,
    )
    await writeFile(join(home, 'package.json'), '{ "type": "module" }')
    const compilerOptions = {
      noEmit: true,
      strict: true,
      module: 'nodenext',
      target: 'es2022',
      lib: ['es2022', 'dom'],
      types: [],
    }
    await writeFile(join(home, 'tsconfig.json'), JSON.stringify({ compilerOptions, files: ['use.ts'] }))
    // The lowest supported version, and the one of the build.
    for (const compiler of ['typescript-lowest', 'typescript'])
      await run(process.execPath, [join(ROOT, 'node_modules', compiler, 'bin/tsc'), '-p', '.'], { cwd: home })
    const lowest = JSON.parse(readFileSync(join(ROOT, 'node_modules/typescript-lowest/package.json'), 'utf8')).version
    expect(readFileSync(join(ROOT, 'README.md'), 'utf8')).toContain(
      `TypeScript ${lowest.replace(/\.\d+$/, '')} or later`,
    )
    // Required from CommonJS, as the first versions of `engines` can.
    const { stdout: said } = await run(process.execPath, ['-e', "console.log(typeof require('acuarela').paint)"], {
      cwd: home,
    })
    expect(said.trim()).toBe('function')
  },
)

test('every dependency is used', () => {
  const text = readFileSync(join(ROOT, 'package-lock.json'), 'utf8')
  expect(text).not.toContain('"resolved"')
  for (const name of Object.keys(manifest.dependencies)) expect(text).toContain(`node_modules/${name}"`)
})
