import type { Kind } from '../model.js'
import { bands } from './bands/run.js'
import { bar } from './bar/run.js'
import { fromColumn } from './from-column/run.js'
import { gradient } from './gradient/run.js'
import { rank } from './rank/run.js'

// A plan and its fit are opaque outside their own kind, so the list forgets their types.
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const KINDS: readonly Kind<any, any>[] = [bands, gradient, bar, rank, fromColumn]
