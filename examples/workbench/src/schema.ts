import schema from 'acuarela/report.schema.json' with { type: 'json' }
import { isMap, type Path } from './values.js'

/** A part of the JSON Schema of report files, as far as forms read it. */
export interface Node {
  description?: string
  type?: string | readonly string[]
  enum?: readonly (string | number | boolean)[]
  const?: string | number | boolean
  anyOf?: readonly Node[]
  properties?: Readonly<Record<string, Node>>
  required?: readonly string[]
  additionalProperties?: Node | boolean
  items?: Node
}

export type { Path } from './values.js'

const ROOT = schema as unknown as Node

/** The node of a path; undefined where the schema has none. */
export function nodeAt(path: Path): Node | undefined {
  let node: Node | undefined = ROOT
  for (const key of path) node = node === undefined ? undefined : inner(node, key)
  return node
}

function inner(node: Node, key: string | number): Node | undefined {
  for (const one of [node, ...(node.anyOf ?? [])]) {
    if (typeof key === 'number' && one.items !== undefined) return one.items
    const own = one.properties?.[key]
    if (own !== undefined) return own
    if (typeof one.additionalProperties === 'object' && one.properties === undefined) return one.additionalProperties
  }
  return undefined
}

/** The forms that a value may have. */
export function branches(node: Node): readonly Node[] {
  // An object may say in `anyOf` which of its keys have to be there.
  if (node.anyOf === undefined || node.properties !== undefined) return [node]
  return node.anyOf.flatMap(branches)
}

/** What a branch is called where one is chosen. */
export function branchName(node: Node): string {
  if (node.const !== undefined) return String(node.const)
  if (node.items !== undefined) return 'a list'
  if (node.properties !== undefined) return 'in detail'
  if (node.additionalProperties !== undefined) return 'a map'
  if (node.type === 'boolean') return 'yes or no'
  return node.enum === undefined ? 'a value' : 'one of'
}

/** The branch that a value has; the first where it has none. */
export function branchOf(node: Node, value: unknown): Node {
  const all = branches(node)
  return all.find((one) => fits(one, value)) ?? all[0]
}

function fits(node: Node, value: unknown): boolean {
  if (Array.isArray(value)) return node.items !== undefined
  if (typeof value === 'object' && value !== null)
    return node.properties !== undefined
      ? Object.keys(value).every((key) => node.properties?.[key] !== undefined)
      : typeof node.additionalProperties === 'object'
  if (node.const !== undefined) return node.const === value
  if (node.enum !== undefined) return node.enum.includes(value as string)
  const types = typeof node.type === 'string' ? [node.type] : (node.type ?? [])
  return types.includes(typeof value === 'number' && !types.includes('number') ? 'integer' : typeof value)
}

/** The key of a value in detail that holds what a plain value says. */
const MAIN = ['formula', 'value', 'key', 'show', 'status', 'of', 'date', 'file', 'at', 'count', 'text']

/** A value in another form, so that as much as can be is kept. */
export function converted(value: unknown, to: Node, starting: unknown): unknown {
  const plain = Array.isArray(value) ? value[0] : isMap(value) ? MAIN.map((key) => value[key]).find(isPlain) : value
  if (to.const !== undefined) return to.const
  if (to.enum !== undefined) return to.enum[0]
  if (to.items !== undefined) {
    const first = plain ?? starting
    return first === undefined || Array.isArray(first) ? first : [first]
  }
  if (to.properties !== undefined) {
    const key = MAIN.find((one) => to.properties?.[one] !== undefined)
    if (key !== undefined && plain !== undefined) return { [key]: plain }
    return isMap(starting) ? starting : undefined
  }
  return plain ?? (isPlain(starting) ? starting : undefined)
}

function isPlain(value: unknown): boolean {
  return typeof value === 'string' || typeof value === 'number'
}

/** `atLeast` as readers say it: `At least`. */
export function words(key: string | number): string {
  if (typeof key === 'number') return String(key + 1)
  const text = key.replace(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`)
  return text.charAt(0).toUpperCase() + text.slice(1)
}
