// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import type { Kind } from '../model.js'
import { kind as bands } from './bands/run.js'
import { kind as bar } from './bar/run.js'
import { kind as fromColumn } from './from-column/run.js'
import { kind as gradient } from './gradient/run.js'
import { kind as rank } from './rank/run.js'

// A plan and its fit are opaque outside their own kind, so the list forgets their types.
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const KINDS: readonly Kind<any, any>[] = [bands, gradient, bar, rank, fromColumn]
