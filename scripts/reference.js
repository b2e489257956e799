// @ts-check
/**
 * Writes docs/reference.md from the schema and the registries: `npm run docs`. Every key of the
 * report file, every kind, format, output and value function is in it.
 */
import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** @typedef {import('./schema/make.js').Schema} Schema */

const { NAMED } = await import('./schema/report.js')
const { EXHIBIT_KINDS, keyOf, RULE_KINDS } = await import('./schema/registries.js')
const { FUNCTIONS } = await import('../dist/expression/functions.js')
const { FAMILY_NAMES, ICON_NAMES } = await import('../dist/style/icon-families.js')
const { HOUSE_PIGMENTS } = await import('../dist/color/pigments.js')
const { OUTPUTS } = await import('../dist/output/registry.js')
const { FORMATS } = await import('../dist/source/formats/registry.js')

/** Named parts, from the file itself inwards. */
const PARTS = Object.entries(/** @type {Record<string, Schema>} */ (/** @type {unknown} */ (NAMED))).reverse()
/** @type {Map<Schema, string>} */
const names = new Map(PARTS.map(([name, schema]) => [schema, name]))

/** @param {Schema} schema @returns {{ own: Schema, optional: boolean }} */
function opened(schema) {
  const { def } = schema
  return def.type === 'optional' && def.innerType !== undefined
    ? { ...opened(def.innerType), optional: true }
    : { own: schema, optional: false }
}

/** @param {string} name */
const titleOf = (name) => name.replace(/(Spec|Entry)$/, '')
/** @param {string} name */
const linkTo = (name) => `[${titleOf(name)}](#${titleOf(name).toLowerCase()})`

/** What a key takes, in a few words. @param {Schema} schema @returns {string} */
function takes(schema) {
  const { own: definition } = opened(schema)
  const name = names.get(definition)
  if (name !== undefined) return linkTo(name)
  const { def } = definition
  switch (def.type) {
    case 'string':
      return 'text'
    case 'number':
      return 'number'
    case 'boolean':
      return '`true`, `false`'
    case 'enum':
      return Object.values(def.entries ?? {})
        .map((value) => `\`${value}\``)
        .join(', ')
    case 'literal':
      return (def.values ?? []).map((value) => `\`${value}\``).join(', ')
    case 'array':
      return `list of ${takes(/** @type {Schema} */ (def.element))}`
    case 'record':
      return `by name: ${takes(/** @type {Schema} */ (def.valueType))}`
    case 'union':
      return [...new Set((def.options ?? []).map(takes))].join(' or ')
    default:
      return `\`{ ${Object.keys(def.shape ?? {}).join(', ')} }\``
  }
}

/** @param {string} text */
const cell = (text) => text.replaceAll('|', '\\|').replaceAll('\n', ' ')

/**
 * The keys of an object, and of the objects that one of its forms is.
 * @param {Schema} schema
 * @returns {string}
 */
function keysTable(schema) {
  const { def } = schema
  const objects = def.type === 'union' ? (def.options ?? []).filter((option) => option.def.type === 'object') : [schema]
  const shapes = objects.flatMap((object) => Object.entries(object.def.shape ?? {}))
  if (shapes.length === 0) return ''
  const rows = shapes.map(([key, definition]) => {
    const { own: inner, optional } = opened(definition)
    const text = definition.description ?? inner.description ?? ''
    return `| \`${key}\`${optional ? '' : ' (needed)'} | ${cell(takes(definition))} | ${cell(text)} |`
  })
  return `\n| key | takes | meaning |\n| --- | --- | --- |\n${rows.join('\n')}\n`
}

/** @param {[string, Schema]} part */
function section([name, schema]) {
  const about = schema.description === undefined ? '' : `\n${sentence(schema.description)}.\n`
  const forms = schema.def.type === 'object' ? '' : `\nTakes ${takes({ ...schema, def: schema.def })}.\n`
  return `### ${titleOf(name)}\n${about}${forms.replace(linkTo(name), 'one of its forms')}${keysTable(schema)}`
}

/** @param {string} text */
function sentence(text) {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** @param {readonly string[]} kinds @param {Schema} schema the object that has one of them */
function kindsTable(kinds, schema) {
  const rows = kinds.map(keyOf).map((key) => {
    const definition = /** @type {Schema} */ (schema.def.shape?.[key])
    return `| \`${key}\` | ${cell(takes(definition))} | ${cell(definition.description ?? '')} |`
  })
  return `| kind | takes | meaning |\n| --- | --- | --- |\n${rows.join('\n')}\n`
}

/** The page, as text. */
export function referencePage() {
  const { RuleSpec, ExhibitSpec } = /** @type {Record<string, Schema>} */ (/** @type {unknown} */ (NAMED))
  return `# Reference

Made from the schema and the registries by \`npm run docs\`; [the report file](report-file.md) explains what belongs together.

## Kinds of rules

A rule has exactly one of these keys.

${kindsTable(RULE_KINDS, RuleSpec)}
## Kinds of exhibits

An exhibit has exactly one of these keys.

${kindsTable(EXHIBIT_KINDS, ExhibitSpec)}
## Formats of data files

| format | endings |
| --- | --- |
${FORMATS.map(({ label, endings }) => `| ${label} | ${endings.map((suffix) => `\`.${suffix}\``).join(' ')} |`).join('\n')}

## Outputs

| \`--to\` | what it is | from the library |
| --- | --- | --- |
${OUTPUTS.map(({ key, about, library }) => `| \`${key}\` | ${cell(about)} | ${cell(library)} |`).join('\n')}

## Functions of values

| function | takes |
| --- | --- |
${Object.entries(FUNCTIONS)
  .map(([name, { says }]) => `| \`${name}\` | ${says} |`)
  .join('\n')}

## Icons and pigments

Icons: ${ICON_NAMES.filter((name) => name !== 'bySign' && !name.includes('-of-'))
    .map((name) => `\`${name}\``)
    .join(
      ', ',
    )}; steps of a family, 2 to 9, such as \`petals-2-of-5\`: ${FAMILY_NAMES.map((name) => `\`${name}\``).join(', ')}; and \`bySign\`, the arrow of the value's sign.

Pigments: ${Object.keys(HOUSE_PIGMENTS)
    .map((name) => `\`${name}\``)
    .join(', ')}; in ramps also \`paper\` and \`soot\`.

## Keys of the report file

${PARTS.map(section).join('\n')}`
}

const file = fileURLToPath(new URL('../docs/reference.md', import.meta.url))
if (process.argv[1] === fileURLToPath(import.meta.url)) {
  if (process.argv[2] === '--print') process.stdout.write(referencePage())
  else writeFileSync(file, referencePage())
}
