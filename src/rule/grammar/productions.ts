import type { SentenceReader } from './reader.js'

/** Keys of a rule, or of a part of one, with their values. */
export type Part = Record<string, unknown>

/**
 * A form of the grammar: it reads keys from a sentence, and writes them as one. Both come from the
 * same description, and so does the page of the grammar.
 */
export interface Production {
  /** Forms inside it that have a name of their own. */
  parts?: readonly { name: string; body: string }[]
  /** The words that it may begin with; undefined if it may begin with something else. */
  leads?: readonly string[] | undefined
  /** In extended Backus-Naur form (ISO/IEC 14977, without its separators). */
  ebnf: string
  /** The keys that stand here; undefined, without moving on, if the form does not. */
  read(reader: SentenceReader): Part | undefined
  /** The text of the keys; undefined if the part has not those that the form needs. */
  write(part: Part): string | undefined
}

/** A single value of a sentence: a name, a limit, a colour. */
export interface Leaf<T> {
  ebnf: string
  read(reader: SentenceReader): T | undefined
  write(value: T): string | undefined
}

/** Words that set nothing. */
export function words(text: string): Production {
  return {
    ebnf: text
      .split(' ')
      .map((word) => `"${word}"`)
      .join(' '),
    leads: [text],
    read: (reader) => (reader.words(text) ? {} : undefined),
    write: () => text,
  }
}

/** A sign: an arrow, a colon, a comma, a bracket. */
export function sign(text: string): Production {
  return { ebnf: `"${text}"`, read: (reader) => (reader.sign(text) ? {} : undefined), write: () => text }
}

/** Words that set a key to a value. */
export function sets(key: string, value: string | boolean, text: string): Production {
  return {
    ebnf: words(text).ebnf,
    leads: [text],
    read: (reader) => (reader.words(text) ? { [key]: value } : undefined),
    write: (part) => (part[key] === value ? text : undefined),
  }
}

/** A value under a key. */
export function slot<T>(key: string, leaf: Leaf<T>): Production {
  return {
    ebnf: leaf.ebnf,
    read(reader) {
      const value = reader.under([key], () => leaf.read(reader))
      return value === undefined ? undefined : { [key]: value }
    },
    write: (part) => (part[key] === undefined ? undefined : leaf.write(part[key] as T)),
  }
}

/** In brackets if it is a choice. */
function grouped(ebnf: string): string {
  let depth = 0
  let isText = false
  for (const c of ebnf) {
    if (c === '"') isText = !isText
    if (isText) continue
    if (c === '(' || c === '[' || c === '{') depth++
    if (c === ')' || c === ']' || c === '}') depth--
    if (c === '|' && depth === 0) return `( ${ebnf} )`
  }
  return ebnf
}

/** Forms one after the other. */
export function sequence(...forms: readonly Production[]): Production {
  return {
    ebnf: forms.map(({ ebnf }) => grouped(ebnf)).join(' '),
    leads: forms[0].leads,
    read: (reader) =>
      reader.attempt(() => {
        const part: Part = {}
        for (const form of forms) {
          const read = form.read(reader)
          if (read === undefined) return undefined
          Object.assign(part, read)
        }
        return part
      }),
    write(part) {
      const texts: string[] = []
      for (const form of forms) {
        const text = form.write(part)
        if (text === undefined) return undefined
        texts.push(text)
      }
      return joined(texts)
    },
  }
}

/**
 * Finds the forms that can stand where a reader is by the first word of each: most cannot, and need
 * not be tried.
 */
interface Choice {
  byWord: ReadonlyMap<string, readonly Production[]>
  others: readonly Production[]
  forms: readonly Production[]
  leads: readonly string[]
}

function choiceOf(forms: readonly Production[]): Choice {
  const byWord = new Map<string, Production[]>()
  for (const form of forms)
    for (const word of new Set(form.leads?.map((lead) => lead.split(' ')[0])))
      byWord.set(word, [...(byWord.get(word) ?? []), form])
  const others = forms.filter(({ leads }) => leads === undefined)
  return { byWord, others, forms, leads: forms.flatMap(({ leads }) => leads ?? []) }
}

function choose(
  { byWord, others, forms: all, leads }: Choice,
  reader: SentenceReader,
  taken: readonly Production[] = [],
): { form: Production; part: Part } | undefined {
  const { kind, text } = reader.peek()
  const found = kind === 'name' ? (byWord.get(text) ?? byWord.get(text.toLowerCase())) : undefined
  for (const forms of [found ?? [], others])
    for (const form of forms) {
      if (taken.includes(form)) continue
      const part = form.read(reader)
      if (part !== undefined) return { form, part }
    }
  if (!reader.tracks) return undefined
  const left = taken.length === 0 ? leads : all.flatMap((form) => (taken.includes(form) ? [] : (form.leads ?? [])))
  if (left.length > 0) reader.missWords(left)
  return undefined
}

/** Finds the one of some forms that stands where a reader is, except those taken before. */
export type Choose = (
  reader: SentenceReader,
  taken?: readonly Production[],
) => { form: Production; part: Part } | undefined

export function chooser(forms: readonly Production[]): Choose {
  const choice = choiceOf(forms)
  return (reader, taken) => choose(choice, reader, taken)
}

/** The first of some forms that stands here. */
export function either(...forms: readonly Production[]): Production {
  const choice = choiceOf(forms)
  return {
    ebnf: forms.map(({ ebnf }) => ebnf).join(' | '),
    leads: choice.others.length > 0 ? undefined : choice.leads,
    read: (reader) => choose(choice, reader)?.part,
    write(part) {
      for (const form of forms) {
        const text = form.write(part)
        if (text !== undefined) return text
      }
      return undefined
    },
  }
}

/** A form that may be left out. */
export function maybe(form: Production): Production {
  return {
    ebnf: `[ ${form.ebnf} ]`,
    read: (reader) => form.read(reader) ?? {},
    write: (part) => form.write(part) ?? '',
  }
}

/** Some forms in any order, each at most once; they are written in the order of this list. */
export function anyOrder(forms: readonly Production[], before?: Production): Production {
  const prefix = before === undefined ? '' : `${before.ebnf} `
  const choice = choiceOf(forms)
  return {
    ebnf: `{ ${prefix}( ${forms.map(({ ebnf }) => ebnf).join(' | ')} ) }`,
    read(reader) {
      const part: Part = {}
      const taken: Production[] = []
      for (;;) {
        const found = reader.attempt(() =>
          before !== undefined && before.read(reader) === undefined ? undefined : choose(choice, reader, taken),
        )
        if (found === undefined) return part
        taken.push(found.form)
        Object.assign(part, found.part)
      }
    },
    write(part) {
      const texts = forms.flatMap((form) => form.write(part) ?? [])
      const lead = before?.write(part) ?? ''
      return joined(texts.map((text) => joined([lead, text])))
    },
  }
}

/** A list of parts under a key. */
export function list(key: string, item: Production, separator: string): Production {
  return {
    ebnf: `${grouped(item.ebnf)} { "${separator}" ${grouped(item.ebnf)} }`,
    leads: item.leads,
    read: (reader) =>
      reader.attempt(() => {
        const parts: Part[] = []
        do {
          const part = reader.under([key, parts.length], () => item.read(reader))
          if (part === undefined) return undefined
          parts.push(part)
        } while (reader.sign(separator))
        return { [key]: parts }
      }),
    write(part) {
      const parts = part[key]
      if (!Array.isArray(parts) || parts.length === 0) return undefined
      const texts = parts.map((one: Part) => item.write(one))
      return texts.includes(undefined) ? undefined : texts.join(`${separator} `)
    },
  }
}

/** A form under the name by which the grammar calls it. */
export function named(name: string, form: Production): Production & { name: string; body: string } {
  return { ...form, ebnf: name, name, body: form.ebnf }
}

/** Texts with single spaces, and none before punctuation. */
export function joined(texts: readonly string[]): string {
  let out = ''
  for (const text of texts) {
    if (text === '') continue
    out += out === '' || /^[,;:)]/.test(text) || out.endsWith('(') ? text : ` ${text}`
  }
  return out
}
