// @ts-check
/**
 * Builds dist/: the library by tsc, the tool from it, the JSON Schema of the report file from the
 * one schema, and the runtime of live pages.
 */
import { execFileSync } from 'node:child_process'
import { chmodSync, existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildRuntime } from './runtime.js'

const root = fileURLToPath(new URL('..', import.meta.url))
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-b', 'tsconfig.json'], {
  cwd: root,
  stdio: 'inherit',
})
// tsc keeps the output of deleted files.
const dist = join(root, 'dist')
for (const file of readdirSync(dist, { recursive: true, encoding: 'utf8' })) {
  if (file.startsWith('workbench-page')) continue
  const source = file.replace(/(\.d\.ts|\.js)(\.map)?$/, '.ts')
  if (source !== file && !existsSync(join(root, 'src', source))) rmSync(join(dist, file))
}
const { reportJsonSchema } = await import(new URL('../scripts/schema/report.js', import.meta.url).href)
writeFileSync(
  new URL('../dist/report.schema.json', import.meta.url),
  `${JSON.stringify(reportJsonSchema(), null, 2)}\n`,
)
const { helpText } = await import(new URL('../dist/cli/main.js', import.meta.url).href)
const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'))
const nothing = () => undefined
writeFileSync(new URL('../dist/cli/help.txt', import.meta.url), helpText({ out: nothing, err: nothing }, version))
const { build } = await import('vite')
// The tool in a few files instead of some hundreds: it starts a fifth faster. Packages are not
// bundled, except the colours, which alone are a hundred and fifty files.
const tool = build({
  root,
  configFile: false,
  logLevel: 'error',
  ssr: { noExternal: ['culori'] },
  build: {
    ssr: true,
    outDir: join(dist, 'cli'),
    emptyOutDir: false,
    copyPublicDir: false,
    minify: false,
    target: 'node20',
    rollupOptions: {
      input: { acuarela: join(dist, 'cli/bin.js') },
      output: {
        format: 'es',
        entryFileNames: '[name].js',
        chunkFileNames: 'part-[name]-[hash].js',
        banner: ({ moduleIds }) =>
          moduleIds.some((/** @type {string} */ id) => id.includes('node_modules/culori/'))
            ? `/*\nParts of culori:\n${readFileSync(join(root, 'node_modules/culori/LICENSE'), 'utf8').trim()}\n*/`
            : '',
      },
    },
  },
})
// The page that `acuarela edit` serves, with the licences of what is bundled in it.
const page = build({
  configFile: join(root, 'examples/workbench/vite.config.ts'),
  logLevel: 'error',
  build: { outDir: join(dist, 'workbench-page'), license: true },
})
await Promise.all([tool, page, buildRuntime(root)])
chmodSync(new URL('../dist/cli/acuarela.js', import.meta.url), 0o755)
