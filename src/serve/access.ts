import { createHash, randomBytes, timingSafeEqual } from 'node:crypto'

/** A text that nobody guesses. */
function secret(): string {
  return randomBytes(32).toString('base64url')
}

/** Compares without telling by its time how much is right. */
function isSame(a: string, b: string): boolean {
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest()
  return timingSafeEqual(digest(a), digest(b))
}

/** Who may talk to the server of one port. */
export interface Access {
  /** The address that lets a browser in, once. A new one takes the place of the last. */
  address(): string
  /** The cookie for a right token, which is used up then; undefined for a wrong one. */
  enter(token: string): string | undefined
  /** Whether a token was right and is used up: only who had the address can know it. */
  isUsed(token: string): boolean
  /** Why a request is refused: a status and a sentence; undefined if it may pass. */
  refusal(request: Request, needsCookie: boolean): readonly [status: 403 | 421, why: string] | undefined
}

/**
 * Lets in the browser that has the address that the tool printed. A page of another site cannot
 * read or send anything: the `Host` has to be this server's (so a foreign name that points here is
 * refused), the `Origin` its own, and the cookie is sent to it alone.
 */
export function createAccess(port: number): Access {
  // Browsers keep the cookies of all ports together: the name tells two servers apart.
  const name = `acuarela-${port}`
  const session = secret()
  let token: string | undefined
  let used: string | undefined
  const hosts = [`127.0.0.1:${port}`, `localhost:${port}`]
  return {
    address() {
      token = secret()
      return `http://127.0.0.1:${port}/?token=${token}`
    },
    enter(given) {
      if (token === undefined || !isSame(given, token)) return undefined
      used = token
      token = undefined
      return `${name}=${session}; HttpOnly; SameSite=Strict; Path=/`
    },
    isUsed: (given) => used !== undefined && isSame(given, used),
    refusal(request, needsCookie) {
      const host = request.headers.get('host') ?? ''
      if (!hosts.includes(host)) return [421, 'this server answers 127.0.0.1 alone']
      const origin = request.headers.get('origin')
      const isRead = request.method === 'GET' || request.method === 'HEAD'
      if (origin === null ? !isRead : origin !== `http://${host}`) return [403, 'the request comes from another page']
      const site = request.headers.get('sec-fetch-site')
      if (needsCookie && site !== null && site !== 'same-origin' && site !== 'none')
        return [403, 'the request comes from another page']
      if (!needsCookie) return undefined
      const cookies = (request.headers.get('cookie') ?? '').split(/;\s*/)
      const own = cookies.find((one) => one.startsWith(`${name}=`))?.slice(name.length + 1)
      return own !== undefined && isSame(own, session)
        ? undefined
        : [403, 'open the address that the tool printed; it lets one browser in']
    },
  }
}
