// @ts-check
/**
 * Writes what the examples of docs/sources-and-measures.md answer, from the demo data: `npm run docs`. Read
 * the change before you commit it.
 */
import { execFileSync } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const guide = fileURLToPath(new URL('../docs/sources-and-measures.md', import.meta.url))
const folder = new URL('../examples/brezal/', import.meta.url)
const report = fileURLToPath(new URL(`guide-${process.pid}.acuarela.yaml`, folder))
const tool = fileURLToPath(new URL('../dist/cli/acuarela.js', import.meta.url))

const text = readFileSync(guide, 'utf8').replace(
  /(```yaml\n)([\s\S]*?)(```\n\n```text\n)([\s\S]*?)(```)/g,
  (_, open, yaml, between, _before, close) => {
    writeFileSync(report, yaml)
    const says = execFileSync(process.execPath, [tool, 'paint', report, '--no-color'], { encoding: 'utf8', env: {} })
    return `${open}${yaml}${between}${says}${close}`
  },
)
rmSync(report, { force: true })
writeFileSync(guide, text)
