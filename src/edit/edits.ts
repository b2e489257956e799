import type { Path } from '../problem/problem.js'
import type { NamedKind } from './naming/kinds.js'

export type { NamedKind } from './naming/kinds.js'

/**
 * An edit of a report file, as data. A path addresses the report as `spec` of the draft has it,
 * however it is written: a part of a rule is edited inside its sentence.
 */
export type Edit =
  /** Sets a value, a map or a list; the maps on the way are made. */
  | { do: 'set'; path: Path; value: unknown }
  /** Removes a key, so that its default holds. */
  | { do: 'unset'; path: Path }
  /** Puts a value into a list, at an index; default: the end. */
  | { do: 'insert'; path: Path; value: unknown; at?: number | undefined }
  /** Puts a value under a new key of a map; default: the end. */
  | { do: 'insert'; path: Path; key: string; value: unknown; at?: number | undefined }
  /** Moves an entry of a list or map; `to` is its index afterwards. */
  | { do: 'move'; path: Path; to: number }
  /** Removes an entry with the comments that belong to it. */
  | { do: 'remove'; path: Path }
  /** Copies an entry behind itself: in a map under the new name, in a list with it as `name`. */
  | { do: 'duplicate'; path: Path; name?: string | undefined }
  /**
   * Gives something another name, and writes it wherever it is referred to: in expressions, flags,
   * notes and lists.
   *
   * @param in the source of a field.
   */
  | { do: 'rename'; kind: NamedKind; from: string; to: string; in?: string | undefined }
  /**
   * Copies a rule behind itself for another measure; where it names the old one, it names the new
   * one.
   *
   * @param rule its name or index. @param name default: none, or one made of both names.
   */
  | { do: 'copyRule'; rule: string | number; measure: string; name?: string | undefined }
  /**
   * Makes a typed number a parameter, or a style a status, under a name that is then used wherever
   * the same stood: the number in limits of rules that paint the same measure, the style anywhere.
   */
  | { do: 'extract'; path: Path; name: string }
