/** Text made safe for HTML and SVG, in elements and in quoted attributes alike. Every piece of data passes through here. */
export function escapeText(text: string): string {
  if (!UNSAFE.test(text)) return text
  const whole = SURROGATE.test(text) ? text.toWellFormed() : text
  return whole.replace(BAD, (c) => ENTITIES[c] ?? '\uFFFD')
}

/** Text without what no markup may hold: control characters, and lone surrogates, which are not UTF-8. Still to be escaped. */
export function printable(text: string): string {
  return text.replace(CONTROL, '\uFFFD').toWellFormed()
}

// biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\ufffe\uffff]/g
const SURROGATE = /[\ud800-\udfff]/
// biome-ignore lint/suspicious/noControlCharactersInRegex: as above
const BAD = /[&<>"'\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\ufffe\uffff]/g
// biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
const UNSAFE = /[&<>"'\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\ud800-\udfff\ufffe\uffff]/
const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
}
