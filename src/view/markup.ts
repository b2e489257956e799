/** Text made safe for HTML and SVG, in elements and in quoted attributes alike. Every piece of data passes through here. */
export function escapeText(text: string): string {
  if (!UNSAFE.test(text)) return text
  return printable(text).replace(SPECIAL, (c) => ENTITIES[c])
}

/** Text without what no markup may hold: control characters, and lone surrogates, which are not UTF-8. Still to be escaped. */
export function printable(text: string): string {
  return text.replace(CONTROL, '\uFFFD').toWellFormed()
}

// biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\ufffe\uffff]/g
const SPECIAL = /[&<>"']/g
// biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
const UNSAFE = /[&<>"'\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\ud800-\udfff\ufffe\uffff]/
const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
}
