import {
  type Action,
  type Allowed,
  FIRST_STATE,
  fromAddress,
  type LiveState,
  nextState,
  toAddress,
} from 'acuarela/live'
import fc from 'fast-check'
import { expect, test } from 'vitest'

const ALLOWED: Allowed = {
  parameters: new Map([
    ['target', { value: 60_000, from: 20_000, to: 120_000, step: 5_000 }],
    ['slack', { value: 0.15 }],
  ]),
  filters: new Map([
    ['region', ['Coast', 'Upland', 'Valley']],
    ['the "line" & more', ['Roses', 'a=b&c#d', 'Peña']],
  ]),
  isPeriod: (text) => /^(all|2024|this year|2024-0\d to 2024-0\d)$/.test(text),
  rules: ['target', 'season', 'growth'],
  sorts: new Map([['shops', ['revenue', 'shop']]]),
}

const action: fc.Arbitrary<Action> = fc.oneof(
  fc.record({
    do: fc.constant('set' as const),
    parameter: fc.constantFrom('target', 'slack', 'none', '__proto__'),
    value: fc.oneof(fc.double({ noNaN: false }), fc.integer({ min: 0, max: 200_000 })),
  }),
  fc.record({
    do: fc.constant('filter' as const),
    key: fc.constantFrom('region', 'the "line" & more', 'none', '__proto__'),
    values: fc.array(fc.constantFrom('Coast', 'Valley', 'a=b&c#d', 'Peña', 'unheard of'), { maxLength: 4 }),
  }),
  fc.record({
    do: fc.constant('period' as const),
    period: fc.constantFrom(null, 'all', '2024', '2024-02 to 2024-05', 'soon'),
  }),
  fc.record({
    do: fc.constant('pause' as const),
    rule: fc.constantFrom('target', 'growth', 'none'),
    paused: fc.boolean(),
  }),
  fc.record({
    do: fc.constant('sort' as const),
    exhibit: fc.constantFrom('shops', 'none'),
    by: fc.constantFrom(null, 'revenue', '-revenue', '-shop', 'cost'),
  }),
  fc.record({
    do: fc.constant('theme' as const),
    theme: fc.constantFrom('auto' as const, 'light' as const, 'dark' as const),
  }),
  fc.record({ do: fc.constant('plain' as const), plain: fc.boolean() }),
  fc.record({ do: fc.constant('reset' as const) }),
)

test('two thousand actions leave nothing that is not allowed, and a link gives the same state again', () => {
  const actions = fc.sample(action, { numRuns: 2000, seed: 20261123 })
  let state = FIRST_STATE
  let changes = 0
  for (const action of actions) {
    const frozen = JSON.stringify(state)
    const next = nextState(state, action, ALLOWED)
    expect(JSON.stringify(state)).toBe(frozen)
    if (next !== state) {
      changes += 1
      expect(JSON.stringify(next)).not.toBe(frozen)
    }
    // The same action again changes nothing.
    expect(nextState(next, action, ALLOWED)).toEqual(next)
    expect(fromAddress(`#${toAddress(next)}`, ALLOWED)).toEqual(next)
    isAllowed(next)
    state = next
  }
  expect(changes).toBeGreaterThan(400)
})

function isAllowed(state: LiveState): void {
  for (const [name, value] of Object.entries(state.parameters)) {
    const parameter = ALLOWED.parameters.get(name)
    expect(parameter).toBeDefined()
    expect(value).not.toBe(parameter?.value)
    expect(value).toBeGreaterThanOrEqual(parameter?.from ?? Number.NEGATIVE_INFINITY)
    expect(value).toBeLessThanOrEqual(parameter?.to ?? Number.POSITIVE_INFINITY)
  }
  for (const [key, values] of Object.entries(state.filters)) {
    expect(values.length).toBeGreaterThan(0)
    expect(ALLOWED.filters.get(key)).toEqual(expect.arrayContaining([...values]))
  }
  expect(ALLOWED.rules).toEqual(expect.arrayContaining([...state.paused]))
}

test('the order in which a reader turns two different things does not matter', () => {
  const kindOf = (action: Action): string =>
    'parameter' in action ? action.parameter : 'key' in action ? action.key : 'rule' in action ? action.rule : action.do
  fc.assert(
    fc.property(action, action, (a, b) => {
      fc.pre(kindOf(a) !== kindOf(b) && a.do !== 'reset' && b.do !== 'reset')
      const one = nextState(nextState(FIRST_STATE, a, ALLOWED), b, ALLOWED)
      const other = nextState(nextState(FIRST_STATE, b, ALLOWED), a, ALLOWED)
      expect(toAddress(one)).toBe(toAddress(other))
    }),
    { seed: 5, numRuns: 400 },
  )
})

test('a link that was tampered with is read as far as it is allowed', () => {
  const address =
    '#set.target=1e99&set.slack=&set.none=3&filter.region=Valley&filter.region=Nowhere&period=drop&paused=none&theme=neon&plain=no&%00'
  expect(fromAddress(address, ALLOWED)).toEqual({
    ...FIRST_STATE,
    parameters: { target: 120_000 },
    filters: { region: ['Valley'] },
  })
  expect(fromAddress('', ALLOWED)).toEqual(FIRST_STATE)
})
