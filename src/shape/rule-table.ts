// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.
import type { Shape } from './shape.js'

export const LIMIT = { any: ['number', 'text'] } satisfies Shape

export const STYLE = {
  keys: {
    'wash?': 'text',
    'fill?': 'text',
    'ink?': 'text',
    'weight?': { oneOf: ['bold', 'normal'] },
    'icon?': 'text',
    'flag?': 'text',
    'picture?': 'text',
    'hide?': { oneOf: ['value', 'icon'] },
  },
} satisfies Shape

export const STATUS = {
  keys: { ...STYLE.keys, 'label?': 'text', 'verdict?': { oneOf: ['good', 'fair', 'bad'] } },
} satisfies Shape

export const OUTCOME = { any: ['text', STYLE] } satisfies Shape

export const LEVEL_NAME = { oneOf: ['detail', 'subtotal', 'total'] } satisfies Shape

export const BAND_SPEC = {
  keys: {
    'atLeast?': LIMIT,
    'above?': LIMIT,
    'atMost?': LIMIT,
    'below?': LIMIT,
    'equals?': { any: ['text', 'number', 'truth'] },
    'in?': { list: { any: ['text', 'number', 'truth'] }, min: 1 },
    'contains?': 'text',
    'when?': 'text',
    'missing?': OUTCOME,
    'otherwise?': OUTCOME,
    'status?': 'text',
    'style?': STYLE,
  },
} satisfies Shape

export const GRADIENT_SPEC = {
  keys: {
    'ramp?': { any: ['text', { list: 'text' }] },
    'icons?': { any: ['text', { list: 'text', min: 2 }] },
    'from?': LIMIT,
    'middle?': LIMIT,
    'to?': LIMIT,
    'steps?': { is: 'whole', min: 2, max: 64 },
    'as?': { oneOf: ['fill', 'ink', 'icon'] },
  },
} satisfies Shape

export const BAR_SPEC = {
  keys: {
    'from?': LIMIT,
    'to?': LIMIT,
    'base?': LIMIT,
    'color?': 'text',
    'negative?': 'text',
    'finish?': { oneOf: ['solid', 'fading'] },
  },
} satisfies Shape

export const RANK_SPEC = {
  keys: {
    'top?': { any: ['number', 'text'] },
    'bottom?': { any: ['number', 'text'] },
    'best?': { any: ['number', 'text'] },
    'worst?': { any: ['number', 'text'] },
    'split?': {
      list: {
        keys: { 'share?': { any: ['number', 'text'] }, 'otherwise?': OUTCOME, 'status?': 'text', 'style?': STYLE },
      },
      min: 1,
    },
    'of?': 'text',
    'status?': 'text',
    'style?': STYLE,
  },
} satisfies Shape

export const FROM_COLUMN_SPEC = {
  keys: { 'status?': 'text', 'fill?': 'text', 'ink?': 'text', 'icon?': 'text', 'picture?': 'text' },
} satisfies Shape

export const RULE_SPEC = {
  keys: {
    'name?': 'text',
    'title?': 'text',
    paint: { any: ['text', { list: 'text', min: 1 }] },
    'judge?': 'text',
    'where?': 'text',
    'among?': 'text',
    'within?': { any: ['text', { list: 'text', min: 1 }] },
    'grain?': { any: ['text', { list: 'text', min: 1 }] },
    'only?': { list: 'text', min: 1 },
    'levels?': { any: [LEVEL_NAME, { oneOf: ['all'] }, { list: LEVEL_NAME, min: 1 }] },
    'oneScale?': 'truth',
    'hide?': { oneOf: ['value', 'icon'] },
    'icon?': { oneOf: ['before', 'after'] },
    'final?': 'truth',
    'paused?': 'truth',
    'unfinished?': { oneOf: ['unpainted'] },
    'bands?': { list: BAND_SPEC, min: 1 },
    'gradient?': GRADIENT_SPEC,
    'bar?': BAR_SPEC,
    'rank?': RANK_SPEC,
    'fromColumn?': FROM_COLUMN_SPEC,
  },
} satisfies Shape
