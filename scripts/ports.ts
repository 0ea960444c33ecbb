import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import net from 'node:net'

export const PORT_NAMES = ['web', 'database', 'world', 'mail', 'receivers'] as const
export type Ports = Record<(typeof PORT_NAMES)[number], number>

/** Ports for every part, the same ones as last time where they are still free; busy ones are avoided. */
export async function choosePorts(file: string, web: number | undefined): Promise<Ports> {
  const before = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Partial<Ports>) : {}
  const wanted: Ports = { web: web ?? before.web ?? 4100, database: before.database ?? 4106, world: before.world ?? 4101, mail: before.mail ?? 4102, receivers: before.receivers ?? 4103 }
  const taken = new Set<number>()
  const ports = {} as Ports
  for (const name of PORT_NAMES) {
    let port = wanted[name]
    while (taken.has(port) || !(await isFree(port))) {
      if (name === 'web' && web !== undefined) throw new Error(`Port ${web} is busy. Choose another one with -- --port N.`)
      port += 10
    }
    taken.add(port)
    ports[name] = port
  }
  writeFileSync(file, JSON.stringify(ports))
  return ports
}

function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = net.createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })
}
