/** Escapes text for HTML and SVG, in elements and quoted attributes. All data pass through here. */
export function escapeText(text: string): string {
  if (text.length <= MAX_SCANNED ? isPlain(text) : !UNSAFE.test(text)) return text
  const whole = SURROGATE.test(text) ? text.toWellFormed() : text
  return whole.replace(BAD, (c) => ENTITIES[c] ?? '\uFFFD')
}

/**
 * Up to this length a loop is faster than a regular expression: most texts of a page are numbers.
 */
const MAX_SCANNED = 32

function isPlain(text: string): boolean {
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c < 128 ? STRANGE[c] === 1 : c < 0xa0 || (c >= 0xd800 && (c <= 0xdfff || c >= 0xfffe))) return false
  }
  return true
}

/**
 * Removes what markup must not contain: control characters, and lone surrogates, which are not
 * UTF-8. The result must still be escaped.
 */
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
/** The same, of ASCII, by code. */
const STRANGE = Uint8Array.from({ length: 128 }, (_, c) => Number(UNSAFE.test(String.fromCharCode(c))))
const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
}
