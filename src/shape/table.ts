// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.
import { LIMIT, RULE_SPEC, STATUS } from './rule-table.js'
import type { Shape } from './shape.js'

export const SAID_RULE = { keys: { 'name?': 'text', 'title?': 'text', say: 'text' } } satisfies Shape

export const MEASURE_ENTRY = {
  any: [
    'text',
    {
      keys: {
        formula: 'text',
        'label?': 'text',
        'format?': 'text',
        'better?': { oneOf: ['higher', 'lower', 'neither'] },
      },
    },
  ],
} satisfies Shape

export const PARAMETER_SPEC = {
  any: [
    'number',
    'text',
    {
      keys: {
        value: { any: ['number', 'text'] },
        'from?': { any: ['number', 'text'] },
        'to?': { any: ['number', 'text'] },
        'step?': 'number',
        'label?': 'text',
        'format?': 'text',
      },
    },
  ],
} satisfies Shape

export const PIGMENT_SPEC = { any: ['text', { keys: { wash: 'text', body: 'text', ink: 'text' } }] } satisfies Shape

export const SOURCE_SPEC = {
  keys: {
    'file?': 'text',
    'sheet?': 'text',
    'range?': 'text',
    'header?': { is: 'whole', above: 0 },
    'merged?': { oneOf: ['repeat'] },
    'postgres?': 'text',
    'table?': 'text',
    'query?': 'text',
    'timeLimit?': { is: 'number', above: 0 },
    'engine?': { oneOf: ['memory', 'duckdb'] },
    'date?': 'text',
    'read?': { each: 'text' },
    'labels?': { each: 'text' },
    'match?': { any: ['text', { list: { any: ['text', { each: 'text' }] } }] },
    'lookup?': { any: ['truth', { oneOf: ['exact', 'latest'] }] },
    'per?': { oneOf: ['year', 'quarter', 'month', 'week', 'day'] },
    'grain?': { oneOf: ['year', 'quarter', 'month', 'week', 'day'] },
    'expect?': { each: 'number' },
    'stack?': { keys: { 'columns?': { list: 'text', min: 1 }, name: 'text', value: 'text', 'unlike?': 'truth' } },
    'unstack?': { keys: { name: 'text', value: 'text' } },
    'strict?': 'truth',
  },
} satisfies Shape

export const KEY_SPEC = {
  any: [
    'text',
    {
      keys: {
        key: 'text',
        'order?': { list: { any: ['text', 'number', 'truth'] }, min: 1 },
        'first?': {
          any: [{ is: 'whole', min: 1 }, { keys: { count: { is: 'whole', min: 1 }, of: { oneOf: ['table'] } } }],
        },
        'others?': 'text',
      },
    },
  ],
} satisfies Shape

export const TOTALS_SPEC = {
  any: [
    { oneOf: ['top', 'bottom', 'none'] },
    {
      keys: {
        'rows?': { oneOf: ['top', 'bottom', 'none'] },
        'columns?': { oneOf: ['left', 'right', 'none'] },
        'subtotals?': 'truth',
      },
    },
  ],
} satisfies Shape

export const TREND_SPEC = {
  keys: { 'of?': 'text', along: 'text', 'period?': { any: ['text', 'number'] } },
} satisfies Shape

export const COLUMN_SPEC = {
  any: [
    'text',
    {
      keys: {
        'show?': 'text',
        'trend?': TREND_SPEC,
        'status?': 'text',
        'label?': 'text',
        'draw?': { oneOf: ['number', 'bar', 'point', 'block'] },
        'icon?': { oneOf: ['before', 'after', 'alone'] },
      },
    },
  ],
} satisfies Shape

export const TABLE_SPEC = {
  keys: {
    rows: { any: [KEY_SPEC, { list: KEY_SPEC, min: 1 }] },
    'columns?': { any: [KEY_SPEC, { list: KEY_SPEC, min: 1 }] },
    show: { any: [COLUMN_SPEC, { list: COLUMN_SPEC, min: 1 }] },
    'totals?': TOTALS_SPEC,
    'sort?': { any: ['text', { list: 'text', min: 1 }] },
    'nest?': { oneOf: ['indented', 'columns'] },
    'spacing?': { oneOf: ['close', 'normal', 'wide'] },
  },
} satisfies Shape

export const SERIES_SPEC = {
  any: [
    'text',
    {
      keys: {
        show: 'text',
        'draw?': { oneOf: ['bar', 'line', 'point', 'mark'] },
        'labels?': { any: [{ oneOf: ['full', 'short', 'ends', 'none'] }, 'truth'] },
        'label?': 'text',
      },
    },
  ],
} satisfies Shape

export const CHART_SPEC = {
  keys: {
    along: { any: [KEY_SPEC, { list: KEY_SPEC, min: 1 }] },
    show: { any: [SERIES_SPEC, { list: SERIES_SPEC, min: 1 }] },
    'series?': 'text',
    'panels?': 'text',
    'stacked?': 'truth',
    'horizontal?': 'truth',
    'references?': { list: { keys: { at: LIMIT, 'label?': 'text' } } },
    'labels?': { any: [{ oneOf: ['full', 'short', 'ends', 'none'] }, 'truth'] },
  },
} satisfies Shape

export const CARD_SPEC = {
  keys: { show: 'text', 'label?': 'text', 'versus?': 'text', 'note?': 'text', 'trend?': TREND_SPEC },
} satisfies Shape

export const RECORDS_SPEC = {
  keys: {
    show: { any: ['text', { list: 'text', min: 1 }] },
    'sort?': { any: ['text', { list: 'text', min: 1 }] },
    'group?': 'text',
    'first?': { is: 'whole', min: 1 },
    'oneAtATime?': 'truth',
  },
} satisfies Shape

export const LIST_SPEC = {
  keys: {
    status: { any: ['text', { list: 'text', min: 1 }] },
    of: 'text',
    by: { any: [KEY_SPEC, { list: KEY_SPEC, min: 1 }] },
    'show?': { any: ['text', { list: 'text', min: 1 }] },
    'sort?': { any: ['text', { list: 'text', min: 1 }] },
  },
} satisfies Shape

export const MOVES_SPEC = { keys: { of: 'text', by: { any: [KEY_SPEC, { list: KEY_SPEC, min: 1 }] } } } satisfies Shape

export const READING_SPEC = {
  keys: { of: 'text', by: { any: [KEY_SPEC, { list: KEY_SPEC, min: 1 }] }, 'along?': 'text', 'versus?': 'text' },
} satisfies Shape

export const EXHIBIT_SPEC = {
  keys: {
    'name?': 'text',
    'title?': 'text',
    'note?': 'text',
    'section?': 'text',
    'period?': { any: ['text', 'number'] },
    'where?': 'text',
    'since?': 'text',
    'unfinished?': { oneOf: ['unpainted', 'leaveOut'] },
    'showing?': { keys: { status: { any: ['text', { list: 'text', min: 1 }] }, of: 'text' } },
    'hide?': { oneOf: ['value'] },
    'besideUnpainted?': 'truth',
    'beside?': 'text',
    'table?': TABLE_SPEC,
    'heatmap?': TABLE_SPEC,
    'chart?': CHART_SPEC,
    'cards?': { list: CARD_SPEC, min: 1 },
    'records?': RECORDS_SPEC,
    'list?': LIST_SPEC,
    'moves?': MOVES_SPEC,
    'reading?': READING_SPEC,
  },
} satisfies Shape

export const REPORT_SPEC = {
  keys: {
    title: 'text',
    'note?': 'text',
    'locale?': 'text',
    'asOf?': 'text',
    'since?': 'text',
    'period?': { any: ['text', 'number'] },
    'where?': 'text',
    'calendar?': {
      keys: {
        'yearStarts?': {
          oneOf: [
            'January',
            'February',
            'March',
            'April',
            'May',
            'June',
            'July',
            'August',
            'September',
            'October',
            'November',
            'December',
          ],
        },
        'zone?': 'text',
      },
    },
    sources: { each: SOURCE_SPEC },
    'labels?': { each: 'text' },
    'fields?': { each: { each: 'text' } },
    'measures?': { each: MEASURE_ENTRY },
    'parameters?': { each: PARAMETER_SPEC },
    'include?': { list: 'text', min: 1 },
    'statuses?': { each: STATUS },
    'pigments?': { each: PIGMENT_SPEC },
    'icons?': { each: 'text' },
    'rules?': { list: RULE_SPEC },
    exhibits: { list: EXHIBIT_SPEC },
    'strip?': 'text',
    'filters?': { list: 'text', min: 1 },
    'proof?': {
      keys: {
        'ignore?': {
          list: {
            keys: {
              code: {
                oneOf: [
                  'hole',
                  'open-end',
                  'overlap',
                  'unreachable-band',
                  'unreachable-rule',
                  'paints-nothing',
                  'paints-everything',
                  'twin-rules',
                  'equal-in-bad',
                  'missing-in-bad',
                  'hundredfold',
                  'typed-limit',
                  'dispute',
                  'against-sign',
                  'scale-squeezed',
                  'one-scale-unlike',
                  'hue-two-meanings',
                  'upside-down',
                  'crowded',
                  'contrast',
                  'color-alone',
                  'too-close',
                  'hidden-plain',
                  'branded-bad',
                  'unused-status',
                  'unused-parameter',
                  'reads-as-limit',
                  'mixed-status',
                  'dated-condition',
                  'count-for-share',
                  'percent-meant',
                  'ranked-outside',
                  'unlike-sum',
                  'source-gap',
                  'lookup-unused',
                  'lookup-aged',
                  'unfinished-judged',
                  'blank-amounts',
                  'name-shadows',
                ],
              },
              'at?': 'text',
              because: 'text',
            },
          },
        },
      },
    },
  },
} satisfies Shape
