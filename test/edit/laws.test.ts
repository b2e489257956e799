import { applyEdit, createHistory, type Draft, diff, type Edit, openDraft, type Path } from 'acuarela/edit'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Lexer, parse } from 'yaml'
import { effort } from '../support/effort.js'
import { EXAMPLES, SPELLINGS, VARIANTS } from './texts.js'

type Plain = Record<string, unknown>

/** Every path of a tree. */
function pathsOf(value: unknown, at: Path = []): Path[] {
  const own = at.length === 0 ? [] : [at]
  if (typeof value !== 'object' || value === null) return own
  const steps: [string | number, unknown][] = Array.isArray(value) ? [...value.entries()] : Object.entries(value)
  return [...own, ...steps.flatMap(([step, item]) => pathsOf(item, [...at, step]))]
}

function valueAt(tree: unknown, path: Path): unknown {
  return path.reduce((value: unknown, step) => (value as Plain | undefined)?.[step], tree)
}

/** The comments of a text, as YAML's own lexer finds them. */
function commentsOf(text: string): string[] {
  return [...new Lexer().lex(text)].filter((token) => /^#/.test(token)).map((token) => token.trim())
}

/**
 * The same edit on plain values, in the plainest way: an oracle that knows nothing of lines and
 * sentences.
 */
function onPlain(tree: unknown, edit: Edit): unknown {
  const copy = structuredClone(tree) as Plain
  if (!('path' in edit)) return copy
  const holder = valueAt(copy, edit.path.slice(0, -1)) as Plain
  const step = edit.path.at(-1) as string
  const at = (list: unknown[], i: number, ...items: unknown[]): void => void list.splice(i, 0, ...items)
  if (edit.do === 'set') holder[step] = edit.value
  else if (edit.do === 'remove' || edit.do === 'unset') {
    if (Array.isArray(holder)) holder.splice(Number(step), 1)
    else delete holder[step]
  } else if (edit.do === 'move')
    at(holder as unknown as unknown[], edit.to, ...(holder as unknown as unknown[]).splice(Number(step), 1))
  else if (edit.do === 'insert') {
    const target = valueAt(copy, edit.path) as Plain
    if ('key' in edit) target[edit.key] = edit.value
    else at(target as unknown as unknown[], edit.at ?? 0, edit.value)
  }
  return copy
}

const TEXT_VALUES = ["it's", 'a: b', '12', 'true', '- x', 'x # y', '[a', 'é→', ' blank ', '2025-01', '"q"', 'last']

/** A random edit of what a draft has. */
function editOf({ spec }: Draft, choose: (count: number) => number): Edit | undefined {
  const paths = pathsOf(spec)
  const pick = <T>(list: readonly T[]): T | undefined => list[choose(list.length)]
  const kind = choose(5)
  const path = pick(paths) ?? []
  const value = valueAt(spec, path)
  if (kind === 0) {
    if (typeof value === 'object') return undefined
    return {
      do: 'set',
      path,
      value: typeof value === 'number' ? value + 1 : typeof value === 'boolean' ? !value : pick(TEXT_VALUES),
    }
  }
  if (kind === 1) return { do: 'remove', path }
  const lists = paths.filter((one) => Array.isArray(valueAt(spec, one)))
  if (kind === 2) {
    const list = pick(lists)
    const items = list === undefined ? [] : (valueAt(spec, list) as unknown[])
    return list === undefined || items.length === 0
      ? undefined
      : { do: 'insert', path: list, value: items[0], at: choose(items.length + 1) }
  }
  if (kind === 3) {
    const entry = pick(paths.filter((one) => typeof one.at(-1) === 'number'))
    if (entry === undefined) return undefined
    return { do: 'move', path: entry, to: choose((valueAt(spec, entry.slice(0, -1)) as unknown[]).length) }
  }
  const map = pick(
    paths.filter((one) => {
      const held = valueAt(spec, one)
      return typeof held === 'object' && held !== null && !Array.isArray(held)
    }),
  )
  return map === undefined
    ? undefined
    : { do: 'insert', path: map, key: 'fresh', value: pick([5, 'a text', { a: 1, b: ['x', 'y'] }, [1, 2]]) }
}

/** Whether two rules say the same, apart from lists of one. */
function plainRules(spec: unknown): unknown {
  const { rules, ...rest } = structuredClone(spec) as Plain
  const one = (value: unknown): unknown => (Array.isArray(value) && value.length === 1 ? value[0] : value)
  const list = Array.isArray(rules)
    ? rules.map((rule: unknown) =>
        typeof rule === 'object' && rule !== null
          ? Object.fromEntries(
              Object.entries(rule).map(([key, value]) => [
                key,
                ['paint', 'within', 'grain'].includes(key) ? one(value) : value,
              ]),
            )
          : rule,
      )
    : rules
  return { ...rest, rules: list }
}

test('an edit changes what it says, no comment and no other line, and is undone to the same bytes', () => {
  const texts = [...EXAMPLES, ...SPELLINGS]
  let made = 0
  let refused = 0
  fc.assert(
    fc.property(
      fc.constantFrom(...texts),
      fc.constantFrom(...VARIANTS),
      fc.infiniteStream(fc.nat()),
      ([name, plain], vary, numbers) => {
        const text = vary(plain)
        const draft = openDraft(text)
        const edit = editOf(draft, (count) => (count === 0 ? 0 : (numbers.next().value ?? 0) % count))
        if (edit === undefined) return
        const history = createHistory(draft)
        const next = history.do(edit)
        if (next.refused !== undefined) {
          refused++
          expect(next.text).toBe(text)
          expect(history.entries).toEqual([])
          return
        }
        made++
        const where = `${name} ${JSON.stringify(edit)}`
        // It says what the edit says, and the text is what it says.
        expect(plainRules(next.spec), where).toEqual(plainRules(onPlain(draft.spec, edit)))
        expect(openDraft(next.text).spec, where).toEqual(next.spec)
        keepsForm(text, next.text, where)
        keepsLines(text, next.text, edit, where)
        expect(history.undo().text, where).toBe(text)
        expect(history.redo().text, where).toBe(next.text)
      },
    ),
    { seed: 18, numRuns: effort(2000, 80) },
  )
  // Most edits are possible; the others would leave a rule that no sentence says.
  expect(made).toBeGreaterThan(refused * 8)
}, 900_000)

/** Line ends, byte-order mark and the end of the file stay. */
function keepsForm(before: string, after: string, where: string): void {
  expect(after.startsWith('\uFEFF'), where).toBe(before.startsWith('\uFEFF'))
  expect(after.endsWith('\n'), where).toBe(before.endsWith('\n'))
  if (before.includes('\r\n')) expect(/[^\r]\n/.test(after), where).toBe(false)
  else expect(after.includes('\r'), where).toBe(false)
}

function keepsLines(before: string, after: string, edit: Edit, where: string): void {
  const lines = diff(before.replace(/^\uFEFF/, ''), after.replace(/^\uFEFF/, ''))
  const changed = (is: 'removed' | 'added'): string[] => lines.filter((line) => line.is === is).map(({ text }) => text)
  const [removed, added] = [changed('removed'), changed('added')]
  const comments = (text: string): string[] => commentsOf(text.replace(/^\uFEFF/, '')).sort()
  const isJson = before.replace(/^\uFEFF/, '').startsWith('{')
  if (edit.do !== 'remove' && !isJson) expect(comments(after), where).toEqual(comments(before))
  if (edit.do === 'remove' && !isJson) {
    // What is lost stood in the lines that went.
    const lost = comments(removed.join('\n'))
    for (const comment of comments(before))
      if (!comments(after).includes(comment)) expect(lost, where).toContain(comment)
    expect(added.length, where).toBeLessThanOrEqual(1)
  }
  // A text in folded lines may be written anew on one.
  if (edit.do === 'set') expect(added.length, where).toBeLessThanOrEqual(1)
  if (edit.do === 'insert') expect(removed.length, where).toBeLessThanOrEqual(3)
  if (edit.do === 'move' && removed.length > 1 && added.length === removed.length) {
    const words = (list: string[]): string[] => list.join(' ').replaceAll(',', '').split(/\s+/).filter(Boolean).sort()
    expect(words(added), where).toEqual(words(removed))
  }
}

test('comments stay with their entries when these are moved or removed', () => {
  const text = `title: T
sources: { s: { file: s.csv } }
measures:
  a: sum(x)
  # about b, first line
  # and second
  b: sum(y)   # beside b

  # floats
  
  c: sum(z)
    # below c
rules: [revenue]
exhibits: []
# the end
`
  const removed = applyEdit(openDraft(text), { do: 'remove', path: ['measures', 'b'] })
  expect(removed.text).toBe(text.replace('  # about b, first line\n  # and second\n  b: sum(y)   # beside b\n', ''))
  const moved = applyEdit(openDraft(text), { do: 'move', path: ['measures', 'c'], to: 0 })
  expect(moved.text).toBe(
    text
      .replace('  a: sum(x)\n', '  c: sum(z)\n    # below c\n')
      .replace('  # about b, first line\n  # and second\n  b: sum(y)   # beside b\n', '  a: sum(x)\n')
      .replace(
        '  \n  c: sum(z)\n    # below c\nrules',
        '  \n  # about b, first line\n  # and second\n  b: sum(y)   # beside b\nrules',
      ),
  )
})

test('emptied and new sections, short forms, aligned comments and quotes', () => {
  const text = `title: T
sources: { s: { file: s.csv } }
measures:
  revenue: sum(amount)       # sold
  plan: sum(budget)          # planned
parameters: { target: 5 }
rules:   # in order
  - revenue: at least target → ahead
exhibits: []
`
  const edited = (edit: Edit): string[] => {
    const { text: after, refused } = applyEdit(openDraft(text), edit)
    expect(refused).toBeUndefined()
    return diff(text, after).flatMap(({ is, text: line }) =>
      is === 'same' ? [] : [`${is === 'added' ? '+' : '-'}${line}`],
    )
  }
  expect(edited({ do: 'remove', path: ['rules', 0] })).toEqual([
    '-rules:   # in order',
    '-  - revenue: at least target → ahead',
    '+rules: []   # in order',
  ])
  expect(
    edited({ do: 'insert', path: ['exhibits'], value: { name: 'shops', table: { rows: 'shop', show: 'revenue' } } }),
  ).toEqual(['-exhibits: []', '+exhibits:', '+  - { name: shops, table: { rows: shop, show: revenue } }'])
  expect(edited({ do: 'set', path: ['measures', 'plan'], value: 'sum(budget) * 1.05' })).toEqual([
    '-  plan: sum(budget)          # planned',
    '+  plan: sum(budget) * 1.05   # planned',
  ])
  expect(edited({ do: 'set', path: ['measures', 'plan', 'label'], value: 'Plan: 5 %' })).toEqual([
    '-  plan: sum(budget)          # planned',
    "+  plan: { formula: sum(budget), label: 'Plan: 5 %' }          # planned",
  ])
  expect(edited({ do: 'set', path: ['parameters', 'target', 'value'], value: 7 })).toEqual([
    '-parameters: { target: 5 }',
    '+parameters: { target: 7 }',
  ])
  expect(edited({ do: 'set', path: ['statuses', 'ahead'], value: { wash: 'aqua' } })).toEqual([
    '+statuses:',
    '+  ahead: { wash: aqua }',
  ])
  expect(edited({ do: 'insert', path: ['rules'], value: 'revenue: top 3 → bold' })).toEqual([
    '+  - revenue: top 3 → bold',
  ])
  expect(edited({ do: 'insert', path: ['rules'], value: "revenue: above 5 → flag 'x: y'" })).toEqual([
    "+  - 'revenue: above 5 → flag ''x: y'''",
  ])
  expect(edited({ do: 'set', path: ['rules', 0, 'name'], value: 'first' })).toEqual([
    '-  - revenue: at least target → ahead',
    "+  - { name: first, say: 'revenue: at least target → ahead' }",
  ])
})

test('a sentence keeps the words of every part that is not edited', () => {
  const text = `title: T
sources: { s: { file: s.csv } }
measures: { revenue: { formula: sum(amount), label: Net revenue }, plan: sum(budget) }
parameters: { target: 5 }
rules:
  - Net revenue of each shop: at least   target => ahead; at least 80 % of target => close; otherwise => behind, totals too
exhibits: []
`
  const sentence = (edit: Edit): string => {
    const { text: after, refused } = applyEdit(openDraft(text), edit)
    expect(refused).toBeUndefined()
    return (/ {2}- (.*)\n/.exec(after) ?? [])[1]
  }
  const [, old] = / {2}- (.*)\n/.exec(text) ?? []
  const bands = ['rules', 0, 'bands']
  expect(sentence({ do: 'set', path: [...bands, 1, 'atLeast'], value: '90% of target' })).toBe(
    old.replace('80 % of target', '90% of target'),
  )
  expect(sentence({ do: 'set', path: [...bands, 0, 'status'], value: 'close' })).toBe(
    old.replace('=> ahead', '=> close'),
  )
  expect(sentence({ do: 'insert', path: bands, value: { missing: 'behind' }, at: 2 })).toBe(
    old.replace('; otherwise', '; missing → behind; otherwise'),
  )
  expect(sentence({ do: 'remove', path: [...bands, 1] })).toBe(old.replace(' at least 80 % of target => close;', ''))
  expect(sentence({ do: 'unset', path: ['rules', 0, 'levels'] })).toBe(old.replace(', totals too', ''))
  expect(sentence({ do: 'set', path: ['rules', 0, 'paint'], value: 'plan' })).toBe(old.replace('Net revenue', 'plan'))
  expect(sentence({ do: 'set', path: ['rules', 0, 'say'], value: 'plan: top 3 → bold' })).toBe('plan: top 3 → bold')
})

test('a text with mistakes is a draft, and what cannot be edited is told', () => {
  const broken = openDraft('title: [\n')
  expect(broken.problems.map(({ code }) => code)).toEqual(['yaml-broken'])
  expect(broken.spec).toEqual({})
  expect(applyEdit(broken, { do: 'set', path: ['title'], value: 'T' }).refused?.map(({ code }) => code)).toEqual([
    'edit-unreadable',
  ])
  const odd = openDraft('title: 5\nrules: { a: 1 }\nexhibits: none\nmeasures: [x]\n')
  expect(odd.problems.length).toBeGreaterThan(2)
  expect(applyEdit(odd, { do: 'set', path: ['title'], value: 'T' }).text).toBe(
    'title: T\nrules: { a: 1 }\nexhibits: none\nmeasures: [x]\n',
  )
  const draft = openDraft(EXAMPLES.find(([name]) => name === 'spring.acuarela.yaml')?.[1] ?? '')
  const codes = (edit: unknown): string[] => (applyEdit(draft, edit as Edit).refused ?? []).map(({ code }) => code)
  expect(codes({ do: 'set', path: ['rules', 99, 'name'], value: 'x' })).toEqual(['edit-refused'])
  expect(codes({ do: 'remove', path: ['measures', 'nope'] })).toEqual(['edit-nothing'])
  expect(codes({ do: 'move', path: ['rules', 0], to: 99 })).toEqual(['edit-nothing'])
  expect(codes({ do: 'insert', path: ['measures'], key: 'gap', value: 'sum(x)' })).toEqual(['two-of-a-name'])
  expect(codes({ do: 'paint' })).toEqual(['not-one-of'])
  expect(codes({ do: 'set', path: 'rules', value: () => 1 })).toEqual(['wrong-shape', 'wrong-shape'])
  expect(codes({ do: 'rename', kind: 'measure', from: 'gap', to: 'plan' })).toEqual(['two-of-a-name'])
  expect(codes({ do: 'rename', kind: 'measure', from: 'gap', to: 'profit' })).toEqual(['name-taken'])
  expect(codes({ do: 'rename', kind: 'measure', from: 'gap', to: 'two words' })).toEqual(['bad-name'])
  expect(codes({ do: 'rename', kind: 'status', from: 'ahed', to: 'x' })).toEqual(['edit-unknown'])
  expect(codes({ do: 'extract', path: ['rules', 0, 'paint'], name: 'x' })).toEqual(['edit-no-number'])
  expect(() => openDraft(5 as unknown as string)).toThrow('expected a text')
})

test('a history says what was done, joins the steps of a drag, and can be kept', () => {
  const [, text] = EXAMPLES.find(([name]) => name === 'spring.acuarela.yaml') ?? ['', '']
  const history = createHistory(openDraft(text))
  const target = (value: number): Edit => ({ do: 'set', path: ['parameters', 'monthTarget', 'value'], value })
  history.do(target(141_000))
  for (const value of [142_000, 145_000, 150_000]) history.do(target(value), { merge: true })
  history.do({ do: 'copyRule', rule: 'lineSize', measure: 'plan' })
  history.do({ do: 'rename', kind: 'status', from: 'ahead', to: 'onTarget' })
  history.write(`${history.draft.text}# typed\n`)
  expect(history.entries).toEqual([
    'Month target 140,000 → 150,000',
    'Rule lineSize copied for plan',
    'Status ahead renamed onTarget',
    'Text edited',
  ])
  const kept = createHistory(openDraft(text), structuredClone(history.saved()))
  expect(kept.draft.text).toBe(history.draft.text)
  for (let i = 0; i < 6; i++) kept.undo()
  expect(kept.draft.text).toBe(text)
  expect(kept.undone).toEqual(history.entries)
  kept.redo()
  expect(parse(kept.draft.text).parameters.monthTarget.value).toBe(150_000)
  // A new edit ends what could be done again.
  kept.do({ do: 'unset', path: ['strip'] })
  expect(kept.entries).toEqual(['Month target 140,000 → 150,000', 'Strip back to its default'])
  expect(kept.undone).toEqual([])
  // A drag that ends where it began is no entry.
  const drag = createHistory(openDraft(text))
  drag.do(target(141_000))
  drag.do(target(140_000), { merge: true })
  expect([drag.entries, drag.draft.text]).toEqual([[], text])
  expect(() => createHistory(openDraft(text), { texts: [], words: [], at: 0 })).toThrow('saved()')
})
