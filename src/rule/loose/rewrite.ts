import type { Guess } from './guess.js'

/**
 * Phrases of everyday speech, of other notations and of haste, in the words of the parts that are
 * recognised. They make an offer, never a reading: the one who wrote it sees the sentence first.
 */
type Rewrite = readonly [RegExp, string | ((found: readonly string[], guess: Guess) => string)]

const NUMBER = String.raw`-?[€£$]?\d[\d,.]*\s?[k%]?`

const REWRITES: readonly Rewrite[] = [
  // Apostrophes inside words: it's, don't.
  [/(\p{L})['’](\p{L})/gu, '$1$2'],
  // Thousands by a point; with cents by a comma they are sure.
  [/(\d{1,3}(?:\.\d{3})+),(\d{2})(?!\d)/g, ([, whole, cents]) => `${whole.replaceAll('.', '')}.${cents}`],
  [
    /(?<![\d.])(\d{1,3})\.(\d{3})(?![\d.])/g,
    ([, a, b], guess) => guess.pick('point', [a + b, String(Number(`${a}.${b}`))]),
  ],
  [
    /(?<![\p{L}\d])(\d+(?:\.\d+)?)m(?![\p{L}\d])/giu,
    ([, a], guess) =>
      guess.pick(
        'million',
        [1e6, 1e3].map((by) => String(Math.round(Number(a) * by))),
      ),
  ],
  [/(?<![\p{L}\d])\d+e\d(?!\d)/giu, ([text]) => String(Number(text))],
  // 1-4k: both in thousands, or the second alone.
  [
    /(?<![\p{L}\d.-])(\d+(?:\.\d+)?)\s?-\s?(\d+(?:\.\d+)?)(k|%)/giu,
    ([, low, high, unit], guess) =>
      unit === '%' ? `${low}% to ${high}%` : `${guess.pick('thousands', [`${low}k`, low])} to ${high}k`,
  ],
  // Intervals in brackets, and comparisons in a chain.
  [
    new RegExp(String.raw`([[(])\s*(${NUMBER})\s*;\s*(${NUMBER})\s*([\])])`, 'gi'),
    ([, open, low, high, close]) =>
      `${open === '[' ? 'at least' : 'above'} ${low} and ${close === ']' ? 'at most' : 'below'} ${high}`,
  ],
  [
    new RegExp(String.raw`(${NUMBER})\s*(<=?)\s*([\p{L}_]+)\s*(<=?)\s*(${NUMBER})`, 'giu'),
    ([, low, first, name, second, high]) =>
      `${name} ${first === '<=' ? 'at least' : 'above'} ${low} and ${second === '<=' ? 'at most' : 'below'} ${high}`,
  ],
  // Formulas.
  [/\babs\(([^()]*)\)|\|([^|]*)\|/gi, ([, a, b]) => `${a ?? b} either way `],
  [/\b0?\.(\d{1,2})\s*\*\s*/g, ([, digits]) => `${Number(digits.padEnd(2, '0'))}% of `],
  [/\bsum\(([^()]*)\)/gi, '$1'],
  [
    /\b(?:cumsum|runningsum|running sum|cumulative)\b[ (]*([\p{L}_]*)[^<)]*\)?\s*<?=?\s*(\d+%) of (?:total\b)?/giu,
    'that make $2 of $1 ',
  ],
  [
    /(?:[<>]=?|={1,2})\s*min(?:imum)?\b(?:\([^)]*\))?|\b(?:smaller|less|lower) than (?:the )?(?:minimum|lowest)\b/gi,
    ' at the lowest ',
  ],
  [/\b(?:is|its|it is|are) (?:the )?(lowest|highest)(?: (?:value|ever|of all))*(?! \d)/gi, ' at the $1 '],
  [/^lowest (?=\p{L}+ flag\b)/giu, 'at the lowest '],
  [/\bp(\d\d)\b/gi, 'the $1th percentile'],
  [/\b(?:pctile|pctl|percentil)\b/gi, 'percentile'],
  [/\bpercentile (?:and|or) (?:above|up|more)\b/gi, 'percentile or above'],
  [
    /\b(?:from|in) (the )?(\d+th percentile) (?:up|or above)\b|(\d+th percentile) up\b/gi,
    ([, , a, b]) => `at least the ${a ?? b}`,
  ],
  [/\b(top|bottom|best|worst)(\d+)/gi, '$1 $2'],
  [/\bnext 5th\b/gi, 'next fifth'],
  [/\b(\d+)\/(\d+)\/(\d+) ([\p{L}_]+)\/([\p{L}_]+)\/([\p{L}_]+)/gu, 'split $1% $4; next $2% $5; next $3% $6'],
  [/(\d) %(?=\s|,|$)/g, '$1%'],
  [/(\d+) ?per ?cent\b/gi, '$1%'],
  // Pictures of arrows; an arrow to the right only among others.
  [/[▲↑⬆]/gu, ' icon up '],
  [/[▼↓⬇]/gu, ' icon down '],
  [/[▶►]/gu, ' icon sideways '],
  [/\barow(s?)\b/gi, 'arrow$1'],
  // Comparisons.
  [/\b(?:greater|more|higher) than or equal (?:to|with)\b/gi, 'at least'],
  [/\b(?:less|lower|smaller) than or equal to\b/gi, 'at most'],
  [
    /\b(?:hits?|reach(?:es)?|meets?|makes?|beats?) (?=(?:(?:the|its|their|our) )?(?:target|plan|goal|budget)\b)/gi,
    'at least ',
  ],
  [/\b(target|plan|goal|budget) (?:beaten|met|reached|hit)\b/gi, 'at least $1'],
  [
    /\b(?:if|when|is|are) (negative|positive)\b/gi,
    ([, word]) => (word.toLowerCase() === 'negative' ? 'below 0' : 'above 0'),
  ],
  [
    /\b(?:make|mark|highlight|colou?r|paint) (negative|positive) (\p{L}+)/giu,
    ([, word, name]) => `${name} ${word.toLowerCase() === 'negative' ? 'below' : 'above'} 0`,
  ],
  [/\ban? million\b/gi, '1000000'],
  [/\ba thousand\b/gi, '1000'],
  [/\ban? (\p{L}+) icon\b/giu, 'icon $1'],
  [/\b(?:did|does|doing) worse than\b|\bbehind last\b/gi, 'below'],
  [/\b(?:that|which) (?:is|are) better than\b|\bbetter than\b/gi, 'above'],
  [/\bupper (tenth|quarter|fifth|half)\b/gi, 'top $1'],
  [/\bmost (?:big|high|large)\b/gi, 'biggest'],
  [/\bis equal to\b|\bequals\b/gi, '='],
  [/(\d+%) (?:over or under|under or over)\b/gi, ' either way above $1 of'],
  // 10% under plan is 90% of it; where differences are spoken of, the share is of them.
  [
    /^(?!.*\b(?:gap|variance|than|either way)\b)((?:(?!\b(?:over|above|below|under)\b).)*)\b(\d+)% (over|above|under|below)(?= (?:the |its |their )?\p{L})/giu,
    ([, before, share, way]) =>
      `${before}${/over|above/i.test(way) ? `above ${100 + Number(share)}% of` : `below ${100 - Number(share)}% of`}`,
  ],
  [/(\d+%) (?:off|from|over|under|above|below)(?= (?:the )?\p{L})/giu, '$1 of'],
  [/\b(?:up or down|in both directions|positive or negative|over or under|plus or minus)|\+\/-|±/gi, ' either way '],
  [
    /\b(?:above|over|below|under) that\b|\bif (?:its|it is) (?:less|lower|more|higher)\b(?! th[ae]n| as)/gi,
    ([text]) => (/less|lower|below|under/i.test(text) ? 'below' : 'above'),
  ],
  [/\banything (?:more|above)\b/gi, 'above'],
  // The rest of a ladder.
  [/\bif not\b|\bin all other cases\b|\beverything else\b|\bthe others?\b(?! way)/gi, 'otherwise'],
  [/\bleave the rest alone\b|\bwithin: nothing\b/gi, ' '],
  // Missing values.
  [
    /\b(?:that )?(?:has|have|with) no values?\b|\b(?:thats|that is) empty\b|\bis null\b|\bn\/a\b|\bempty values?\b|\bmissing (?:figures|values)\b|\bno figures\b/gi,
    ' missing ',
  ],
  [/\bgrey out\b/gi, 'grey'],
  // Numbers, colours and icons in words.
  [/\bzero\b/gi, '0'],
  [/\bcream\b/gi, 'cornsilk'],
  [/\ban?other colou?r (?:like|such as)\b/gi, 'negative'],
  [/\bicon(?=\s*icon\b)/gi, ''],
  // Totals.
  [/\bonly (?:the )?totals\b/gi, 'totals only'],
  [/(?:\brows )?\+ totals\b/gi, ' totals too '],
  [/\btotal (?=\p{L}+ (?:under|over|below|above|at))/giu, 'totals only '],
  [
    /\b(?:do the totals too|also (?:for )?the totals?(?: rows?)?|rows \+ totals|(?:and )?also the total rows)\b(?: not only the normal rows)?/gi,
    ' totals too ',
  ],
  // Shares of an amount.
  [/\b(?:which|that) (?:do|bring|makes?)(?: in| up| together)* (?=(?:the )?\d)/gi, 'that make '],
  [/\bof (?:our|all|the total|total) (?=\p{L})/giu, 'of '],
  // Braces of a notation: what stands in them belongs together.
  [/\{([^}]*)\}/g, ([, inside]) => inside.replaceAll(';', ' and ')],
  // Names.
  [/\b(column|col) (?:named|called) /gi, '$1 '],
  [/\beach (\p{L}+) (?:for|by) itself\b/giu, 'within $1'],
  [/\bthe (\p{L}+)s (median|average)\b/giu, 'the $2 within $1'],
  [/\bcomplete (?:line|row)\b/gi, (_, guess) => guess.pick('line', ['rows', 'line'])],
  [/\bthe same month last year\b/gi, 'lastYear'],
  [/\bname of the (?=\p{L})/giu, ''],
  [/\b(?:in |with )?(?:the )?background(?: colou?r)?\b/gi, ' fill '],
  [/\b(?:font|txt)\b/gi, 'text'],
  [/\bfat\b/gi, 'bold'],
]

/** A text in words that are nearer to those of sentences; what stands in quotes stays. */
export function rewrite(text: string, guess: Guess): string {
  const parts = text.replace(/(\p{L})['’](\p{L})/gu, '$1$2').split(/("[^"]*"|“[^”]*”|'[^']*'(?![\p{L}\p{N}]))/u)
  return parts.map((part, i) => (i % 2 === 1 ? part : rewritten(part, guess))).join('')
}

function rewritten(text: string, guess: Guess): string {
  let now = text
  for (const [pattern, by] of REWRITES)
    now =
      typeof by === 'string'
        ? now.replace(pattern, by)
        : now.replace(pattern, (...found: unknown[]) =>
            by(
              found.filter((part): part is string => typeof part === 'string' || part === undefined),
              guess,
            ),
          )
  return now
}
