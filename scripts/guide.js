// @ts-check
/**
 * Writes what the examples of docs/sources-and-measures.md answer and what the rules of
 * docs/cookbook.md say, from the demo data: `npm run docs`. Read the change before you commit it.
 */
import { execFileSync } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const folder = new URL('../examples/brezal/', import.meta.url)
const report = fileURLToPath(new URL(`guide-${process.pid}.acuarela.yaml`, folder))
const tool = fileURLToPath(new URL('../dist/cli/acuarela.js', import.meta.url))

/**
 * Answers each example of a page: a block of YAML with a block of text behind it.
 * @param {string} page @param {(text: string) => string} baseOf what stands before each example
 * @param {(report: string, yaml: string) => string[]} command
 */
function rewrite(page, baseOf, command) {
  const path = fileURLToPath(new URL(`../docs/${page}`, import.meta.url))
  const text = readFileSync(path, 'utf8')
  const base = baseOf(text)
  // The base report is the block before the first heading.
  const from = base === '' ? 0 : text.indexOf('\n## ')
  const answered = text
    .slice(from)
    .replace(/(```yaml\n)([\s\S]*?)(```\n\n```text\n)([\s\S]*?)(```)/g, (_, open, yaml, between, _before, close) => {
      // A recipe with a title is a report of its own.
      writeFileSync(report, yaml.startsWith('title:') ? yaml : base + yaml)
      const says = execFileSync(process.execPath, [tool, ...command(report, yaml)], { encoding: 'utf8', env: {} })
      return `${open}${yaml}${between}${says}${close}`
    })
  writeFileSync(path, text.slice(0, from) + answered)
}

try {
  rewrite(
    'sources-and-measures.md',
    () => '',
    (file) => ['paint', file, '--no-color'],
  )
  rewrite(
    'cookbook.md',
    (text) => /```yaml\n([\s\S]*?)```/.exec(text)?.[1] ?? '',
    (file, yaml) => [yaml.startsWith('title:') ? 'paint' : 'rules', file, '--no-color'],
  )
} finally {
  rmSync(report, { force: true })
}
