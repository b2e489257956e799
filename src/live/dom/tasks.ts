/** A frame may be left out, as in a hidden page: it is waited for so long, in milliseconds. */
const FRAME_MS = 50

/** Lets the page answer its reader before it goes on. */
export function nextTask(): Promise<void> {
  return new Promise((done) => {
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => {
      port1.close()
      done()
    }
    port2.postMessage(null)
  })
}

/** Lets the page draw what it has. */
export async function nextFrame(): Promise<void> {
  await new Promise<void>((done) => {
    const late = setTimeout(done, FRAME_MS)
    requestAnimationFrame(() => {
      clearTimeout(late)
      done()
    })
  })
  // Frames are drawn after their callbacks.
  await nextTask()
}
