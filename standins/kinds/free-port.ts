import net, { type AddressInfo } from 'node:net'

/** A TCP port of loopback that nothing uses at the moment. */
export function freePort(): Promise<number> {
  const server = net.createServer()
  return new Promise((resolve) => server.listen(0, '127.0.0.1', () => {
    const { port } = server.address() as AddressInfo
    server.close(() => resolve(port))
  }))
}
