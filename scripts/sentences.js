// @ts-check
/** Writes docs/sentences.md from the description of the grammar: `npm run docs`. */
import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { EXAMPLES } from '../dist/rule/sentence/forms.js'
import { GRAMMAR } from '../dist/rule/sentence/grammar.js'
import { readSentence } from '../dist/rule/sentence/parse.js'

/**
 * The keys of a value, as paths.
 * @param {unknown} value @param {string} path @returns {string[]}
 */
function keysOf(value, path = '') {
  if (Array.isArray(value)) return value.flatMap((one) => keysOf(one, path))
  if (typeof value !== 'object' || value === null) return [path]
  return Object.entries(value).flatMap(([key, inner]) => keysOf(inner, path === '' ? key : `${path}.${key}`))
}

/** The keys of a rule as a sentence. @param {string} text */
export function keysOfSentence(text) {
  const read = readSentence(text)
  if (!('spec' in read)) throw new Error(`${text}: ${read.message}`)
  return [...new Set(keysOf(read.spec))]
}

/** Keys that every example has, and those that only carry its result. */
const PLAIN = ['paint', 'bands.above', 'bands.style.weight']

/** The page, as text. */
export function sentencesPage() {
  const seen = new Set()
  const sections = EXAMPLES.map(({ title, examples }) => {
    const rows = examples.map(({ text, about }) => {
      const keys = keysOfSentence(text).filter((key) => !seen.has(key) && !PLAIN.includes(key))
      for (const key of keys) seen.add(key)
      return `| \`${text}\` | ${about} | ${keys.map((key) => `\`${key}\``).join(' ')} |`
    })
    return `## ${title}\n\n| sentence | what it says | keys that it stands for |\n| --- | --- | --- |\n${rows.join('\n')}\n`
  })
  const width = Math.max(...GRAMMAR.map(([name]) => name.length))
  const grammar = GRAMMAR.map(([name, ebnf]) => `${name.padEnd(width)} = ${ebnf} ;`)
  return `# Rules as sentences

A rule is one sentence, or a map of [keys](reference.md#rules). Both mean the same: \`acuarela rules\` prints each rule as its sentence, and what it prints can be typed in again.

\`\`\`yaml
rules:
  - revenue of each shop: at least target → ahead; at least 80% of target → close; otherwise → behind
  - { name: season, say: 'revenue in seasons within line: shade from paper at 0 to aqua' }    # with a name or a title
  - { paint: margin, within: region, rank: { best: 1, status: leading } }                     # keys stay, for whoever prefers them
\`\`\`

- In TypeScript a rule of \`paint\` or of a report may be a text: \`rules: ['revenue: at least target → ahead']\`.
- \`acuarela say REPORT SENTENCE\` reads a sentence, tells the cells that it would change, and adds it to the file with \`--write\`; everything else in the file keeps its bytes.
- A text that is no sentence is shown the sentences that it may mean: \`did you mean one of these?\` and up to four of them, ready to paste. \`say\` reads the plainest other words by itself and shows the sentence that it made of them; a file holds sentences alone.
- \`completeSentence(text, cursor, names)\` of the library tells what may stand next, with the names of a report, for an editor.
- The arrow is \`→\`, \`->\` or \`=>\`. Read aloud it is “gets”.
- Names are ids or labels, in small or large letters; a label of several words needs no quotes where the report has it. Where two things have one name, both are named.
- Texts are in single quotes, names that are no plain word in double ones; a plain word is a text where a value is meant: \`is Trade\`.
- In YAML a sentence needs quotes where it has a second colon, \` #\`, or a comma inside brackets; single quotes inside single quotes are written twice. A message says so.

${sections.join('\n')}
## The grammar

In extended Backus-Naur form: \`[ ]\` may be left out, \`{ }\` may be repeated, \`|\` is a choice. \`sum\` and \`condition\` are those of [expressions](expressions.md), and \`primary\` shows what sentences add to them. Scopes are read in any order; a comma may stand before each.

\`\`\`ebnf
${grammar.join('\n')}
\`\`\`
`
}

const file = fileURLToPath(new URL('../docs/sentences.md', import.meta.url))
if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(file, sentencesPage())
