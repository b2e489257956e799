import type { Limit, Style } from '../../spec/rules.js'

/** A part of a text that says one thing. */
export type Chunk =
  | { is: 'name'; ids: readonly string[] }
  | { is: 'rows' | 'every' }
  | { is: 'test'; test: Record<string, Limit | string>; both?: true }
  | { is: 'missing' | 'otherwise' }
  | { is: 'arrow' | 'break' | 'and' }
  | { is: 'rank'; end: 'top' | 'bottom' | 'best' | 'worst' | 'split' | 'next' | 'making'; size: Limit; of?: string }
  | { is: 'result'; status?: string; style?: Style }
  | { is: 'grain' | 'within' | 'judge'; ids: readonly string[] }
  | { is: 'only'; ids: readonly string[] }
  | { is: 'extra'; keys: Record<string, string | boolean> }
  | { is: 'shade'; colors: readonly string[]; from?: Limit; middle?: Limit; to?: Limit; steps?: number; as?: 'ink' }
  | { is: 'bar'; color?: string; negative?: string; finish?: 'fading'; from?: Limit; to?: Limit }
  | { is: 'column'; channel: 'status' | 'fill' | 'ink' | 'icon' | 'picture'; column: string }
