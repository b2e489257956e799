import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { keysOfSentence, sentencesPage } from '../../scripts/sentences.js'
import { ROOT } from '../support/tool.js'

interface Grammar {
  EXAMPLES: { examples: { text: string }[] }[]
  readSentence(text: string): { spec: object }
  writeSentence(spec: object): string
}

const grammar = async (): Promise<Grammar> => ({
  ...((await import(join(ROOT, 'dist/rule/sentence/forms.js'))) as Pick<Grammar, 'EXAMPLES'>),
  ...((await import(join(ROOT, 'dist/rule/sentence/parse.js'))) as Omit<Grammar, 'EXAMPLES'>),
})

test('the page of the grammar is what its description makes of it, and its examples are written as they are read', async () => {
  expect(readFileSync(join(ROOT, 'docs/sentences.md'), 'utf8')).toBe(sentencesPage())
  const { EXAMPLES, readSentence, writeSentence } = await grammar()
  const texts = EXAMPLES.flatMap(({ examples }) => examples.map(({ text }) => text))
  expect(texts.length).toBeGreaterThan(40)
  for (const text of texts) expect(writeSentence(readSentence(text).spec)).toBe(text)
})

type Schema = { properties?: Record<string, Schema>; items?: Schema; anyOf?: Schema[]; $ref?: string }

test('each key of a rule has a form', async () => {
  const { EXAMPLES } = await grammar()
  const said = new Set(EXAMPLES.flatMap(({ examples }) => examples.flatMap(({ text }) => keysOfSentence(text))))
  const whole = JSON.parse(readFileSync(join(ROOT, 'dist/report.schema.json'), 'utf8')) as Schema & {
    $defs?: Record<string, Schema>
  }
  const resolved = (schema: Schema): Schema =>
    schema.$ref === undefined ? schema : (whole.$defs?.[schema.$ref.split('/').at(-1) ?? ''] ?? {})
  const keys: string[] = []
  const walk = (written: Schema, path: string): void => {
    const schema = resolved(written)
    const options = [schema, ...(schema.anyOf ?? []).map(resolved)]
    const lists = options.flatMap(({ items }) => (items === undefined ? [] : [resolved(items)]))
    const maps = [...options, ...lists].flatMap(({ properties }) => (properties === undefined ? [] : [properties]))
    // An outcome is a status or a style: the keys of styles are those of a band.
    const isOutcome = /(missing|otherwise)$/.test(path)
    if (maps.length === 0 || isOutcome) keys.push(path)
    else for (const [key, inner] of maps.flatMap(Object.entries)) walk(inner, path === '' ? key : `${path}.${key}`)
  }
  const rule = resolved(resolved(whole.properties?.rules ?? {}).items ?? {})
  const [inKeys] = (rule.anyOf ?? []).map(resolved)
  walk(inKeys, '')
  // Name and title stand beside a sentence; one style is like another.
  const wanted = keys.filter((key) => key !== 'name' && key !== 'title' && !/^rank\..*style\./.test(key))
  expect(wanted.length).toBeGreaterThan(40)
  expect(wanted.filter((key) => !said.has(key))).toEqual([])
})
