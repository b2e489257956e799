/**
 * An estimate of the width of a text in pixels: writers without a document cannot measure, and the
 * reader's font is unknown. These are the widths of the wider fonts in use (DejaVu Sans and
 * Verdana, in ems), rounded up.
 */
export function textWidth(text: string, size: number): number {
  let units = 0
  for (const c of text) units += WIDTHS.get(c) ?? (WIDE.test(c) ? 1.02 : UPPER.test(c) ? 0.76 : 0.64)
  return units * size
}

const WIDTHS = new Map(
  Object.entries({
    "iljI.,:;'|! ·": 0.35,
    'tfr()[]/-': 0.43,
    'cksvxyz?"*': 0.6,
    'w÷×+−=<>~#&': 0.84,
    'mMW%@…—': 1,
  }).flatMap(([characters, width]) => [...characters].map((c): [string, number] => [c, width])),
)
const UPPER = /\p{Lu}/u
/** East Asian characters and pictures. */
const WIDE =
  /[\u1100-\u115f\u2e80-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60\uffe0-\uffe6\u{1f300}-\u{1faff}]/u

/** Text cut to a width, with an ellipsis. */
export function cutTo(text: string, size: number, width: number): string {
  if (textWidth(text, size) <= width) return text
  let used = textWidth('…', size)
  let cut = ''
  for (const c of text) {
    used += textWidth(c, size)
    if (used > width && cut !== '') break
    cut += c
  }
  return `${cut.trimEnd()}…`
}
