import { liveHub } from '../../server/live-hub'
import { personOfRequest } from '../../server/session'

export const dynamic = 'force-dynamic'

/** Server-sent events for open pages: which checks, states, incidents and deliveries changed. */
export async function GET(request: Request): Promise<Response> {
  if (!(await personOfRequest())) return new Response('Sign in first', { status: 401 })
  const encoder = new TextEncoder()
  let leave = () => undefined as void
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text))
        } catch {
          leave()
        }
      }
      const beat = setInterval(() => send(': still here\n\n'), 10_000)
      const quit = liveHub().join((events) => send(`data: ${JSON.stringify(events)}\n\n`))
      leave = () => {
        clearInterval(beat)
        quit()
      }
      request.signal.addEventListener('abort', leave, { once: true })
      send('retry: 2000\n\n')
    },
    cancel: () => leave()
  })
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform', 'x-accel-buffering': 'no' } })
}
