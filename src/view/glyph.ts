/** A sign of the font in the place of a drawing, in terminals and mails; and one of ASCII where there is no other. */
export function glyph(icon: string, ascii = false): string {
  const step = /-(\d)-of-(\d)$/.exec(icon)
  return (ascii ? PLAIN_GLYPHS : GLYPHS)[icon] ?? (step === null ? '*' : `${step[1]}/${step[2]}`)
}

const PLAIN_GLYPHS: Readonly<Record<string, string>> = {
  tick: 'v',
  dash: '-',
  cross: 'x',
  up: '^',
  level: '=',
  down: '_',
  dot: 'o',
  ring: 'O',
  leaf: '&',
  drop: '#',
}

const GLYPHS: Readonly<Record<string, string>> = {
  tick: '✓',
  dash: '–',
  cross: '✗',
  up: '↑',
  level: '→',
  down: '↓',
  dot: '●',
  ring: '○',
  leaf: '❧',
  drop: '◆',
}
