import type { ColumnFacts } from './facts.js'
import { rangeText } from './facts.js'
import { lackingKeys } from './keys.js'
import { type Line, line } from './line.js'
import { commentText, written, yamlExpression, yamlText } from './names.js'
import type { Plan, StarterSource } from './plan.js'
import type { Role, RoleOf } from './roles.js'

/** More names than these are counted, not listed. */
const MAX_NAMES = 8

const ROLE_TITLES: readonly [string, readonly Role[]][] = [
  ['time', ['time']],
  ['added up', ['amount', 'cost', 'quantity', 'target', 'previous']],
  ['averaged', ['price', 'level', 'rate']],
  ['keys', ['key', 'status', 'condition', 'name']],
  ['left aside', ['id', 'period', 'date', 'color', 'picture', 'text', 'constant', 'empty']],
]

/** The sources with the roles of their columns, and the fields. */
export function sourceSection({ sources: all, measures: { fields } }: Plan): Line[] {
  return [
    line('sources:'),
    ...all.flatMap((source, i) => [...columnLines(source), ...sourceLines(source, all[0], i)]),
    ...fieldLines(all, fields),
    line(''),
  ]
}

/** Fields per row: products, and keys of further sources under the name of the first. */
function fieldLines(all: readonly StarterSource[], fields: Plan['measures']['fields']): Line[] {
  const [home, ...others] = all
  const renamed = others.flatMap(({ name, shared, lookup }) => {
    const keys = lookup ? [] : shared.filter((key) => key.home !== key.other)
    return keys.length === 0
      ? []
      : [
          line(`  ${name}:`),
          ...keys.map((key) =>
            line(`    ${key.home}: ${yamlExpression(written(key.other))}`, `as ${home.name} calls it`),
          ),
        ]
  })
  if (fields.length === 0 && renamed.length === 0) return []
  const own = fields.map(({ name, formula, because }) => line(`    ${name}: ${yamlExpression(formula)}`, because))
  return [
    line(''),
    line('fields:', 'computed for each row'),
    ...(own.length === 0 ? [] : [line(`  ${home.name}:`), ...own]),
    ...renamed,
  ]
}

/** A line for each group of roles: what is done with which columns, and why. */
function columnLines({ file, source, roles, shape }: StarterSource): Line[] {
  const rows = `${source.table.length.toLocaleString('en')} ${source.table.length === 1 ? 'row' : 'rows'}`
  return [
    line('  ', `${commentText(file)}: ${rows}${shape === undefined ? '' : `; ${shape.because}`}`),
    ...ROLE_TITLES.flatMap(([title, kinds]) => {
      const group = roles.filter(({ role }) => kinds.includes(role))
      if (group.length === 0) return []
      return [line('  ', `  ${title}: ${namesText(group)}`)]
    }),
  ]
}

function namesText(group: readonly RoleOf[]): string {
  const shown = group
    .slice(0, MAX_NAMES)
    .map(
      ({ facts, because, role }) =>
        `${facts.name} (${['key', 'name', 'status', 'condition'].includes(role) ? rangeText(facts) : `${because}, ${rangeText(facts)}`})`,
    )
  const more = group.length > MAX_NAMES ? `, and ${group.length - MAX_NAMES} more` : ''
  return `${commentText(shown.join(', '), 220)}${more}`
}

function sourceLines(source: StarterSource, home: StarterSource, i: number): Line[] {
  const { name, file, date, shape, shared, reads, facts, lookup, sheet } = source
  const { stack, unstack } = shape ?? {}
  const columns = stack?.columns?.map(yamlText).join(', ')
  const guesses = reads.map(([column, as]) => `${yamlText(column)}: ${yamlText(as)}`)
  const match = shared
    .map((key) =>
      lookup && key.home !== key.other ? `{ ${yamlText(key.home)}: ${yamlText(key.other)} }` : yamlText(key.home),
    )
    .join(', ')
  const [first] = shared
  const lacking = first === undefined ? [] : lackingKeys(byName(home.facts, first.home), byName(facts, first.other))
  const gap =
    lacking.length === 0
      ? ''
      : `; it lacks ${lacking.length} of them: ${commentText(lacking.slice(0, 3).join(', '), 60)}`
  const keys = [`file: ${yamlText(file)}`, ...(date === undefined ? [] : [`date: ${yamlText(date)}`])]
  const layout =
    stack !== undefined
      ? [`    stack: { columns: [${columns}], name: ${yamlText(stack.name)}, value: ${yamlText(stack.value)} }`]
      : unstack !== undefined
        ? [`    unstack: { name: ${yamlText(unstack.name)}, value: ${yamlText(unstack.value)} }`]
        : []
  const more = [
    ...layout.map((code) => line(code)),
    ...(guesses.length === 0 ? [] : [line(`    read: { ${guesses.join(', ')} }`, 'inferred; this declares it')]),
    ...(i > 0 && match !== '' ? joinLines(source, home, match, gap) : []),
  ]
  const chosen = Object.entries(sheet).map(
    ([key, value]) => `${key}: ${typeof value === 'number' ? value : yamlText(value)}`,
  )
  if (more.length === 0) return [line(`  ${name}: { ${[...keys, ...chosen].join(', ')} }`)]
  const sheetLine = chosen.map((key, k) =>
    line(`    ${key}`, k === 0 ? 'found in the workbook; this declares it' : undefined),
  )
  return [line(`  ${name}:`), ...keys.map((key) => line(`    ${key}`)), ...sheetLine, ...more]
}

/** How it is joined with the first source: on shared keys and time, or looked up by each row. */
function joinLines(
  { name, lookup, date, shared, per }: StarterSource,
  home: StarterSource,
  match: string,
  gap: string,
): Line[] {
  const matched = `    match: [${match}]`
  if (lookup === undefined) return [line(matched, `joined with ${home.name} on these and on time${gap}`)]
  const key = commentText(shared[0].other, 40)
  const once = `it has each ${key} once: its columns are named ${name}.column`
  return [
    line(`    lookup: ${lookup}`, date === undefined ? once : `it has a row for each ${key} and date`),
    line(matched, `looked up by each row of ${home.name}${gap}`),
    ...(per === undefined ? [] : [line(`    per: ${per}`, `its target is near what ${home.name} reaches in a ${per}`)]),
  ]
}

function byName(facts: readonly ColumnFacts[], name: string): ColumnFacts | undefined {
  return facts.find((each) => each.name === name)
}
