// @ts-check
/**
 * Makes from the one schema what the library needs of it without the package behind: the TypeScript
 * types with their hover texts, and the table that the shapes of reports and rules are checked by.
 * Run after a change of the schema, as `npm run schema`; a test holds that nobody forgot.
 */
import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import {
  EXHIBIT_KINDS,
  exhibitKindFiles,
  keyOf,
  outputFiles,
  RULE_KINDS,
  ruleKindFiles,
  sourceFormatFiles,
} from './registries.js'
import { NAMED } from './report.js'

/**
 * @typedef {{ def: { type: string, innerType?: Schema, options?: Schema[], element?: Schema, valueType?: Schema,
 *   shape?: Record<string, Schema>, entries?: Record<string, string>, values?: unknown[],
 *   checks?: { _zod: { def: { check: string, value?: number, minimum?: number, inclusive?:
 * boolean, format?: string } } }[], check?: string, format?: string }, meta(): Record<string,
 * unknown> | undefined, description?: string }} Schema
 */

const HEAD =
  '// Made by scripts/schema/make.js from the schema of reports.\n// Change that, then run `npm run schema`.\n'
const names = new Map(
  Object.entries(NAMED).map(([name, schema]) => [/** @type {Schema} */ (/** @type {unknown} */ (schema)), name]),
)
/** The kinds of a rule, of which it has exactly one. */
const KINDS = RULE_KINDS.map(keyOf)

/** @param {Schema} schema @returns {{ own: Schema, optional: boolean }} */
function opened(schema) {
  return schema.def.type === 'optional' && schema.def.innerType !== undefined
    ? { ...opened(schema.def.innerType), optional: true }
    : { own: schema, optional: false }
}

/** @param {Schema} schema */
function bounds(schema) {
  /** @type {{ whole?: true, min?: number | undefined, max?: number | undefined, above?: number | undefined }} */
  const registry = {}
  if (schema.def.format === 'safeint') registry.whole = true
  for (const { _zod } of schema.def.checks ?? []) {
    const { check, value, minimum, inclusive, format } = _zod.def
    if (check === 'number_format' && format === 'safeint') registry.whole = true
    else if (check === 'greater_than') registry[inclusive ? 'min' : 'above'] = value
    else if (check === 'less_than') registry.max = value
    else if (check === 'min_length') registry.min = minimum
    else throw new Error(`a check that the table does not know: ${check}`)
  }
  return registry
}

/** @param {Schema} schema @returns {string} */
function typeOf(schema) {
  const { own } = opened(schema)
  const name = names.get(own)
  return name ?? plainType(own)
}

/** @param {Schema} schema @returns {string} */
function plainType(schema) {
  const { def } = schema
  switch (def.type) {
    case 'string':
      return String(schema.meta()?.names ?? 'string')
    case 'number':
    case 'boolean':
      return def.type
    case 'enum': {
      const values = Object.values(def.entries ?? {}).map((value) => JSON.stringify(value))
      return String(schema.meta()?.names ?? values.join(' | '))
    }
    case 'literal':
      return (def.values ?? []).map((value) => JSON.stringify(value)).join(' | ')
    case 'array':
      return `readonly (${typeOf(/** @type {Schema} */ (def.element))})[]`
    case 'record':
      return `{ readonly [name: string]: ${typeOf(/** @type {Schema} */ (def.valueType))} }`
    case 'union':
      return (def.options ?? [])
        .filter((option) => option.meta()?.inText !== true)
        .map((option) => typeOf(option))
        .join(' | ')
    case 'object':
      return `{\n${members(def.shape ?? {})}}`
    default:
      throw new Error(`a schema that the types do not know: ${def.type}`)
  }
}

/** The longest text of a line of a comment, before it is indented. */
const COMMENT_WIDTH = 88

/**
 * A description as a doc comment, in lines that fit; empty without one.
 * @param {string | undefined} text
 */
function docComment(text) {
  if (text === undefined) return ''
  const sentence = `${text[0].toUpperCase()}${text.slice(1)}.`
  if (sentence.length < COMMENT_WIDTH - 7) return `/** ${sentence} */\n`
  const lines = ['']
  for (const word of sentence.split(' ')) {
    const last = lines.length - 1
    if (lines[last].length + word.length < COMMENT_WIDTH - 3) lines[last] += ` ${word}`
    else lines.push(` ${word}`)
  }
  return `/**\n${lines.map((line) => ` *${line}\n`).join('')} */\n`
}

/** @param {Record<string, Schema>} shape */
function members(shape) {
  return Object.entries(shape)
    .map(([key, schema]) => {
      const text = schema.description ?? opened(schema).own.description
      const doc = docComment(text)
      const { optional } = opened(schema)
      return `${doc}${key}${optional ? '?' : ''}: ${typeOf(schema)}${optional ? ' | undefined' : ''}\n`
    })
    .join('')
}

/**
 * The named schema that one extends: all its keys are among those of the other.
 * @param {Schema} schema
 */
function baseOf(schema) {
  const shape = schema.def.shape ?? {}
  return [...names.keys()].find(({ def }) => {
    const entries = Object.entries(def.shape ?? {})
    return def.shape !== shape && entries.length > 1 && entries.every(([key, member]) => shape[key] === member)
  })
}

/** What a schema has beside the one that it extends. @param {Schema} schema @param {Schema} base */
function ownOf(schema, base) {
  return Object.fromEntries(
    Object.entries(schema.def.shape ?? {}).filter(([key]) => base.def.shape?.[key] === undefined),
  )
}

/** @param {string} name @param {Schema} schema */
function declaration(name, schema) {
  const doc = docComment(schema.description)
  if (name === 'RuleSpec') return ruleTypes(schema.def.shape ?? {})
  const kinds =
    name === 'ExhibitSpec'
      ? `/** The kinds of exhibits, by their keys. */\nexport type ExhibitKindKey = ${EXHIBIT_KINDS.map((kind) => `'${keyOf(kind)}'`).join(' | ')}\n`
      : ''
  const base = baseOf(schema)
  if (base !== undefined)
    return `${doc}export interface ${name} extends ${names.get(base)} {\n${members(ownOf(schema, base))}}\n`
  return schema.def.type === 'object'
    ? `${doc}export interface ${name} ${plainType(schema)}\n${kinds}`
    : `${doc}export type ${name} = ${plainType(schema)}\n`
}

/** A rule without a kind, or with two, does not compile. @param {Record<string, Schema>} shape */
function ruleTypes(shape) {
  const common = Object.fromEntries(Object.entries(shape).filter(([key]) => !KINDS.includes(key)))
  const kinds = KINDS.map((kind) => {
    const others = KINDS.filter((other) => other !== kind).map((other) => `${other}?: undefined\n`)
    return `{\n${members({ [kind]: opened(shape[kind]).own }).replace(/^/, docComment(shape[kind].description))}${others.join('')}}`
  })
  const rule = `a rule as written, in a report file or as a plain object: exactly one of ${KINDS.join(', ')} decides`
  return `/** The keys that every kind of rule may have. */
export interface RuleBase {\n${members(common)}}
${docComment(rule)}export type RuleSpec = RuleBase & (${kinds.join(' | ')})
/** The kinds of rules, by their keys. */
export type RuleKindKey = ${KINDS.map((kind) => `'${kind}'`).join(' | ')}\n`
}

/** Parts that stand in the table more than once, or are named. @type {Map<Schema, string>} */
const constants = new Map()
/** @type {string[]} */
const written = []
/** @param {Schema} schema @returns {string} */
function nodeOf(schema) {
  const { own } = opened(schema)
  // Sentences are turned into keys before shapes are checked.
  if (own.meta()?.shapedAs === 'first') return nodeOf(/** @type {Schema[]} */ (own.def.options)[0])
  const name = names.get(own)
  if (name === undefined) return plainNode(own)
  let constant = constants.get(own)
  if (constant === undefined) {
    constant = name.replace(/([a-z])([A-Z])/g, '$1_$2').toUpperCase()
    constants.set(own, constant)
    const node = plainNode(own)
    // Without its type where others spread its keys.
    written.push(`export const ${constant} = ${node} satisfies Shape\n`)
  }
  return constant
}

/** @param {Schema} own @returns {string} */
function plainNode(own) {
  const { def } = own
  switch (def.type) {
    case 'string':
      return "'text'"
    case 'boolean':
      return "'truth'"
    case 'number': {
      const { whole, min, max, above } = bounds(own)
      if (whole || min !== undefined || above !== undefined)
        return JSON.stringify({ is: whole ? 'whole' : 'number', min, max, above })
      return "'number'"
    }
    case 'enum':
      return JSON.stringify({ oneOf: Object.values(def.entries ?? {}) })
    case 'literal':
      return JSON.stringify({ oneOf: def.values })
    case 'array': {
      const { min } = bounds(own)
      return `{ list: ${nodeOf(/** @type {Schema} */ (def.element))}${min === undefined ? '' : `, min: ${min}`} }`
    }
    case 'record':
      return `{ each: ${nodeOf(/** @type {Schema} */ (def.valueType))} }`
    case 'union':
      return `{ any: [${(def.options ?? []).map((option) => nodeOf(option)).join(', ')}] }`
    case 'object': {
      const base = baseOf(own)
      const keys = Object.entries(base === undefined ? (def.shape ?? {}) : ownOf(own, base)).map(
        ([key, schema]) => `'${key}${opened(schema).optional ? '?' : ''}': ${nodeOf(schema)}`,
      )
      return `{ keys: { ${[...(base === undefined ? [] : [`...${nodeOf(base)}.keys`]), ...keys].join(', ')} } }`
    }
    default:
      throw new Error(`a schema that the table does not know: ${def.type}`)
  }
}

/** The files of types, by the named schema that each begins with. */
const FILES = [
  ['rules', 'Limit'],
  ['sources', 'MeasureEntry'],
  ['exhibits', 'KeySpec'],
  ['report', 'ReportSpec'],
]
const SUGGESTED = ['ColorName', 'IconName', 'PigmentName', 'Ramp']

/**
 * Types by file: those of its own names, with imports of what they read from the others. @returns
 * {[path: string, text: string][]}
 */
function typeFiles() {
  const named = [...names].map(([schema, name]) => ({ name, text: declaration(name, schema) }))
  const starts = FILES.map(([, first]) => named.findIndex(({ name }) => name === first))
  const groups = FILES.map(([file], f) => ({ file, own: named.slice(starts[f], starts[f + 1]) }))
  return groups.map(({ file, own: definition }) => {
    const text = definition.map((one) => one.text).join('\n')
    /** @param {readonly string[]} of @param {string} from */
    const importOf = (of, from) => {
      const read = of.filter((name) => new RegExp(`\\b${name}\\b`).test(text)).sort()
      return read.length === 0 ? '' : `import type { ${read.join(', ')} } from '${from}'\n`
    }
    const others = groups
      .filter((group) => group.file !== file)
      .sort((a, b) => (a.file < b.file ? -1 : 1))
      .map((group) =>
        importOf(
          group.own.map(({ name }) => name),
          `./${group.file}.js`,
        ),
      )
    const imports = `${importOf(['FindingCode'], '../problem/catalogue/findings.js')}${others.join('')}${importOf(SUGGESTED, './suggested.js')}`
    return [`src/spec/${file}.ts`, `${HEAD}${imports}\n${text}`]
  })
}

/**
 * The tables of shapes: those of rules apart, as plain tables are painted with them alone. @returns
 * {[path: string, text: string][]}
 */
function shapeFiles() {
  for (const schema of names.keys()) nodeOf(schema)
  const nameOf = (/** @type {string} */ text) => /^export const (\w+)/.exec(text)?.[1] ?? ''
  const end = written.findIndex((text) => nameOf(text) === 'RULE_SPEC') + 1
  const [rules, others] = [written.slice(0, end), written.slice(end)]
  const read = rules.map(nameOf).filter((name) => others.some((text) => new RegExp(`\\b${name}\\b`).test(text)))
  return [
    ['src/shape/rule-table.ts', `${HEAD}import type { Shape } from './shape.js'\n\n${rules.join('\n')}`],
    [
      'src/shape/table.ts',
      `${HEAD}import { ${read.sort().join(', ')} } from './rule-table.js'\nimport type { Shape } from './shape.js'\n\n${others.join('\n')}`,
    ],
  ]
}

/** All files, formatted. @returns {[path: string, text: string][]} */
export function made() {
  return [
    ...typeFiles(),
    ...shapeFiles(),
    ...ruleKindFiles(),
    ...exhibitKindFiles(),
    ...sourceFormatFiles(),
    ...outputFiles(),
  ]
}

const root = fileURLToPath(new URL('../..', import.meta.url))
if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const files = made()
  for (const [path, text] of files) writeFileSync(`${root}${path}`, text)
  execFileSync(
    process.execPath,
    ['node_modules/@biomejs/biome/bin/biome', 'format', '--write', ...files.map(([path]) => path)],
    {
      cwd: root,
      stdio: 'ignore',
    },
  )
}
