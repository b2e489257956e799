// @ts-check
/** Writes docs/proof.md from the catalogue of findings: `npm run docs`. */
import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { FINDINGS } from 'acuarela'

/** The page, as text. */
export function findingsPage() {
  const entries = Object.entries(FINDINGS).map(
    ([code, { what, why, fix: out }]) => `### ${code}\n\n${sentence(what)}: ${why}.\n\n*Fix:* ${out}.\n`,
  )
  return `# What proof finds

\`acuarela proof REPORT\` tells what is wrong or risky in the rules of a report, in what they do to its cells, and in its looks: each with its place, the numbers behind it and the fix. Its exit code is 1 where something is found.
[\`examples/brezal/careless.acuarela.yaml\`](../examples/brezal/careless.acuarela.yaml) holds one of each. In the library it is \`proof(painting)\`.

A finding whose fix needs no decision has it as edits (\`edits\` in \`--json\`). \`acuarela proof REPORT --fix\` makes these in the file, comments and spelling of the rest kept, and says what it did; with \`--dry-run\` it shows the lines that would change. A finding about the data of today, such as a rule that paints nothing this month, is never fixed by itself.

A finding that is meant can be ignored in the file, with a reason; \`proof --all\` still shows it.

\`\`\`yaml
proof:
  ignore:
    - { code: scale-squeezed, at: seasons, because: one fair a year }
\`\`\`

\`at\` is a rule, an exhibit, \`exhibit.measure\`, a status or a parameter; left out, the finding is ignored everywhere.

## All findings

${entries.join('\n')}`
}

/** @param {string} text */
function sentence(text) {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

const file = fileURLToPath(new URL('../docs/proof.md', import.meta.url))
if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(file, findingsPage())
