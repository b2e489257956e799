import type { Kind } from '../kind.js'
import { bands } from './bands.js'
import { gradient } from './gradient.js'
import { rank } from './rank.js'

// A plan is opaque outside its own kind, so the list forgets its type.
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only the plan that it made itself
export const KINDS: readonly Kind<any>[] = [bands, gradient, rank]
