import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { markdownPdf } from '@/paper/markdown-pdf'
import { database } from '@/store/database'
import { requirePicture } from '@/store/pictures'
import { incidentSummary } from './summary-view'

const FILES = { plain: ['next', '400-normal'], strong: ['next', '700-normal'], slanted: ['next', '400-italic'], code: ['mono', '400-normal'] } as const

let fonts: Promise<Record<string, Uint8Array>> | undefined

/** The fonts of the application, for paper. */
async function readFonts(): Promise<Record<string, Uint8Array>> {
  const named = Object.entries(FILES).flatMap(([look, [family, style]]) => ([['', 'latin'], ['-beyond', 'latin-ext']] as const).map(async ([suffix, letters]) => {
    const folder = `atkinson-hyperlegible-${family}`
    return [`${look}${suffix}`, await readFile(join(/* turbopackIgnore: true */ process.cwd(), 'node_modules', '@fontsource', folder, 'files', `${folder}-${letters}-${style}.woff`))] as const
  }))
  return Object.fromEntries(await Promise.all(named))
}

/** The drafted summary of an incident as a PDF, with the pictures of its notes. Throws not-found. */
export async function incidentPaper(id: number, now: number): Promise<Uint8Array> {
  const text = await incidentSummary(id, now)
  return markdownPdf(text, {
    title: /^# (.*)$/m.exec(text)?.[1]?.replace(/\\(.)/g, '$1') ?? `Incident ${id}`, fonts: await (fonts ??= readFonts()), madeAt: new Date(now),
    pictureOf: async (address) => {
      const [, key] = /^\/api\/pictures\/([0-9a-f]{32})$/.exec(address) ?? []
      const picture = key === undefined ? undefined : await requirePicture(database(), key).catch(() => undefined)
      return picture && /^image\/(png|jpeg)$/.test(picture.type) ? picture.content : undefined
    }
  })
}
