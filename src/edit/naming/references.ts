import type { Path } from '../../problem/problem.js'
import { isPlainMap } from '../text/plain.js'
import type { NamedKind } from './kinds.js'
import { type Renaming, renamedBraces, renamedExpression } from './rename-in-text.js'
import { placeOfPath, type Role, roleOf } from './roles.js'

/** A name that is replaced wherever it is referred to. */
export interface Rename {
  kind: NamedKind
  from: string
  to: string
  /** The source of a field. */
  source: string | undefined
  /** Whether that source is the one that rows come from, so that its fields need no prefix. */
  isHome: boolean
  /** Columns of the data that have the name of a field of another source. */
  columns: readonly string[]
}

/** A text that refers to a renamed thing, with what it becomes. */
export interface Change {
  path: Path
  value: string
}

/** The texts of a report that refer to something, changed; keys are left as they are. */
export function changesOf(tree: unknown, rename: Rename, at: Path = []): Change[] {
  if (typeof tree === 'string') {
    const value = changedText(tree, roleOf(placeOfPath(at)) ?? 'plain', rename, at)
    return value === tree ? [] : [{ path: at, value }]
  }
  if (Array.isArray(tree)) return tree.flatMap((item, i) => changesOf(item, rename, [...at, i]))
  if (!isPlainMap(tree)) return []
  return Object.entries(tree).flatMap(([key, item]) => changesOf(item, rename, [...at, key]))
}

function changedText(text: string, role: Role, rename: Rename, path: Path): string {
  const { kind, from, to } = rename
  switch (role) {
    case 'rows':
    case 'formula':
    case 'cells': {
      const renaming = renamingOf(role, rename, path)
      return renaming === undefined ? text : renamedExpression(text, renaming)
    }
    case 'value':
      return kind === 'measure' || kind === 'field' || kind === 'source' ? named(text, rename) : text
    case 'key':
      return kind === 'field' || kind === 'source' ? named(text, rename) : text
    case 'sort': {
      const sign = text.startsWith('-') ? '-' : ''
      const isNamed = kind === 'measure' || kind === 'field' || kind === 'source'
      return isNamed ? sign + named(text.slice(sign.length), rename) : text
    }
    case 'braces': {
      const isValue = kind === 'measure' || kind === 'field' || kind === 'parameter'
      return isValue ? renamedBraces(text, (name) => name === from, to) : text
    }
    case 'status':
      return kind === 'status' && text === from ? to : text
    case 'exhibit':
      return kind === 'exhibit' && text === from ? to : text
    case 'color':
      return kind === 'pigment' && text === from ? to : text
    case 'icon':
      return kind === 'icon' && text === from ? to : text
    case 'strip':
      return dotted(text, rename)
    case 'anything':
      return text === from ? to : dotted(text, rename)
    case 'plain':
      return text
  }
}

/** A name, or a column with its table before a dot. */
function named(text: string, { kind, from, to, source }: Rename): string {
  if (kind === 'source') return text.startsWith(`${from}.`) ? `${to}${text.slice(from.length)}` : text
  if (text === from) return to
  return kind === 'field' && text === `${source}.${from}` ? `${source}.${to}` : text
}

/** An exhibit and a measure. */
function dotted(text: string, { kind, from, to }: Rename): string {
  const dot = text.indexOf('.')
  if (dot < 0) return text
  const [exhibit, measure] = [text.slice(0, dot), text.slice(dot + 1)]
  if (kind === 'exhibit' && exhibit === from) return `${to}.${measure}`
  return kind === 'measure' && measure === from ? `${exhibit}.${to}` : text
}

/** Which names of an expression are the renamed one. */
function renamingOf(role: 'rows' | 'formula' | 'cells', rename: Rename, path: Path): Renaming | undefined {
  const { kind, from, to, source: own, isHome, columns } = rename
  if (kind === 'source') return { to, part: 'source', isMeant: (_, source) => source === from }
  if (kind === 'field') {
    // In the fields of its own source a field needs no prefix.
    const isOwn = path[0] === 'fields' ? path[1] === own : isHome || !columns.includes(from)
    return {
      to,
      part: 'name',
      isMeant: (name, source) => name === from && (source === undefined ? isOwn : source === own),
    }
  }
  const isParameter = kind === 'parameter'
  if (kind !== 'measure' && !isParameter) return undefined
  // Conditions of exhibits may compare with a parameter; others know columns alone.
  if (role === 'rows' && !(isParameter && path[0] === 'exhibits' && !columns.includes(from))) return undefined
  return {
    to,
    part: 'name',
    isMeant: (name, source, at) =>
      name === from && source === undefined && at !== 'key' && (role !== 'formula' || at === 'outside'),
  }
}
