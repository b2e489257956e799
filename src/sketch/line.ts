/** A line of the report with its comment; a line of nothing but a comment has no code. */
export interface Line {
  code: string
  comment?: string | undefined
}

/** A line of code, of a comment, or of both. */
export function line(code: string, comment?: string): Line {
  return { code, comment }
}

/** The lines as text. Without comments if `brief`. */
export function printLines(lines: readonly Line[], brief: boolean): string {
  return `${lines.flatMap((each) => printed(each, brief)).join('\n')}\n`
}

function printed({ code, comment }: Line, brief: boolean): string[] {
  if (comment === undefined) return [code]
  if (code.trim() === '') return brief ? [] : [`${code}# ${comment}`]
  return [brief ? code : `${code.padEnd(28)}  # ${comment}`]
}
