/** About how wide a text is drawn, in pixels: a view without a document to measure in has to leave enough room. */
export function textWidth(text: string, size: number): number {
  let units = 0
  for (const c of text) units += NARROW.has(c) ? 0.31 : WIDE.test(c) ? 1.02 : UPPER.test(c) ? 0.7 : 0.56
  return units * size
}

const NARROW = new Set("iljtfrI.,:;'|!()[] ·")
const UPPER = /[\p{Lu}MWmw%€&@…—]/u
/** East Asian characters and pictures. */
const WIDE =
  /[\u1100-\u115f\u2e80-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60\uffe0-\uffe6\u{1f300}-\u{1faff}]/u

/** Text cut to a width, with a sign of it. */
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
