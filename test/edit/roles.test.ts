import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { ROOT } from '../support/tool.js'

interface Schema {
  $ref?: string
  anyOf?: Schema[]
  oneOf?: Schema[]
  properties?: Record<string, Schema>
  additionalProperties?: Schema | boolean
  items?: Schema
  type?: string | string[]
  enum?: unknown[]
  const?: unknown
}

/** The places of the schema that take a text of one's own: `#` is an index, `*` a name. */
function textPlaces(schema: Schema & { $defs?: Record<string, Schema> }): string[] {
  const found = new Set<string>()
  const walk = (node: Schema, path: string[], seen: string[]): void => {
    if (node.$ref !== undefined) {
      const name = node.$ref.split('/').at(-1) ?? ''
      if (!seen.includes(name)) walk(schema.$defs?.[name] ?? {}, path, [...seen, name])
      return
    }
    for (const one of [...(node.anyOf ?? []), ...(node.oneOf ?? [])]) walk(one, path, seen)
    for (const [key, inner] of Object.entries(node.properties ?? {})) walk(inner, [...path, key], seen)
    if (typeof node.additionalProperties === 'object') walk(node.additionalProperties, [...path, '*'], seen)
    if (node.items !== undefined) walk(node.items, [...path, '#'], seen)
    const isText = [node.type].flat().includes('string')
    if (isText && node.enum === undefined && node.const === undefined) found.add(path.join('.'))
  }
  walk(schema, [], [])
  return [...found]
}

test('each text of the schema has a role: a rename knows what it refers to', async () => {
  const { roleOf } = (await import(join(ROOT, 'dist/edit/naming/roles.js'))) as {
    roleOf(place: string): string | undefined
  }
  const places = textPlaces(JSON.parse(readFileSync(join(ROOT, 'dist/report.schema.json'), 'utf8')))
  expect(places.length).toBeGreaterThan(250)
  expect(places.filter((place) => roleOf(place) === undefined)).toEqual([])
  expect(roleOf('rules.#.unheardOf')).toBeUndefined()
  expect(['measures.*.formula', 'rules.#.bands.#.atLeast', 'exhibits.#.table.sort.#', 'strip'].map(roleOf)).toEqual([
    'formula',
    'cells',
    'sort',
    'strip',
  ])
})
