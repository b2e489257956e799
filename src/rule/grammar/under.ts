import type { Part, Production } from './productions.js'

/** The keys of a form as a part of the rule: `bar: { color, from }`. */
export function under(key: string, form: Production): Production {
  return {
    ebnf: form.ebnf,
    leads: form.leads,
    read(reader) {
      const part = reader.under([key], () => form.read(reader))
      return part === undefined ? undefined : { [key]: part }
    },
    write: (part) => (part[key] === undefined ? undefined : form.write(part[key] as Part)),
  }
}
