/**
 * The grammar of plain values in data files: one definition, for the parser in memory and for the
 * reader of large files in DuckDB. The patterns use only features that both have (RE2 has no
 * look-ahead), and match a whole value without the white space around it.
 */

/**
 * White space around a value is not part of it: WhiteSpace and LineTerminator of ECMA-262, which
 * `String.prototype.trim` removes.
 */
export const WHITE_SPACE =
  '\t\n\v\f\r \u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a\u2028\u2029\u202f\u205f\u3000\ufeff'

/** A number as programs write it: 007 is a name; a leading zero is allowed only before a point. */
export const PLAIN_NUMBER = '[+-]?(?:0|[1-9][0-9]*|0?\\.[0-9]+|(?:0|[1-9][0-9]*)\\.[0-9]+)(?:[eE][+-]?[0-9]+)?'

/** The words of conditions, in lower case; in files they may have any case. */
export const TRUE_WORDS = ['true', 'yes'] as const
export const FALSE_WORDS = ['false', 'no'] as const

/** A condition of any case, letter by letter: case folding would accept other letters. */
export const CONDITION = [...TRUE_WORDS, ...FALSE_WORDS]
  .map((word) => [...word].map((letter) => `[${letter.toUpperCase()}${letter}]`).join(''))
  .join('|')

/** A year, month or day in ISO 8601. */
export const ISO_DATE = '[0-9]{4}(?:-[0-9]{2}(?:-[0-9]{2})?)?'
