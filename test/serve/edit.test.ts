import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { connect } from 'node:net'
import { networkInterfaces } from 'node:os'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { type Editing, useEditing } from '../support/edit-server.js'
import { FULL } from '../support/effort.js'
import { writeParquet } from '../support/engines.js'
import { acuarelaProcess } from '../support/tool.js'

const REPORT = `# The stalls of the spring market.
title: Stalls
sources:
  stalls: { file: stalls.csv }
measures:
  takings: sum(takings)
exhibits:
  - table: { rows: stall, show: [takings] }
`
const CSV = 'stall,takings\nAsh,120\nElm,80\n'
const { folder, state, start } = useEditing()

/** A folder with a report and its data, and a file beside them that is not theirs. */
function market(): string {
  const cwd = folder()
  writeFileSync(join(cwd, 'stalls.acuarela.yaml'), REPORT)
  writeFileSync(join(cwd, 'stalls.csv'), CSV)
  writeFileSync(join(cwd, 'secret.txt'), 'the secret')
  return cwd
}

const json = (body: unknown, method = 'PUT'): RequestInit => ({ method, body: JSON.stringify(body) })
const reportOf = async (server: Editing): Promise<{ text: string; version: string; draft: unknown }> =>
  (await server.ask('/api/report')).json() as Promise<{ text: string; version: string; draft: unknown }>

/** A request with headers that `fetch` would not send. */
function raw(port: number, headers: Record<string, string>, path = '/', method = 'GET'): Promise<number> {
  return new Promise((done, failed) => {
    const asked = request({ host: '127.0.0.1', port, path, method, headers }, (reply) => {
      reply.resume()
      done(reply.statusCode ?? 0)
    })
    asked.on('error', failed).end()
  })
}

test('one browser is let in by its address, and nothing else is answered', async () => {
  const server = await start(market(), ['stalls.acuarela.yaml'])
  const { port, address } = server
  const own = `127.0.0.1:${port}`
  // Before the address was opened, and with a wrong token.
  expect(await raw(port, { host: own })).toBe(403)
  expect(await raw(port, { host: own }, '/?token=wrong')).toBe(403)
  const entry = await fetch(address, { redirect: 'manual' })
  const cookie = entry.headers.get('set-cookie') ?? ''
  expect([entry.status, entry.headers.get('location')]).toEqual([303, '/'])
  expect(cookie).toMatch(new RegExp(`^acuarela-${port}=[\\w-]{43}; HttpOnly; SameSite=Strict; Path=/$`))
  const [pair] = cookie.split(';')
  // The token is used up; who has it gets nothing, and the terminal shows a new address.
  expect((await fetch(address, { redirect: 'manual' })).status).toBe(403)
  await expect.poll(() => server.err()).toContain('a new one: http://127.0.0.1')
  const page = await fetch(`http://${own}/`, { headers: { cookie: pair } })
  expect(await page.text()).toContain('data-server="here"')
  const policy = page.headers.get('content-security-policy') ?? ''
  expect(policy).toContain("script-src 'self';")
  expect(policy).toContain("default-src 'none'")
  expect(page.headers.get('cache-control')).toBe('no-store')
  const statuses: Record<string, number> = {
    'no cookie': await raw(port, { host: own }, '/api/report'),
    'a wrong cookie': await raw(port, { host: own, cookie: `acuarela-${port}=wrong` }, '/api/report'),
    'a foreign name that points here': await raw(port, { host: `shop.example:${port}`, cookie: pair }, '/api/report'),
    'another port': await raw(port, { host: '127.0.0.1:80', cookie: pair }, '/api/report'),
    'a page of another site': await raw(
      port,
      { host: own, cookie: pair, origin: 'http://shop.example' },
      '/api/report',
    ),
    'a page without origin': await raw(port, { host: own, cookie: pair, origin: 'null' }, '/api/report'),
    'a change without origin': await raw(port, { host: own, cookie: pair }, '/api/draft', 'DELETE'),
    'sent by another site': await raw(port, { host: own, cookie: pair, 'sec-fetch-site': 'cross-site' }, '/api/report'),
    'the right one': await raw(port, { host: own, cookie: pair, 'sec-fetch-site': 'same-origin' }, '/api/report'),
    'by its other name': await raw(port, { host: `localhost:${port}`, cookie: pair }, '/api/report'),
  }
  expect(statuses).toEqual({
    'no cookie': 403,
    'a wrong cookie': 403,
    'a foreign name that points here': 421,
    'another port': 421,
    'a page of another site': 403,
    'a page without origin': 403,
    'a change without origin': 403,
    'sent by another site': 403,
    'the right one': 200,
    'by its other name': 200,
  })
  expect(await server.kill('SIGINT')).toBe(0)
})

test('no path but the files of the page and the report, no other method, nothing too large', async () => {
  const server = await start(market(), ['stalls.acuarela.yaml'])
  const status = async (path: string, init?: RequestInit): Promise<number> => (await server.ask(path, init)).status
  expect(await status('/api/report')).toBe(200)
  expect(await (await server.ask('/api/file?name=stalls.csv')).text()).toBe(CSV)
  for (const name of ['secret.txt', '../secret.txt', '/etc/passwd', 'stalls.acuarela.yaml', './stalls.csv', ''])
    expect([name, await status(`/api/file?name=${encodeURIComponent(name)}`)]).toEqual([name, 404])
  for (const path of [
    '/secret.txt',
    '/..%2fsecret.txt',
    '/%2e%2e/package.json',
    '/assets/../../cli/acuarela.js',
    '/api',
  ])
    expect([path, await status(path)]).toEqual([path, 404])
  for (const [path, method] of [
    ['/', 'POST'],
    ['/api/report', 'POST'],
    ['/api/report', 'DELETE'],
    ['/api/file', 'PUT'],
    ['/api/draft', 'GET'],
    ['/api/changes', 'POST'],
    ['/engine/stalls', 'GET'],
  ])
    expect([path, method, await status(path, { method })]).toEqual([path, method, 405])
  const text = 'x'.repeat(4_100_000)
  // Told by its status, or by the end of the connection while it is still being sent.
  expect([413, 'closed']).toContain(
    await status('/api/report', json({ text, version: null })).catch(() => 'closed' as const),
  )
  expect(await status('/api/report', json({ text: 5 }))).toBe(400)
  expect(await status('/api/draft', json({ text: 'a', saved: { texts: [], words: [], at: -1 }, base: null }))).toBe(400)
  expect(await status('/engine/stalls', json({ call: 'columns' }, 'POST'))).toBe(404)
  // Loopback alone: no other address of this machine answers.
  const others = Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).filter(({ internal, family }) => !internal && family === 'IPv4').map(({ address }) => address),
  )
  for (const host of [...others, '127.0.0.2'])
    expect(
      await new Promise((done) => {
        const socket = connect({ host, port: server.port }, () => done('connected'))
        socket.on('error', () => done('refused'))
      }),
    ).toBe('refused')
})

test.runIf(FULL)('two servers do not log each other out; a wrong use is told', async () => {
  const cwd = market()
  const [one, other] = await Promise.all([start(cwd, ['stalls.acuarela.yaml']), start(cwd, ['stalls.acuarela.yaml'])])
  const cookies = await Promise.all(
    [one, other].map(
      async ({ address }) => (await fetch(address, { redirect: 'manual' })).headers.get('set-cookie')?.split(';')[0],
    ),
  )
  // A browser sends the cookies of all ports to each.
  for (const { port } of [one, other])
    expect(await raw(port, { host: `127.0.0.1:${port}`, cookie: cookies.join('; ') }, '/api/report')).toBe(200)
  const run = async (...args: string[]): Promise<string> => (await acuarelaProcess(['edit', ...args], cwd)).err
  expect(await run('nothing.acuarela.yaml', '--no-open')).toContain('nothing.acuarela.yaml')
  expect(await run('stalls.acuarela.yaml', 'stalls.csv', '--no-open')).toContain('one report is edited at a time')
  expect(await run('stalls.acuarela.yaml', '--port', 'eighty')).toContain('eighty')
  expect(await run('stalls.acuarela.yaml', '--no-open', '--port', String(one.port))).toContain('is taken')
  expect(await run()).toContain('files')
})

test('a text is saved over the version that was read, and over no other', async () => {
  const cwd = market()
  const path = join(cwd, 'stalls.acuarela.yaml')
  const server = await start(cwd, ['stalls.acuarela.yaml'])
  const { text, version } = await reportOf(server)
  expect(text).toBe(REPORT)
  const save = async (next: string, of: string | null): Promise<Record<string, unknown>> =>
    (await server.ask('/api/report', json({ text: next, version: of }))).json() as Promise<Record<string, unknown>>
  const mine = REPORT.replace('Stalls', 'My stalls')
  const saved = await save(mine, version)
  expect([saved.is, readFileSync(path, 'utf8')]).toEqual(['saved', mine])
  // Changed by another program meanwhile: both texts are kept.
  const theirs = REPORT.replace('Stalls', 'Their stalls')
  writeFileSync(path, theirs)
  const refused = await save(REPORT, String(saved.version))
  expect([refused.is, refused.text, readFileSync(path, 'utf8')]).toEqual(['changed', theirs, theirs])
  expect((await save(mine, String(refused.version))).is).toBe('saved')
  // Deleted: it is written again when that is asked for.
  rmSync(path)
  expect(await save(REPORT, String(saved.version))).toEqual({ is: 'changed', text: null, version: null })
  expect((await save(REPORT, null)).is).toBe('saved')
  expect(readFileSync(path, 'utf8')).toBe(REPORT)
  // No longer a file.
  rmSync(path)
  mkdirSync(path)
  const broken = await server.ask('/api/report', json({ text: mine, version: String(saved.version) }))
  expect([broken.status, JSON.stringify(await broken.json())]).toEqual([400, expect.stringContaining('it is a folder')])
  expect(readdirSync(cwd).sort()).toEqual(['secret.txt', 'stalls.acuarela.yaml', 'stalls.csv'])
})

test('a full disk leaves the old file; a server that is killed while it saves leaves an old or a new one', async () => {
  const cwd = market()
  const path = join(cwd, 'stalls.acuarela.yaml')
  const full = await start(cwd, ['stalls.acuarela.yaml'], 64)
  const { version } = await reportOf(full)
  const large = `${REPORT}# ${'x'.repeat(200_000)}\n`
  const refused = await full.ask('/api/report', json({ text: large, version }))
  expect([refused.status, JSON.stringify(await refused.json())]).toEqual([
    400,
    expect.stringContaining('cannot be written'),
  ])
  expect(readFileSync(path, 'utf8')).toBe(REPORT)
  expect(readdirSync(cwd).sort()).toEqual(['secret.txt', 'stalls.acuarela.yaml', 'stalls.csv'])
  await full.kill('SIGKILL')
  const texts = new Set([REPORT, large])
  let last = REPORT
  for (let i = 0; i < (FULL ? 8 : 1); i++) {
    const server = await start(cwd, ['stalls.acuarela.yaml'])
    const now = await reportOf(server)
    last = `${REPORT}# ${i} ${'y'.repeat(3_000_000)}\n`
    texts.add(last)
    const saving = server.ask('/api/report', json({ text: last, version: now.version })).catch(() => undefined)
    await new Promise((done) => setTimeout(done, i * 6))
    await server.kill('SIGKILL')
    await saving
    expect(texts.has(readFileSync(path, 'utf8'))).toBe(true)
  }
})

test('a draft is kept for its owner alone, and is there at the next start, whatever the port', async () => {
  const cwd = market()
  const server = await start(cwd, ['stalls.acuarela.yaml'])
  const { version, draft } = await reportOf(server)
  expect(draft).toBeNull()
  const kept = {
    text: `${REPORT}# mine\n`,
    saved: { texts: [REPORT, `${REPORT}# mine\n`], words: ['Text edited'], at: 1 },
    base: version,
  }
  expect((await server.ask('/api/draft', json(kept))).status).toBe(204)
  const drafts = join(state, 'acuarela/drafts')
  const files = readdirSync(drafts)
  expect(files).toHaveLength(1)
  expect([statSync(join(drafts, files[0])).mode & 0o777, statSync(drafts).mode & 0o777]).toEqual([0o600, 0o700])
  await server.kill('SIGKILL')
  const next = await start(cwd, ['stalls.acuarela.yaml'])
  expect(next.port).not.toBe(server.port)
  const again = await reportOf(next)
  expect([again.draft, again.text]).toEqual([kept, REPORT])
  // What is saved is no draft any more.
  await next.ask('/api/report', json({ text: kept.text, version }))
  expect((await reportOf(next)).draft).toBeNull()
  // A file that something else wrote is no draft.
  writeFileSync(join(drafts, files[0]), '{"text":')
  expect((await reportOf(next)).draft).toBeNull()
})

test('changes on disk arrive as events', async () => {
  const cwd = market()
  const server = await start(cwd, ['stalls.acuarela.yaml'])
  const { version } = await reportOf(server)
  const stop = new AbortController()
  const events = await server.ask('/api/changes', { signal: stop.signal })
  const reader = (events.body as ReadableStream<Uint8Array>).getReader()
  const next = async (): Promise<{ version: string | null; files: string[] }> => {
    const { value } = await reader.read()
    const [, data = '{}'] = /data: (.*)/.exec(new TextDecoder().decode(value)) ?? []
    return JSON.parse(data) as { version: string | null; files: string[] }
  }
  writeFileSync(join(cwd, 'stalls.csv'), `${CSV}Oak,50\n`)
  expect(await next()).toEqual({ version, files: ['stalls.csv'] })
  writeFileSync(join(cwd, 'stalls.acuarela.yaml'), `${REPORT}# more\n`)
  const changed = await next()
  expect([changed.files, changed.version === version]).toEqual([[], false])
  rmSync(join(cwd, 'stalls.acuarela.yaml'))
  expect((await next()).version).toBeNull()
  stop.abort()
})

test('rows that stay on the server are answered there, and forged questions are refused', async () => {
  const cwd = market()
  await writeParquet(
    join(cwd, 'orders.parquet'),
    [
      { stall: 'Ash', takings: 120, sold: '2025-01-03' },
      { stall: 'Elm', takings: 80, sold: '2025-02-03' },
    ],
    { stall: 'text', takings: 'float8', sold: 'date' },
  )
  copyFileSync(join(cwd, 'stalls.acuarela.yaml'), join(cwd, 'served.acuarela.yaml'))
  writeFileSync(
    join(cwd, 'served.acuarela.yaml'),
    REPORT.replace('{ file: stalls.csv }', '{ file: orders.parquet, engine: duckdb, date: sold }'),
  )
  const server = await start(cwd, ['served.acuarela.yaml'])
  const read = (await reportOf(server)) as unknown as { served: unknown; files: unknown }
  expect(read.served).toEqual([{ name: 'stalls', of: { file: 'orders.parquet' } }])
  expect(read.files).toEqual([])
  const ask = async (question: Record<string, unknown>, call = 'ask'): Promise<[number, string]> => {
    const body = { call, date: 'sold', question: { keys: [], parts: [], fields: [], where: [], ...question } }
    const reply = await server.ask('/engine/stalls', json(body, 'POST'))
    return [reply.status, await reply.text()]
  }
  const [status, text] = await ask({ keys: ['stall'] })
  expect([status, text]).toEqual([200, expect.stringContaining('Ash')])
  expect((await ask({ keys: ['stall"; DROP TABLE x'] }))[0]).toBe(400)
  expect((await ask({ where: ["stall = 'Ash') OR 1=1 --"] }))[0]).toBe(400)
  expect((await server.ask('/engine/secret', json({ call: 'columns' }, 'POST'))).status).toBe(404)
  expect((await server.ask('/api/file?name=orders.parquet')).status).toBe(404)
})

test('data files give a starter, which is saved beside them under a new name alone', async () => {
  const cwd = market()
  const server = await start(cwd, ['stalls.csv'])
  const { text, version } = await reportOf(server)
  expect([version, text]).toEqual([null, expect.stringContaining('stalls.csv')])
  const save = async (name: string): Promise<number> =>
    (await server.ask('/api/report', json({ text, version: null, name }))).status
  for (const name of ['../x.acuarela.yaml', 'x.txt', '', '/tmp/x.acuarela.yaml', 'stalls.acuarela.yaml'])
    expect([name, await save(name)]).toEqual([name, 400])
  expect(await save('market.acuarela.yaml')).toBe(200)
  expect(readFileSync(join(cwd, 'market.acuarela.yaml'), 'utf8')).toBe(text)
  expect((await acuarelaProcess(['paint', 'market.acuarela.yaml'], cwd)).code).toBe(0)
  // Files with the same columns are one source, however their paths are typed.
  writeFileSync(join(cwd, 'stalls-2.csv'), CSV)
  const both = await reportOf(await start(cwd, [join(cwd, 'stalls.csv'), 'stalls-2.csv']))
  expect(both.text).toContain('{stalls.csv,stalls-2.csv}')
})
