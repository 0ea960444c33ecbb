import { aborted, LinkError, type Datagrams } from '../../src/kinds/link'
import { tail } from '../world/random'
import type { LineState } from '../world/model'

/** How long one packet is under way, in milliseconds. */
export const oneWay = (line: LineState): number => (line.rtt / 2) * tail(Math.random, line.jitter)

/** Real datagrams with a location's distance put between; a lost one is lost for good. */
export function delayedDatagrams(real: Datagrams, line: () => LineState): Datagrams {
  const later = (act: () => void) => {
    if (!line().cut && Math.random() >= line().loss) setTimeout(act, oneWay(line()))
  }
  return {
    send: (message) => later(() => real.send(message)),
    receive: async () => {
      for (;;) {
        const message = await real.receive()
        if (line().cut || Math.random() < line().loss) continue
        await new Promise((resolve) => setTimeout(resolve, oneWay(line())))
        return message
      }
    },
    close: () => real.close()
  }
}

/** Datagrams to where nobody is. */
export function silentDatagrams(signal: AbortSignal): Datagrams {
  return { send: () => undefined, receive: () => aborted(signal), close: () => undefined }
}

/** Datagrams to a machine on which nothing listens: it says so, after a round trip. */
export function refusingDatagrams(address: string, port: number, line: () => LineState): Datagrams {
  let sent: () => void = () => undefined
  const wasSent = new Promise<void>((resolve) => { sent = resolve })
  return {
    send: () => setTimeout(sent, line().rtt),
    receive: async () => {
      await wasSent
      throw new LinkError('connection-refused', `${address} answers that nothing listens at UDP port ${port}`)
    },
    close: () => undefined
  }
}
