import { create, type Font } from 'fontkit'
import type { BlockContent, ListItem, PhrasingContent, Root, RootContent, Table } from 'mdast'
import PDFDocument from 'pdfkit'
import remarkGfm from 'remark-gfm'
import remarkParse from 'remark-parse'
import { unified } from 'unified'
import { isWritable, linesOf, type Fonts, type Line, type Look, type Piece } from './lines'

export interface PaperOptions {
  title: string
  /** The font files of every look, and those with more letters, as `plain-beyond`. */
  fonts: Record<string, Uint8Array>
  /** The picture an address stands for, as PNG or JPEG; undefined where there is none. */
  pictureOf: (address: string) => Promise<Uint8Array | undefined>
  madeAt: Date
}

const parser = unified().use(remarkParse).use(remarkGfm)
const [MARGIN, SIZE, LEADING] = [56, 10, 1.38]
const [INK, MUTED, LINE] = ['#1d2b33', '#5f6b72', '#d5cfc2']
const HEADINGS = [19, 13.5, 11.5]

/**
 * Sets a text in Markdown on pages of A4 (ISO 216). HTML in it stays text.
 * Throws Error where a font file cannot be read.
 */
export async function markdownPdf(text: string, options: PaperOptions): Promise<Uint8Array> {
  const root = parser.parse(text)
  const pictures = new Map<string, Uint8Array>()
  for (const address of new Set(picturesIn(root))) {
    const found = await options.pictureOf(address)
    if (found) pictures.set(address, found)
  }
  const paper = new Paper(options, pictures)
  for (const node of root.children) paper.block(node, MARGIN)
  if (!isWritable(text, paper.fontsAt(SIZE))) paper.say('Characters that the fonts of this document do not hold stand as question marks.')
  return paper.finish()
}

const picturesIn = (node: Root | RootContent): string[] => (node.type === 'image' ? [node.url] : 'children' in node ? node.children.flatMap((each) => picturesIn(each as RootContent)) : [])

class Paper {
  private readonly pdf: PDFKit.PDFDocument
  private readonly made: Promise<Uint8Array>
  private y = MARGIN
  private readonly files: Map<string, Font>

  constructor({ title, fonts, madeAt }: PaperOptions, private readonly pictures: ReadonlyMap<string, Uint8Array>) {
    this.files = new Map(Object.entries(fonts).map(([name, file]) => [name, create(Buffer.from(file)) as Font]))
    const [[firstName, first]] = Object.entries(fonts) as [[string, Uint8Array]]
    this.pdf = new PDFDocument({ size: 'A4', margin: 0, bufferPages: true, font: first as never, info: { Title: title, Creator: 'Hemeron', CreationDate: madeAt }, lang: 'en', displayTitle: true })
    for (const [name, file] of Object.entries(fonts)) this.pdf.registerFont(name, file as never)
    this.pdf.font(firstName)
    const chunks: Uint8Array[] = []
    this.made = new Promise((resolve, reject) => {
      this.pdf.on('data', (chunk: Uint8Array) => chunks.push(chunk))
      this.pdf.on('end', () => resolve(Buffer.concat(chunks)))
      this.pdf.on('error', reject)
    })
  }

  block(node: RootContent | BlockContent, x: number): void {
    switch (node.type) {
      case 'heading': return this.heading(node.depth, pieces(node.children))
      case 'paragraph': return this.paragraph(node.children, x)
      case 'list': return node.children.forEach((item, index) => this.item(item, x, node.ordered === true ? `${(node.start ?? 1) + index}.` : undefined))
      case 'table': return this.table(node, x)
      case 'code': return this.lines([{ text: node.value.replaceAll(' ', '\u00a0'), look: 'code' }], x + 8, SIZE - 1)
      case 'blockquote': return node.children.forEach((each) => this.block(each as RootContent, x + 14))
      case 'thematicBreak': return void (this.y += SIZE)
      case 'html': return this.lines([{ text: node.value, look: 'plain' }], x)
      default: return undefined
    }
  }

  say(text: string): void {
    this.y += 6
    this.lines([{ text, look: 'plain' }], MARGIN, SIZE - 1, MUTED)
  }

  finish(): Promise<Uint8Array> {
    const { start, count } = this.pdf.bufferedPageRange()
    for (let page = start; page < start + count; page += 1) {
      this.pdf.switchToPage(page)
      const text = `${page + 1} of ${count}`
      this.pdf.font('plain').fontSize(SIZE - 1.5).fillColor(MUTED).text(text, this.right - this.pdf.widthOfString(text), this.bottom + 18, { lineBreak: false })
    }
    this.pdf.end()
    return this.made
  }

  private get right(): number { return this.pdf.page.width - MARGIN }
  private get bottom(): number { return this.pdf.page.height - MARGIN - 10 }

  private readonly widths = new Map<string, number>()
  /** The fonts at a size. The width of a text is that of its characters; each is measured once. */
  fontsAt(size: number): Fonts {
    return {
      holds: (font, character) => this.files.get(font)?.hasGlyphForCodePoint(character.codePointAt(0)!) === true,
      widthOf: (text, font) => {
        let width = 0
        for (const character of text) {
          const key = `${font} ${character}`
          let own = this.widths.get(key)
          if (own === undefined) this.widths.set(key, own = this.pdf.font(font).fontSize(1000).widthOfString(character) / 1000)
          width += own
        }
        return width * size
      }
    }
  }

  /** Goes on a new page where so much does not fit on this one. */
  private make(room: number): void {
    if (this.y + room <= this.bottom) return
    this.pdf.addPage()
    this.y = MARGIN
  }

  private heading(depth: number, text: Piece[]): void {
    const size = HEADINGS[Math.min(depth, HEADINGS.length) - 1]!
    this.y += depth === 1 ? 0 : size * 0.7
    // a heading is not left alone at the end of a page
    this.make(size * LEADING + 3 * SIZE * LEADING)
    this.lines(text.map((each) => ({ ...each, look: 'strong' })), MARGIN, size)
  }

  private paragraph(nodes: PhrasingContent[], x: number): void {
    let open: PhrasingContent[] = []
    const close = () => {
      if (open.length > 0) this.lines(pieces(open), x)
      open = []
    }
    for (const node of nodes) {
      const picture = node.type === 'image' ? this.pictures.get(node.url) : undefined
      if (!picture) {
        open.push(node)
        continue
      }
      close()
      this.picture(picture, x)
    }
    close()
    this.y += 5
  }

  private picture(file: Uint8Array, x: number): void {
    const image = (this.pdf as unknown as { openImage: (from: Buffer) => { width: number; height: number } }).openImage(Buffer.from(file))
    const scale = Math.min(1, (this.right - x) / image.width, (this.bottom - MARGIN) / image.height)
    this.make(image.height * scale + 6)
    this.pdf.image(image as never, x, this.y, { width: image.width * scale })
    this.y += image.height * scale + 6
  }

  private item(item: ListItem, x: number, number: string | undefined): void {
    this.make(SIZE * LEADING)
    const top = this.y
    if (typeof item.checked === 'boolean') {
      this.pdf.lineWidth(0.8).strokeColor(INK).rect(x + 1, top + 2, 7, 7).stroke()
      if (item.checked) this.pdf.moveTo(x + 2.5, top + 5.5).lineTo(x + 4.2, top + 7.5).lineTo(x + 7, top + 3.4).stroke()
    } else this.pdf.font('plain').fontSize(SIZE).fillColor(MUTED).text(number ?? '•', x + 1, top, { lineBreak: false })
    for (const child of item.children) {
      if (child.type === 'paragraph') this.lines(pieces(child.children), x + 16)
      else this.block(child, x + 16)
    }
    this.y += 1.5
  }

  private table({ children: rows, align }: Table, x: number): void {
    const columns = rows[0]?.children.length ?? 0
    // the first column says what a row is about and is the wide one
    const share = (column: number) => (columns === 1 ? 1 : column === 0 ? 0.34 : 0.66 / (columns - 1))
    const whole = this.right - x
    this.y += 3
    rows.forEach((row, index) => {
      const size = SIZE - 0.5
      const cells = row.children.map((cell, column) => linesOf(pieces(cell.children).map((each) => (index === 0 ? { ...each, look: 'strong' as const } : each)), whole * share(column) - 10, this.fontsAt(size)))
      const height = Math.max(...cells.map((each) => each.length)) * size * LEADING + 6
      this.make(height)
      let left = x
      cells.forEach((lines, column) => {
        const width = whole * share(column)
        this.draw(lines, left + (column === 0 ? 0 : 5), this.y + 3, size, INK, align?.[column] === 'right' ? width - 10 : undefined)
        left += width
      })
      this.y += height
      this.pdf.lineWidth(0.6).strokeColor(LINE).moveTo(x, this.y).lineTo(this.right, this.y).stroke()
    })
    this.y += 8
  }

  /** Writes text from here on, over as many lines and pages as it takes. */
  private lines(text: Piece[], x: number, size = SIZE, colour = INK): void {
    for (const line of linesOf(text, this.right - x, this.fontsAt(size))) {
      this.make(size * LEADING)
      this.draw([line], x, this.y, size, colour)
      this.y += size * LEADING
    }
  }

  private draw(lines: Line[], x: number, y: number, size: number, colour: string, flushTo?: number): void {
    lines.forEach((line, index) => {
      const begin = flushTo === undefined ? x : x + Math.max(0, flushTo - line.width)
      for (const run of line.runs) this.pdf.font(run.font).fontSize(size).fillColor(colour).text(run.text, begin + run.x, y + index * size * LEADING, { lineBreak: false, ...(run.link ? { link: run.link, underline: true } : {}) })
    })
  }
}

/** Text with its looks; links go to http, https and mail only. */
function pieces(nodes: readonly PhrasingContent[], look: Look = 'plain', link?: string): Piece[] {
  return nodes.flatMap((node): Piece[] => {
    const own = (text: string, as: Look = look): Piece => ({ text, look: as, ...(link === undefined ? {} : { link }) })
    switch (node.type) {
      case 'text': return [own(node.value)]
      case 'html': return [own(node.value)]
      case 'inlineCode': return [own(node.value, 'code')]
      case 'break': return [own('\n')]
      case 'strong': return pieces(node.children, 'strong', link)
      case 'emphasis': return pieces(node.children, 'slanted', link)
      case 'delete': return pieces(node.children, look, link)
      case 'link': return pieces(node.children, look, /^(https?:|mailto:)/i.test(node.url) ? node.url : undefined)
      case 'image': return [own(`[picture: ${node.alt ?? ''}]`)]
      default: return []
    }
  })
}
