// @ts-check
/**
 * What there are several of, by their folders. A new one is a folder and its name in a list here;
 * `npm run schema` then writes the files that the library finds it by.
 */
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** Kinds of rules: folders of src/rule/kinds/, in the order of the docs. */
export const RULE_KINDS = ['bands', 'gradient', 'bar', 'rank', 'from-column']

/** Kinds of exhibits: folders of src/report/bind/kinds/ and files of src/report/layout/kinds/. */
export const EXHIBIT_KINDS = ['table', 'heatmap', 'chart', 'cards', 'records', 'list', 'moves', 'reading']

/** Formats of data files: folders of src/source/formats/. */
export const SOURCE_FORMATS = ['csv', 'json', 'parquet', 'ods']

/** Forms that pages are printed in: folders of src/output/, in the order of the help. */
export const OUTPUTS = ['html', 'svg', 'png', 'pdf', 'text', 'json', 'csv', 'ods']

export const HEAD =
  '// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.\n// Change those, then run `npm run schema`.\n'

const root = fileURLToPath(new URL('../..', import.meta.url))

/** The key of a folder: `from-column` is fromColumn. @param {string} folder */
export function keyOf(folder) {
  return folder.replace(/-([a-z])/g, (_, letter) => letter.toUpperCase())
}

/**
 * The schemas that kinds bring in their folders.
 * @param {string} dir @param {readonly string[]} folders
 * @returns {Promise<{ key: string, schema: import('zod').ZodType, description: string, named:
 *   Record<string, import('zod').ZodType> }[]>}
 */
export function loadSchemas(dir, folders) {
  return Promise.all(
    folders.map(async (folder) => ({ key: keyOf(folder), ...(await import(`../../${dir}/${folder}/schema.js`)) })),
  )
}

/**
 * Imports in the order of their files, as they are kept everywhere.
 * @param {readonly string[]} lines
 */
function sorted(lines) {
  const fileOf = (/** @type {string} */ line) => line.slice(line.indexOf("'"))
  return [...lines].sort((a, b) => (fileOf(a) < fileOf(b) ? -1 : 1)).join('')
}

/**
 * An import from a file of each folder.
 * @param {{ folder: string, key: string }[]} of
 * @param {string} file
 * @param {(key: string) => string} names
 */
function imports(of, file, names) {
  return of.map(({ folder, key }) => `import { ${names(key)} } from './${folder}/${file}.js'\n`)
}

/** Folders with the keys of what is in them. @param {readonly string[]} folders */
function keyed(folders) {
  return folders.map((folder) => ({ folder, key: keyOf(folder) }))
}

/** The files that list the kinds of rules. @returns {[path: string, text: string][]} */
export function ruleKindFiles() {
  const dir = 'src/rule/kinds'
  const kinds = keyed(RULE_KINDS)
  const keys = kinds.map(({ key }) => key)
  const tried = kinds.filter(({ folder }) => existsSync(`${root}${dir}/${folder}/trials.ts`))
  return [
    [
      `${dir}/registry.ts`,
      `${HEAD}import type { Kind } from '../model.js'
${sorted(imports(kinds, 'run', (key) => `kind as ${key}`))}
// A plan and its fit are opaque outside their own kind, so the list forgets their types.
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const KINDS: readonly Kind<any, any>[] = [${keys.join(', ')}]
`,
    ],
    [
      `${dir}/load.ts`,
      `${HEAD}import type { RuleKindKey } from '../../spec/rules.js'
import type { BoundRule } from '../model.js'

/** Each kind by itself, for a page whose rules are of some kinds only: it loads no others. */
const LOAD: Readonly<Record<RuleKindKey, () => Promise<BoundRule['kind']>>> = {
${kinds.map(({ folder, key }) => `  ${key}: async () => (await import('./${folder}/run.js')).kind,\n`).join('')}}

/** Loads kinds by their keys, in that order. */
export function loadKinds(keys: readonly RuleKindKey[]): Promise<BoundRule['kind'][]> {
  return Promise.all(keys.map((key) => LOAD[key]()))
}
`,
    ],
    [
      `${dir}/checks.ts`,
      `${HEAD}import type { RuleKindKey } from '../../spec/rules.js'
${sorted([
  "import type { Check } from './check.js'\n",
  "import type { Production } from '../grammar/productions.js'\n",
  ...imports(kinds, 'check', (key) => `check as ${key}`),
  ...imports(kinds, 'sentence', (key) => `clauses as ${key}Clauses`),
])}
/**
 * How each kind is checked and written as a sentence, apart from the kinds themselves: a page with
 * checked rules runs them and checks none. A plan is opaque outside its own kind.
 */
export const CHECKS: Readonly<Record<RuleKindKey, { check: Check<unknown>; clauses: Production }>> = {
${keys.map((key) => `  ${key}: { check: ${key}, clauses: ${key}Clauses },\n`).join('')}}
`,
    ],
    [
      `${dir}/trials.ts`,
      `${HEAD}import type { RuleKindKey } from '../../spec/rules.js'
import type { Trials } from '../model.js'
${sorted(imports(tried, 'trials', (key) => `trials as ${key}`))}
/** What \`rehearse\` tries of each kind; one without trials has no limits to try. */
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const TRIALS: Readonly<Partial<Record<RuleKindKey, Trials<any, any>>>> = { ${tried.map(({ key }) => key).join(', ')} }
`,
    ],
  ]
}

/** The file that lists the formats of data files. @returns {[path: string, text: string][]} */
export function sourceFormatFiles() {
  const formats = keyed(SOURCE_FORMATS)
  return [
    [
      'src/source/formats/registry.ts',
      `${HEAD}${sorted([
        ...imports(formats, 'format', (key) => `format as ${key}`),
        "import type { SourceFormat } from './format.js'\n",
      ])}
/** Every format of data files. */
export const FORMATS: readonly SourceFormat[] = [${formats.map(({ key }) => key).join(', ')}]
`,
    ],
  ]
}

/** The file that lists the outputs. @returns {[path: string, text: string][]} */
export function outputFiles() {
  const outputs = keyed(OUTPUTS)
  return [
    [
      'src/output/registry.ts',
      `${HEAD}${sorted([
        ...imports(outputs, 'output', (key) => `output as ${key}`),
        "import type { Output } from './output.js'\n",
      ])}
/** Every form that pages are printed in. */
export const OUTPUTS: readonly Output[] = [${outputs.map(({ key }) => key).join(', ')}]
`,
    ],
  ]
}

/** The files that list the kinds of exhibits. @returns {[path: string, text: string][]} */
export function exhibitKindFiles() {
  const kinds = keyed(EXHIBIT_KINDS)
  return [
    [
      'src/report/bind/kinds/registry.ts',
      `${HEAD}import type { ExhibitKindKey, ExhibitSpec } from '../../../spec/exhibits.js'
import type { BindKind } from '../exhibit-keys.js'
${sorted(imports(kinds, 'bind', (key) => `bind as ${key}`))}
/** How each kind of exhibit is checked and bound. */
export const BIND: { readonly [K in ExhibitKindKey]: BindKind<NonNullable<ExhibitSpec[K]>> } = { ${kinds.map(({ key }) => key).join(', ')} }
`,
    ],
    [
      'src/report/layout/kinds/registry.ts',
      `${HEAD}import type { ExhibitKindKey } from '../../../spec/exhibits.js'
import type { Prepare } from './prepare.js'

/** What answers and builds each kind of exhibit; loaded when a report has it. */
export const LOAD: Readonly<Record<ExhibitKindKey, () => Promise<Prepare>>> = {
${kinds.map(({ folder, key }) => `  ${key}: async () => (await import('./${folder}.js')).prepare,\n`).join('')}}
`,
    ],
  ]
}
