// @ts-check
/** Builds dist/: the library and the tool by tsc, and the JSON Schema of the report file from the one schema. */
import { execFileSync } from 'node:child_process'
import { chmodSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-b', 'tsconfig.json'], {
  cwd: root,
  stdio: 'inherit',
})
const { reportJsonSchema } = await import(new URL('../dist/file/schema.js', import.meta.url).href)
writeFileSync(
  new URL('../dist/report.schema.json', import.meta.url),
  `${JSON.stringify(reportJsonSchema(), null, 2)}\n`,
)
chmodSync(new URL('../dist/cli/bin.js', import.meta.url), 0o755)
