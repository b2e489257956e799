import type { Kind } from '../model.js'
import { bands } from './bands.js'
import { bar } from './bar.js'
import { borrow } from './borrow.js'
import { gradient } from './gradient.js'
import { rank } from './rank.js'

// A plan and its fit are opaque outside their own kind, so the list forgets their types.
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const KINDS: readonly Kind<any, any>[] = [bands, gradient, bar, rank, borrow]
